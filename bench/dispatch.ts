import { cpSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { runById } from '../src/server/broadcasts/run/run-queries';
import { machineClock } from '../src/server/clock';
import type { Db } from '../src/server/db/db';
import { StoreThread } from '../src/server/db/store/thread';
import type { WorkerRequest } from '../src/server/db/store/store-worker';
import { Bus } from '../src/server/desk/bus';
import { startEngine } from '../src/server/engine/engine';
import { makeRun, makeWorkspace, NOTHING_LATER, NOW } from '../src/server/engine/testing/world';
import { startPractice } from '../src/server/practice/practice';
import { say, sayCpu } from './figures';
import { forget, onDisk, spent, STORE_THREAD, tellThread, temporaryFolder, type Cpu } from './on-disk';

/** Texts of the run that warms up, and of the one that is measured. */
const WARM = 4000;
const COUNT = 12_000;
const [FIRST, SECOND] = [1, 2];
const trouble = (error: unknown) => process.stderr.write(`${String(error)}\n`);
/** Asked by the bench itself, and so left out where what was asked is asked again. */
const DELIVERED = `SELECT coalesce(sum(people), 0)::bigint AS n FROM run_tally WHERE run_id = $1 AND state = 'delivered'`;
const BEGINS = `UPDATE run SET state = 'sending' WHERE id = $1`;

/**
 * Text parts out over the wire to the practice carrier in a process of its own, with their receipts recorded, on a folder that syncs; and
 * the same statements on a copy of that folder, bare: one after the other in the database's thread, nothing else beside them.
 */
export async function dispatch(): Promise<void> {
  const folder = temporaryFolder();
  const store = await onDisk(folder);
  await makeWorkspace(store.db);
  await store.db.query(`UPDATE sender SET parts_per_second = 100000`);
  await makeRun(store.db, WARM, { now: NOW, id: FIRST });
  await makeRun(store.db, COUNT, { now: NOW, id: SECOND });
  await store.db.query(`UPDATE run SET state = 'paused'`);
  await store.db.query(`DELETE FROM job`);
  for (const table of ['outbound', 'line_queue', 'person']) await store.db.exec(`ANALYZE ${table}`);
  await store.close();
  const copy = temporaryFolder();
  cpSync(folder, copy, { recursive: true });
  const wire = await overTheWire(folder, join(folder, 'asked'));
  const bare = await replayed(copy, join(folder, 'asked'));
  forget(folder);
  forget(copy);
  const name = 'text parts out with receipts recorded, on disk';
  say({ name, value: (COUNT / wire.wall) * 1000, unit: 'parts/s', against: '2,000', ratio: COUNT / wire.wall / 2, bar: '1' });
  sayCpu(wire, COUNT, 'part');
  say({
    name: 'the same statements bare and warm',
    value: (COUNT / bare.wall) * 1000,
    unit: 'parts/s',
    against: '2,600',
    ratio: COUNT / bare.wall / 2.6,
    bar: '—',
  });
  sayCpu(bare, COUNT, 'part');
  say({
    name: 'processor of the database’s thread a part',
    value: wire.database / COUNT,
    unit: 'ms',
    against: 'its statements bare',
    ratio: wire.database / bare.database,
    bar: '≤ 1.3',
  });
}

async function delivered(db: Db, run: number, count: number): Promise<void> {
  for (let tries = 0; tries < 2400; tries += 1) {
    if ((await db.query<{ n: number }>(DELIVERED, [run])).rows[0].n >= count) return;
    await sleep(50);
  }
  throw new Error(`Run ${run} has not come to its end within two minutes.`);
}

async function overTheWire(folder: string, asked: string): Promise<Cpu & { wall: number }> {
  const store = await onDisk(folder, asked);
  const clock = machineClock(NOW - Date.now());
  const practice = await startPractice({
    journal: join(folder, 'journal'),
    offset: () => clock.offset(),
    profile: JSON.stringify({ outcomes: 'delivered', latency: [0, 50], doubled: 0 }),
    log: trouble,
  });
  const bus = new Bus();
  const engine = await startEngine({
    db: store.db,
    clock,
    bus,
    carrier: { host: '127.0.0.1', port: practice.port, systemId: 'bell', password: 'practice' },
    countAhead: runById,
    later: () => NOTHING_LATER,
    failed: trouble,
  });
  const through = async (run: number, count: number) => {
    await store.db.query(BEGINS, [run]);
    bus.work();
    await delivered(store.db, run, count);
  };
  await through(FIRST, WARM);
  const took = await spent(store, () => through(SECOND, COUNT));
  await engine.stop();
  practice.stop();
  await store.close();
  return took;
}

type Kept = Exclude<WorkerRequest, { kind: 'copy' }> | { id: number; kind: 'copy'; sql: string; data: string };
const again = (kept: Kept): WorkerRequest => (kept.kind === 'copy' ? { ...kept, data: Buffer.from(kept.data, 'latin1') } : kept);

/** What the database was asked, once more, in its order and without waiting for anybody. */
async function replayed(folder: string, asked: string): Promise<Cpu & { wall: number }> {
  const requests = readFileSync(asked, 'utf8')
    .split('\n')
    .map((line) => again(JSON.parse(line) as Kept))
    .filter((each) => !('sql' in each) || each.sql !== DELIVERED)
    .filter(({ kind }) => kind !== 'listen' && kind !== 'unlisten');
  const begins = requests.flatMap((each, at) => ('sql' in each && each.sql === BEGINS ? [at] : []));
  const cpu = tellThread(folder);
  // the thread itself: no lanes, no pool between
  const thread = new StoreThread({ dataDir: join(folder, 'db') }, () => undefined, STORE_THREAD);
  await thread.ready;
  const ask = async (some: readonly WorkerRequest[]) => {
    for (const request of some) await thread.ask(request);
  };
  await ask(requests.slice(0, begins[1]));
  const took = await spent({ cpu }, () => ask(requests.slice(begins[1])));
  await thread.ask({ kind: 'close' });
  await thread.end();
  return took;
}
