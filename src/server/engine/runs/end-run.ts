import { iso } from '../../../core/clock';
import { moveOf, type Open } from '../../../core/runs/life';
import type { Db, Queryable } from '../../db/db';
import type { Work } from '../../desk/job-runner';
import type { Bus } from '../../desk/bus';
import { cleanLists } from './clean-lists';
import { sweepQueue } from './not-sent';
import { moveRun, runOf } from './run-life';

/** Counts what of a run is dear to count; given by whoever starts the engine, which knows nothing of pages. */
export type CountAhead = (db: Queryable, run: number, at: string) => Promise<unknown>;

/**
 * Brings a run to its end: takes away what goes no more, pays for what was taken. The job of the kind `end run`, by run, made due by each
 * move of it and by the counters themselves (`run_tally_ends`, `run_tally_certain`). One that cannot end holds up no other.
 */
export function endRunWork(db: Db, bus: Bus, countAhead: CountAhead): Work {
  return async ({ job, now, over, stillMine, inOne }) => {
    const id = Number(job.key);
    const run = await runOf(db, id);
    const sweep = run && moveOf(run, { is: 'time to end', open: await openOf(db, id) }, now()).sweep;
    if (sweep !== undefined) {
      if (!(await sweepQueue(db, id, sweep, { now, over, stillMine }))) return { again: now() };
      bus.changed('run', id);
    }
    // asked once more: what was swept, and what came meanwhile, may have been the last
    const { moved, settled } = await inOne(async (tx) => {
      const move = await moveRun(tx, id, { is: 'time to end', open: await openOf(tx, id) }, now());
      return { moved: move !== undefined && Object.keys(move.to).length > 0, settled: move?.settle === true };
    });
    // what is dear to count is counted before anybody opens it
    if (settled) await countAhead(db, id, iso(now()));
    if (moved) {
      bus.changed('run', id);
      bus.changed('runs');
      bus.changed('balance');
      // of one that was paused, the line has something to say
      bus.work();
    }
    return undefined;
  };
}

/** What of a run's texts is not at its end. */
async function openOf(db: Queryable, id: number): Promise<Open> {
  const { rows } = await db.query<{ texts: number; queued: number; uncertain: boolean }>(
    `SELECT (SELECT coalesce(sum(open_texts), 0)::bigint FROM run_tally WHERE run_id = $1) AS texts,
       (SELECT count(*) FROM line_queue WHERE run_id = $1) AS queued,
       EXISTS (SELECT 1 FROM run_tally WHERE run_id = $1 AND state = 'uncertain' AND people > 0) AS uncertain`,
    [id],
  );
  const [{ texts, queued, uncertain }] = rows;
  if (!uncertain || texts > 0) return { texts, queued, lostAt: null };
  const { rows: last } = await db.query<{ at: string | null }>(
    `SELECT max(p.written_at) AS at FROM outbound o JOIN outbound_part p ON p.outbound_id = o.id
     WHERE o.run_id = $1 AND o.state = 'uncertain' AND p.state = 'uncertain'`,
    [id],
  );
  const at = last.at(0)?.at ?? null;
  return { texts, queued, lostAt: at === null ? null : Date.parse(at) };
}

/** Takes off lists whom a run did not reach: after its end, and again with each late word of the carrier. */
export function cleanListsWork(bus: Bus): Work {
  return async ({ job, now, inOne }) => {
    const id = Number(job.key);
    await inOne(async (tx) => {
      await cleanLists(tx, id, iso(now()));
      return {};
    });
    bus.changed('run', id);
    bus.changed('people');
    return undefined;
  };
}
