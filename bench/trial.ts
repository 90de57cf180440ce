import { writeFileSync } from 'node:fs';
import { Dice } from '../src/core/line/simulator/dice';
import { KilledDesk, type Engine } from '../harness/killed-desk';
import { BROUGHT, imports, presses, repeats, takesAFileBack, takesBack, type At, type Promised } from './trial/acts';
import { broken, brokenMoney, dayOver, settled, takenSince } from './trial/judge';

/**
 * npm run trial: rounds on the built demo in which people press, take back and press anew, agree to repeats, bring files in and take
 * them back, all at once, while anything is killed at random moments. `-- 50 postgres 7`: how many rounds, on which engine, the seed.
 * Nobody twice, nobody lost, no press or date without its end, and the ledger is what the carrier took. `--json FILE` keeps it.
 */
const [count, engine, seed] = [
  Number(process.argv[2] ?? 50),
  (process.argv[3] ?? 'embedded') as Engine,
  Number(process.argv[4] ?? 7),
];
const keep = process.argv.indexOf('--json') > 0 ? process.argv[process.argv.indexOf('--json') + 1] : undefined;
const desk = await KilledDesk.open(engine, {
  CARRIER_PROFILE: JSON.stringify({ outcomes: 'delivered', latency: [5, 150], echoReference: true }),
});
const { id: sender } = await desk.ask<{ id: number }>('POST', '/api/setup/senders', {
  name: 'Fast',
  kind: 'short',
  address: '72399',
  parts_per_second: 1000,
});
await desk.ask('POST', '/api/setup/balance', { amount_micro: 900_000_000 });
const { lists } = await desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
const list = lists.find((each) => each.name === 'Morning boat regulars')?.id ?? 0;
// nothing goes but what the rounds bring about
const scheduled = await desk.ask<{ broadcasts: { id: number }[] }>('GET', '/api/broadcasts?state=scheduled');
for (const { id } of scheduled.broadcasts) await desk.ask('POST', `/api/broadcasts/${id}/set-aside`, { as: 'canceled' });
const { people: regulars } = await desk.ask<{ people: { id: number }[] }>('GET', `/api/people?list=${list}`);
const somebody = regulars[0].id;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const balance = async () => (await desk.ask<{ balance_micro: number }>('GET', '/api/session')).balance_micro;
const people = async () => (await desk.ask<{ people: number }>('GET', '/api/people/count')).people;
const letters = (n: number) => [...String(n)].map((digit) => 'ABCDEFGHIJ'[Number(digit)]).join('');

/** Kills while it goes on. */
async function kills(dice: Dice, most: number, within: number, killed: string[]): Promise<void> {
  for (let n = dice.between(0, most); n > 0; n -= 1) {
    await pause(dice.between(5, within));
    killed.push(await desk.kill(dice));
  }
}

async function endOf(promised: Promised): Promise<Awaited<ReturnType<typeof settled>>> {
  let last: unknown;
  return desk
    .until(async () => {
      const found = await settled(desk, promised).catch((error: unknown) => {
        last = error;
        return false as const;
      });
      return found && { runs: found };
    })
    .then(({ runs }) => runs)
    .catch(async (error: unknown) => {
      const { draft, ...broadcast } = await desk.ask<Record<string, unknown>>('GET', `/api/broadcasts/${promised.broadcast}`);
      const { failing } = await desk.ask<{ failing: unknown[] }>('GET', '/api/jobs');
      throw new Error(
        `“${promised.words}” has no end (${String(last ?? error)}): ${JSON.stringify([broadcast, (draft as { when: unknown }).when, failing])}`,
      );
    });
}

async function round(n: number): Promise<{ killed: string[]; texts: number; wrong: string[] }> {
  await desk.byDay();
  // to each its own dice: what one throws is no matter of how quick the others are
  const throws = (which: number) => new Dice((seed * 1000 + n) * 10 + which);
  const at = (which: number): At => ({ desk, dice: throws(which), sender, list, somebody, name: `Trial ${letters(n)}` });
  const dice = throws(0);
  const [paid, there, from] = [await balance(), await people(), takenSince(desk.folder, 0).lines];
  const killed: string[] = [];
  const [promised] = await Promise.all([
    Promise.all([presses(at(1)), takesBack(at(2)), repeats(at(3)), imports(at(4), n), takesAFileBack(at(5), n)]).then((all) =>
      all.flat(),
    ),
    kills(dice, 4, 1500, killed),
  ]);
  // past the seconds to take it back
  await desk.ask('POST', '/api/clock', { minutes: 1 });
  await kills(dice, 2, 900, killed);
  const ends = new Map<Promised, Exclude<Awaited<ReturnType<typeof settled>>, false>>();
  const lookAt = async (which: readonly Promised[]) => {
    for (const each of which) ends.set(each, (await endOf(each)) || []);
  };
  await lookAt(promised.filter((each) => each.got !== 'by date'));
  for (let day = 0; day < 2; day += 1) {
    await desk.ask('POST', '/api/clock', { minutes: 1440 });
    await kills(dice, 2, 700, killed);
    // days are long: what is due on one has come to its end before the next
    for (const each of promised.filter(({ got }) => got === 'by date')) await desk.until(() => dayOver(desk, each));
  }
  await desk.ask('POST', '/api/clock', { minutes: 2 });
  await lookAt(promised.filter((each) => each.got === 'by date'));
  const { parts, texts } = takenSince(desk.folder, from);
  const wrong = [...ends].flatMap(([each, runs]) => broken(each, runs, texts));
  wrong.push(...brokenMoney(paid - (await balance()), parts));
  const came = (await people()) - there;
  if (came !== BROUGHT) wrong.push(`${came} people came by files instead of ${BROUGHT}`);
  return { killed, texts: parts, wrong };
}

const results: object[] = [];
let failed = 0;
for (let n = 0; n < count; n += 1) {
  const { killed, texts, wrong } = await round(n).catch((error: unknown) => ({
    killed: [],
    texts: 0,
    wrong: [String(error)],
  }));
  if (wrong.length > 0) failed += 1;
  results.push({ round: n, killed, texts, wrong });
  process.stdout.write(
    `${n + 1} ${engine}, killed: ${killed.join(', ') || 'nothing'}; ${texts} parts ${wrong.length > 0 ? `BROKEN: ${wrong.join('; ')}` : ''}\n`,
  );
}
await desk.close();
if (keep) writeFileSync(keep, `${JSON.stringify({ engine, seed, rounds: count, failed, results }, null, 1)}\n`);
process.stdout.write(`${count - failed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
