import { forget, freshDemo } from '../e2e/support/demo';
import { Rounds } from '../e2e/support/rounds';

/** npm run trial: long kill rounds on the built demo (`-- 50`); prints each round and stops at the first that breaks a promise. */
const count = Number(process.argv[2] ?? 50);
const environment = { CARRIER_PROFILE: JSON.stringify({ outcomes: 'delivered', latency: [5, 150], echoReference: true }) };
const rounds = await Rounds.on(await freshDemo(environment), environment);
const KILLS = ['server', 'carrier', 'both'] as const;
let failed = 0;
for (let i = 0; i < count; i += 1) {
  const name = `Trial ${[...String(i)].map((digit) => 'ABCDEFGHIJ'[Number(digit)]).join('')}`;
  const round = await rounds.run(name, KILLS[i % 3], Math.round(Math.random() * 900), true);
  const right = round.twice.length === 0 && (round.tally.delivered ?? 0) === round.people;
  if (!right) failed += 1;
  process.stdout.write(
    `${i + 1} ${round.killed}: ${round.people} people, ${JSON.stringify(round.tally)}, twice ${round.twice.length} ${right ? '' : 'BROKEN'}\n`,
  );
}
await rounds.demo.stop();
forget(rounds.demo);
process.stdout.write(`${count - failed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
