import { machineClock } from '../src/server/clock';
import { runById } from '../src/server/broadcasts/run/run-queries';
import { Bus } from '../src/server/desk/bus';
import { startEngine, type Engine } from '../src/server/engine/engine';
import { benchNumber, makeRun, makeWorkspace, NOTHING_LATER, NOW } from '../src/server/engine/testing/world';
import { say, sayCpu } from './figures';
import { forget, onDisk, spent } from './on-disk';

const PEOPLE = 10_000;
const PLAIN = 4000;
const STOPS = 1500;
/** makeRun numbers people from here. */
const FIRST = 1_000_000;

/**
 * Replies as they come from a carrier that hands over as fast as they are acknowledged: plain ones, and people who say stop (each taken into
 * the register, out of the run, and confirmed by a text). Counted until all are acted on; on a folder that syncs.
 */
export async function answers(): Promise<void> {
  const store = await onDisk();
  const { db } = store;
  await makeWorkspace(db);
  await makeRun(db, PEOPLE, { now: NOW, state: 'paused' });
  await db.query(
    `UPDATE outbound SET state = 'delivered', handed_at = due_at, final_at = due_at, open = 0, billed = 1, queue = NULL`,
  );
  await db.query(`DELETE FROM line_queue`);
  await db.query(`DELETE FROM job`);
  for (const table of ['outbound', 'person']) await db.exec(`VACUUM (ANALYZE) ${table}`);
  const errors: unknown[] = [];
  const engine = await startEngine({
    db,
    clock: machineClock(NOW - Date.now()),
    bus: new Bus(),
    // nobody listens there: confirmations wait in the queue
    carrier: { host: '127.0.0.1', port: 9, systemId: 'bell', password: 'practice' },
    countAhead: runById,
    later: () => NOTHING_LATER,
    failed: (error) => errors.push(error),
  });
  const from = (n: number, text: string) => ({ number: benchNumber(FIRST + n), to: '72345', text });
  await handedOver(
    engine,
    Array.from({ length: 1000 }, (_, i) => from(i, `Is it running? ${i}`)),
  );
  for (const [what, count, bar, texts] of [
    ['plain replies', PLAIN, 400, Array.from({ length: PLAIN }, (_, i) => from(1000 + i, `Is it running today? ${i}`))],
    ['STOPs', STOPS, 200, Array.from({ length: STOPS }, (_, i) => from(1000 + PLAIN + i, 'STOP'))],
  ] as const) {
    const took = await spent(store, () => handedOver(engine, texts));
    say({
      name: `${what} acted on, on disk`,
      value: (count / took.wall) * 1000,
      unit: 'a second',
      against: `${bar}`,
      ratio: ((count / took.wall) * 1000) / bar,
      bar: '≥ 1',
    });
    sayCpu(took, count, 'reply');
  }
  const { rows } = await db.query<{ applied: number; stopped: number }>(
    `SELECT (SELECT count(*) FROM inbound WHERE applied) AS applied, (SELECT count(*) FROM suppression) AS stopped`,
  );
  await engine.stop();
  await store.close();
  forget(store.folder);
  if (rows[0].applied !== 1000 + PLAIN + STOPS || rows[0].stopped !== STOPS || errors.length > 0)
    throw new Error(`Acted on ${rows[0].applied}, ${rows[0].stopped} stopped; ${errors.map(String).join('; ')}`);
}

async function handedOver(engine: Engine, texts: readonly { number: string; to: string; text: string }[]): Promise<void> {
  await Promise.all(texts.map((text) => engine.inbound.take(text)));
  await engine.inbound.settle();
}
