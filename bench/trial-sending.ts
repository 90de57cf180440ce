import { forget, freshDemo } from '../harness/demo';
import { broken, Rounds, type Moment } from '../harness/rounds';

/** npm run trial:sending: long kill rounds of 2,000 texts on the built demo (`-- 50`); prints each and says which broke a promise. */
const count = Number(process.argv[2] ?? 50);
const environment = { CARRIER_PROFILE: JSON.stringify({ outcomes: 'delivered', latency: [5, 150], echoReference: true }) };
const rounds = await Rounds.on(await freshDemo(environment), environment, true);
const KILLS = ['server', 'carrier', 'both'] as const;
const MOMENTS: readonly Moment[] = ['sending', 'planning', 'sending', 'takeback', 'sending', 'pausing', 'sending', 'canceling'];
let failed = 0;
for (let i = 0; i < count; i += 1) {
  const name = `Trial ${[...String(i)].map((digit) => 'ABCDEFGHIJ'[Number(digit)]).join('')}`;
  const moment = MOMENTS[i % MOMENTS.length];
  // a carrier alone cannot interrupt a plan
  const kill = moment === 'planning' || moment === 'takeback' ? 'server' : KILLS[i % 3];
  const wait = Math.round(Math.random() * (moment === 'planning' ? 400 : 2500));
  const round = await rounds.run(name, kill, moment, wait, true);
  const wrong = broken(round, true, 50);
  if (wrong.length > 0) failed += 1;
  process.stdout.write(
    `${i + 1} ${round.killed} while ${moment}, after ${wait} ms: ${round.people} people, ${round.undone ? 'undone' : JSON.stringify(round.tally)}, paid ${round.spent}, taken ${round.taken} ${wrong.length > 0 ? `BROKEN: ${wrong.join('; ')}` : ''}\n`,
  );
}
await rounds.demo.stop();
forget(rounds.demo);
process.stdout.write(`${count - failed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
