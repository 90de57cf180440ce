import { EMPTY_DRAFT } from '../src/core/plan/draft/draft';
import { planThread } from '../src/server/broadcasts/planning/plan-thread';
import { press } from '../src/server/broadcasts/press/press';
import { machineClock } from '../src/server/clock';
import type { Db } from '../src/server/db/db';
import { pressAlone } from '../src/server/broadcasts/press/press-alone';
import { clearRunWork } from '../src/server/engine/runs/clear-run';
import { callOff } from '../src/server/engine/runs/run-life';
import { makeWorkspace } from '../src/server/engine/testing/world';
import { say, sayCpu, sayMemory, sayWaits, timed } from './figures';
import { forget, onDisk, spent, type Cpu } from './on-disk';

/** Presses in a row, the last of which is held against the first. */
const ROUNDS = 10;
const NAMES = ['Marisol', 'Henrik', 'Inès', 'Dao', 'Maximiliano', 'Léonie', 'Jo'];

/** So many people on the list 1. */
async function makePeople(db: Db, n: number): Promise<void> {
  await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'Bench', '2026-01-01')`);
  await db.query(
    `INSERT INTO person (given_name, family_name, number, number_country, number_kind, fields, sort_name, created_at, updated_at)
     SELECT ($2::text[])[1 + n % 7], 'Okafor' || n, '+1' || (2072000000 + n), 'US', 'either', '{}', 'okafor' || n, '2026-01-01', '2026-01-01' FROM generate_series(0, $1::int - 1) AS n`,
    [n, NAMES],
  );
  await db.query(`INSERT INTO list_member SELECT 1, id FROM person`);
  await db.exec('VACUUM (ANALYZE) person');
}

/** A workspace with so many people, and a draft to all of them; on disk, as the server has it. */
async function office(people: number) {
  const store = await onDisk();
  const { db } = store;
  await makeWorkspace(db);
  await db.query(`UPDATE sender SET parts_per_second = 100000`);
  await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-01-01T00:00:00Z', 'top_up', 100000000000)`);
  const at = new Date().toISOString();
  await makePeople(db, people);
  const draft = {
    ...EMPTY_DRAFT,
    sender_id: 1,
    to: [{ kind: 'list' as const, id: 1 }],
    words: '{given_name or "neighbor"}: the 7:10 AM Heron is off. Ottermere Ferry',
  };
  await db.query(
    `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) SELECT n, 'Bench', 'draft', $1::jsonb, $2::timestamptz, $2::timestamptz FROM generate_series(1, ${ROUNDS}) AS n`,
    [JSON.stringify(draft), at],
  );
  const end = async () => {
    await store.close();
    forget(store.folder);
  };
  return { db, draft, store, end };
}

/** The rows of a run once more, as of a run that does not exist. */
async function copyRun(db: Db, run: number): Promise<void> {
  await db.query(
    `INSERT INTO outbound (run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, queue, dependants)
     SELECT 1000 + run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, queue, dependants
     FROM outbound WHERE run_id = $1`,
    [run],
  );
  await db.query(
    `INSERT INTO line_queue (run_id, sender_id, lane, due_at, parts, ids)
     SELECT 1000 + run_id, sender_id, lane, due_at, parts, ids FROM line_queue WHERE run_id = $1`,
    [run],
  );
}

/** A press of 100,000, called off after a tenth, half and nine tenths of the texts: nothing may be left, or this throws. */
export async function calledOff(): Promise<void> {
  const { db, draft, end } = await office(100_000);
  const clock = machineClock();
  const plans = planThread(db, (error) => process.stderr.write(`${String(error)}\n`));
  const app = pressAlone(db, clock, plans, (error) => process.stderr.write(`${String(error)}\n`));
  const count = async (sql: string) => (await db.query<{ n: number }>(`SELECT ${sql} AS n`)).rows[0].n;
  // the job that clears it away, without its runner
  const clear = (run: number) =>
    clearRunWork(
      db,
      app.bus,
    )({
      job: { id: 0, kind: 'clear run', key: String(run), lease: 0, until: Infinity, wanted: 0, attempts: 0, failingSince: null },
      now: () => clock.now(),
      over: () => false,
      stillMine: () => Promise.resolve(),
      inOne: (work) => db.transaction(work),
    });
  const everything = () =>
    Promise.all([
      count(`(SELECT count(*) FROM outbound)`),
      count(`(SELECT count(*) FROM line_queue)`),
      count(`(SELECT coalesce(sum(amount_micro), 0) FROM balance_entry)`),
      count(`(SELECT count(*) FROM broadcast WHERE state = 'draft')`),
    ]);
  for (const share of [0.1, 0.5, 0.9]) {
    const before = await everything();
    const now = clock.now();
    const { digest, plan } = await app.plans.summary(draft, now);
    const at = new Date(now).toISOString();
    const { run_id, stored } = await press(
      app,
      {
        broadcastId: 1,
        version: await count(`(SELECT version FROM broadcast WHERE id = 1)`),
        digest,
        pressId: `called-off-${share}`,
      },
      { account: undefined, at, now },
    );
    if (run_id === null) throw new Error('There is no run.');
    while ((await count(`(SELECT stored FROM run WHERE id = ${run_id})`)) < plan.people * share)
      await new Promise((resolve) => setTimeout(resolve, 20));
    await db.transaction((tx) => callOff(tx, run_id, 'draft', now));
    const became = await stored;
    await clear(run_id);
    const after = await everything();
    if (became !== 'called off' || JSON.stringify(before) !== JSON.stringify(after))
      throw new Error(`called off at ${share}: ${became}; ${JSON.stringify(before)} became ${JSON.stringify(after)}`);
    process.stdout.write(
      `  a press of ${plan.people.toLocaleString('en-US')} called off after ${share * 100} %: nothing is left\n`,
    );
  }
  await plans.end();
  await end();
}

/** The plan of 100,000, shown and pressed ten times in a row, while others ask for pages of people. */
export async function plans(): Promise<void> {
  const { db, draft, store, end } = await office(100_000);
  const clock = machineClock();
  // as the server does it: in the compute thread; other requests are asked meanwhile
  const plans = planThread(db, (error) => process.stderr.write(`${String(error)}\n`));
  const presser = pressAlone(db, clock, plans, (error) => process.stderr.write(`${String(error)}\n`));
  const waits: number[] = [];
  let asking = true;
  const others = (async () => {
    while (asking) {
      const began = performance.now();
      await db.query(`SELECT id, given_name FROM person ORDER BY sort_name, id LIMIT 50`);
      waits.push(performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  })();
  // the thread has been running since the server was started; what is cold is that nobody's data is in it
  await plans.summary({ ...draft, to: [] }, clock.now());
  const cold = await spent(store, () => plans.summary(draft, clock.now()));
  let warm = Infinity;
  for (const at of ['7:40', '8:10', '8:40', '9:10', '9:40']) {
    const other = { ...draft, words: `{given_name or "neighbor"}: Kittiwake leaves at ${at} AM. Ottermere Ferry` };
    warm = Math.min(warm, await timed(() => plans.summary(other, clock.now())));
  }
  const presses: (Cpu & { wall: number })[] = [];
  let people = '';
  for (let round = 1; round <= ROUNDS; round += 1) {
    const now = clock.now();
    const { digest, plan } = await plans.summary(draft, now);
    people = plan.people.toLocaleString('en-US');
    const took = await spent(store, async () => {
      const { stored } = await press(
        presser,
        { broadcastId: round, version: 1, digest, pressId: `bench-press-${round}` },
        { account: undefined, at: new Date(now).toISOString(), now },
      );
      await stored;
    });
    asking = false;
    await others;
    presses.push(took);
    process.stdout.write(
      `  press ${round}: ${(took.wall / 1000).toFixed(1)} s, ${(took.database / 1000).toFixed(1)} s of the database’s thread\n`,
    );
  }
  // the same rows into the same tables (keys, indexes, checks and counters) as of other runs, beside the latest presses
  const { run } = (await db.query<{ run: number }>(`SELECT max(id) AS run FROM run`)).rows[0];
  let copied = Infinity;
  for (let round = 0; round < 3; round += 1) copied = Math.min(copied, await timed(() => copyRun(db, run - round)));
  await plans.end();
  const best = presses.slice(-3).reduce((a, b) => (b.wall < a.wall ? b : a));
  const floor = 'INSERT … SELECT';
  say({
    name: `plan ${people}, shown cold`,
    value: cold.wall / 1000,
    unit: 's',
    against: '2 s',
    ratio: cold.wall / 2000,
    bar: '≤ 1',
  });
  sayCpu(cold, 1, 'plan');
  say({
    name: `plan ${people} after a change of words`,
    value: warm / 1000,
    unit: 's',
    against: '0.4 s',
    ratio: warm / 400,
    bar: '≤ 1',
  });
  say({
    name: `the press of ${people}`,
    value: best.wall / 1000,
    unit: 's',
    against: floor,
    ratio: best.wall / copied,
    bar: '≤ 3 ×',
  });
  const half = ROUNDS / 2;
  const sum = (some: typeof presses) => some.reduce((total, each) => total + each.database, 0);
  say({
    name: 'processor of the database’s thread, the last five presses',
    value: sum(presses.slice(half)) / 1000,
    unit: 's',
    against: 'the first five',
    ratio: sum(presses.slice(half)) / sum(presses.slice(0, half)),
    bar: 'alike',
  });
  sayWaits(waits);
  await end();
}

/** The plan of a million: how long it takes to be shown, cold and after a change of words, and the memory of the whole process. */
export async function millionPlan(): Promise<void> {
  const { db, draft, end } = await office(Number(process.env.BENCH_PEOPLE ?? 1_000_000));
  const threads = planThread(db, (error) => process.stderr.write(`${String(error)}\n`));
  const rss: number[] = [];
  const watching = setInterval(() => rss.push(process.memoryUsage().rss / 1e6), 100);
  const before = process.memoryUsage().rss / 1e6;
  const summary = { people: 0 };
  const cold = await timed(async () => {
    summary.people = (await threads.summary(draft, Date.now())).plan.people;
  });
  const warm = await timed(() => threads.summary({ ...draft, words: `Again. ${draft.words}` }, Date.now()));
  clearInterval(watching);
  const people = summary.people.toLocaleString('en-US');
  say({ name: `plan ${people}, shown cold`, value: cold / 1000, unit: 's', against: '30 s', ratio: cold / 30_000, bar: '≤ 1' });
  say({
    name: `plan ${people} after a change of words`,
    value: warm / 1000,
    unit: 's',
    against: '30 s',
    ratio: warm / 30_000,
    bar: '≤ 1',
  });
  sayMemory(`memory while that went on, at most (${before.toFixed(0)} before)`, rss);
  await threads.end();
  await end();
}
