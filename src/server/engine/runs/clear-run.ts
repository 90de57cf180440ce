import { Chunks } from '../../db/chunks';
import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import type { Work } from '../../desk/job-runner';
import { returnAllCodes } from './return-codes';

/**
 * Takes a run that was called off away as if it had never been pressed: its texts, links, queue and counters. Goes on after a restart.
 * The job of the kind `clear run`, by run.
 */
export function clearRunWork(db: Db, bus: Bus): Work {
  return async ({ job, over, now, stillMine, inOne }) => {
    const id = Number(job.key);
    if ((await db.query(`SELECT 1 FROM run WHERE id = $1 AND called_off`, [id])).rowCount === 0) return { done: true };
    const bulk = db.lane('bulk');
    const chunks = new Chunks(db, 200, 4000);
    // links of copies count for no run
    await bulk.query(
      `DELETE FROM link WHERE run_id IS NULL AND outbound_id IN (SELECT id FROM outbound WHERE run_id = $1 AND kind = 'copy')`,
      [id],
    );
    for (const [table, key] of [
      ['link', 'token'],
      ['outbound', 'id'],
    ] as const)
      for (let more = true; more;) {
        if (over()) return { again: now() };
        await stillMine();
        more = await chunks.take(
          async (rows) =>
            (
              await bulk.query(
                `DELETE FROM ${table} WHERE run_id = $1 AND ${key} IN (SELECT ${key} FROM ${table} WHERE run_id = $1 LIMIT $2)`,
                [id, rows],
              )
            ).rowCount > 0,
        );
      }
    await inOne(async (tx) => {
      await returnAllCodes(tx, id);
      for (const table of ['line_queue', 'run_tally', 'run_event'])
        await tx.query(`DELETE FROM ${table} WHERE run_id = $1`, [id]);
      await tx.query(`DELETE FROM run WHERE id = $1`, [id]);
      return {};
    });
    bus.changed('runs');
    return undefined;
  };
}
