import { runById } from '../src/server/broadcasts/run/run-queries';
import pg from 'pg';
import { EventEmitter } from 'node:events';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { run as runWorker, runMigrations, makeWorkerUtils, Logger } from 'graphile-worker';
import type { ShortMessageFields } from '../src/smpp/pdu';
import { machineClock } from '../src/server/clock';
import type { Db } from '../src/server/db/db';
import { openEmbedded } from '../src/server/db/embedded';
import { migrate } from '../src/server/db/migrate';
import { openPostgres } from '../src/server/db/postgres';
import { preparedSnapshot } from '../src/server/db/snapshot';
import { startPostgres } from '../src/server/db/testing/global';
import { Bus } from '../src/server/desk/bus';
import { startEngine } from '../src/server/engine/engine';
import type { GatewayState, Handed } from '../src/server/engine/gateway';
import { LineDriver } from '../src/server/engine/line/driver';
import { makeRun, makeWorkspace, NOTHING_LATER, NOW } from '../src/server/engine/testing/world';
import { startPractice } from '../src/server/practice/practice';
import { say } from './figures';
import { oldEngine } from './old-engine';

/** The line: with the wire, without it, the engine before it, and a well-kept job queue. */
const afternoon = () => machineClock(NOW - Date.now());
const trouble = (error: unknown) => process.stderr.write(`${String(error)}\n`);

/** A carrier that takes everything at once and says so at once. */
class Instant extends EventEmitter<{ state: [GatewayState] }> {
  private ids = 0;
  line: LineDriver | undefined;
  submit(fields: ShortMessageFields, reference: number): Promise<Handed> {
    const messageId = `m${(this.ids += 1)}`;
    setImmediate(
      () =>
        void this.line
          ?.receipt({ messageId, reference, number: `+${fields.destination_addr}`, state: 'DELIVRD', error: '000' })
          .catch(() => undefined),
    );
    return Promise.resolve({ kind: 'accepted', messageId });
  }
}

const embedded = async () => openEmbedded({ snapshot: await preparedSnapshot('.cache', '0.5.16') });

async function fill(db: Db, count: number): Promise<void> {
  await makeWorkspace(db);
  await db.query(`UPDATE sender SET parts_per_second = 100000`);
  await makeRun(db, count, { now: NOW, state: 'sending' });
  for (const table of ['outbound', 'line_queue', 'person']) await db.exec(`ANALYZE ${table}`);
}

/** Parts a second until all are delivered. */
async function rateOf(db: Db, count: number, began: number): Promise<number> {
  for (;;) {
    const { rows } = await db.query<{ n: number }>(
      `SELECT coalesce(sum(people), 0)::bigint AS n FROM run_tally WHERE state = 'delivered'`,
    );
    if (rows[0].n >= count || performance.now() - began > 120_000) return rows[0].n / ((performance.now() - began) / 1000);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

async function withoutWire(db: Db, count: number): Promise<number> {
  await fill(db, count);
  const gateway = new Instant();
  const line = new LineDriver(db, afternoon(), gateway as never, new Bus(), trouble);
  gateway.line = line;
  const began = performance.now();
  await line.start();
  gateway.emit('state', { state: 'connected', since: 0, why: '' });
  const rate = await rateOf(db, count, began);
  await line.stop();
  return rate;
}

async function withWire(db: Db, count: number): Promise<number> {
  await fill(db, count);
  const clock = afternoon();
  const practice = await startPractice({
    journal: join(mkdtempSync(join(tmpdir(), 'bench-')), 'journal'),
    offset: () => clock.offset(),
    profile: JSON.stringify({ outcomes: 'delivered', latency: [0, 50], doubled: 0 }),
    log: trouble,
  });
  const began = performance.now();
  const engine = await startEngine({
    db,
    clock,
    bus: new Bus(),
    carrier: { host: '127.0.0.1', port: practice.port, systemId: 'bell', password: 'practice' },
    countAhead: runById,
    later: () => NOTHING_LATER,
    failed: trouble,
  });
  const rate = await rateOf(db, count, began);
  await engine.stop();
  practice.stop();
  return rate;
}

export async function line(): Promise<void> {
  const COUNT = 8000;
  const best = { wire: 0, bare: 0, old: 0 };
  // in turn, since the machine is faster in one minute than in the next; the best of each counts
  for (let round = 0; round < 2; round += 1) {
    for (const [which, work] of [
      ['old', (db: Db) => oldEngine(db, 3000)],
      ['bare', (db: Db) => withoutWire(db, COUNT)],
      ['wire', (db: Db) => withWire(db, COUNT)],
    ] as const) {
      const db = await embedded();
      best[which] = Math.max(best[which], await work(db));
      await db.close();
    }
  }
  const name = 'text parts out with receipts recorded, embedded';
  say({
    name,
    value: best.wire,
    unit: 'parts/s',
    against: 'the same without the wire',
    ratio: best.wire / best.bare,
    bar: '0.6',
  });
  say({
    name,
    value: best.wire,
    unit: 'parts/s',
    against: 'the engine before, without the wire',
    ratio: best.wire / best.old,
    bar: '3',
  });
}

/** Claim and record on PostgreSQL, against a job queue of the registry on the same server. */
export async function queue(): Promise<void> {
  const COUNT = 6000;
  const server = await startPostgres();
  const db = await openPostgres(server.url);
  await migrate(db);
  const ours = await withoutWire(db, COUNT);
  await db.close();
  // a pool of our own, so that it has ended before the server is stopped
  const pgPool = new pg.Pool({ connectionString: server.url, max: 50 });
  pgPool.on('error', () => undefined);
  await runMigrations({ pgPool });
  const quiet = new Logger(() => () => undefined);
  const utils = await makeWorkerUtils({ pgPool, logger: quiet });
  await utils.withPgClient((client) =>
    client.query(`SELECT graphile_worker.add_job('text', json_build_object('n', n)) FROM generate_series(1, ${COUNT}) AS n`),
  );
  let done = 0;
  const began = performance.now();
  const runner = await runWorker({
    pgPool,
    concurrency: 50,
    logger: quiet,
    noHandleSignals: true,
    pollInterval: 50,
    taskList: { text: () => void (done += 1) },
  });
  while (done < COUNT) await new Promise((resolve) => setTimeout(resolve, 20));
  const theirs = COUNT / ((performance.now() - began) / 1000);
  say({
    name: 'claim and record, PostgreSQL',
    value: ours,
    unit: 'texts/s',
    against: 'graphile-worker',
    ratio: ours / theirs,
    bar: '0.8',
  });
  await runner.stop();
  await utils.release();
  await pgPool.end();
  await server.stop();
}
