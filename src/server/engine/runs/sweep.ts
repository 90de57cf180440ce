import { iso } from '../../../core/clock';
import { TOO_LATE } from '../../../core/gate/gate';
import type { Db } from '../../db/db';
import { Chunks } from '../../db/chunks';

interface Ended {
  id: number;
  note: string;
}

/**
 * Texts of runs of which nothing goes any more (stopped, missed, past their use) become not sent, a few rows of the queue at a
 * time, so that others' requests slip between. What a line has leased is left to it: its gate says the same. Returns the runs
 * that changed.
 */
export async function sweepEnded(db: Db, now: number, alive: () => boolean): Promise<number[]> {
  const { rows } = await db.query<Ended>(
    `SELECT run.id, CASE WHEN run.state IN ('stopped', 'missed') THEN run.note ELSE '${TOO_LATE}' END AS note FROM run
     WHERE (run.state IN ('stopped', 'missed') OR (run.state IN ('sending', 'paused') AND run.not_after <= $1::timestamptz))
       AND EXISTS (SELECT 1 FROM line_queue q WHERE q.run_id = run.id AND q.leased_by IS NULL)`,
    [iso(now)],
  );
  const changed: number[] = [];
  const bulk = db.lane('bulk');
  const chunks = new Chunks(db, 1, 40);
  for (const run of rows) {
    changed.push(run.id);
    for (let more = true; more && alive();)
      more = await chunks.take((rowsAtOnce) =>
        bulk.transaction(async (tx) => {
          const { rows: queue } = await tx.query<{ id: number }>(
            `SELECT id FROM line_queue WHERE run_id = $1 AND leased_by IS NULL ORDER BY id LIMIT $2 FOR UPDATE SKIP LOCKED`,
            [run.id, rowsAtOnce],
          );
          if (queue.length === 0) return false;
          const ids = queue.map((row) => row.id);
          await tx.query(
            `UPDATE outbound SET state = 'not_sent', reason = $2, final_at = $3::timestamptz, open = 0, queue = NULL
             FROM line_queue q WHERE q.id = ANY ($1::bigint[]) AND outbound.id = ANY (q.ids) AND outbound.queue = q.id AND outbound.state = 'planned'
               AND NOT EXISTS (SELECT 1 FROM outbound_part p WHERE p.outbound_id = outbound.id)`,
            [ids, run.note || 'canceled', iso(now)],
          );
          // a text with parts that have gone is decided by the line, part by part; its row stays
          const { rowCount } = await tx.query(
            `DELETE FROM line_queue q WHERE id = ANY ($1::bigint[]) AND NOT EXISTS (SELECT 1 FROM outbound o WHERE o.id = ANY (q.ids) AND o.queue = q.id AND o.open > 0)`,
            [ids],
          );
          return rowCount > 0;
        }),
      );
  }
  return changed;
}
