import { iso } from '../../core/clock';
import { TOO_LATE } from '../../core/gate/gate';
import type { Db } from '../db/db';
import { Pace } from '../db/pace';

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
  const pace = new Pace(db, 1, 40);
  for (const run of rows) {
    changed.push(run.id);
    for (let more = true; more && alive();)
      more = await pace.take((rowsAtOnce) =>
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

/** Takes a run away as if it had never been pressed: its texts, links, queue and counters. Goes on after a restart. */
export async function dismantle(db: Db, runId: number, alive: () => boolean = () => true): Promise<void> {
  const bulk = db.lane('bulk');
  const pace = new Pace(db, 200, 4000);
  for (const [table, key] of [
    ['link', 'token'],
    ['outbound', 'id'],
  ] as const)
    for (let more = true; more && alive();)
      more = await pace.take(
        async (rows) =>
          (
            await bulk.query(
              `DELETE FROM ${table} WHERE run_id = $1 AND ${key} IN (SELECT ${key} FROM ${table} WHERE run_id = $1 LIMIT $2)`,
              [runId, rows],
            )
          ).rowCount > 0,
      );
  if (!alive()) return;
  await bulk.transaction(async (tx) => {
    for (const table of ['line_queue', 'run_tally', 'run_event'])
      await tx.query(`DELETE FROM ${table} WHERE run_id = $1`, [runId]);
    await tx.query(`DELETE FROM run WHERE id = $1`, [runId]);
  });
}

/**
 * Presses that were called off, and those whose process ended while it was writing the plan: the hold goes back, the broadcast
 * is a draft again, and nothing is left.
 */
export async function clearCalledOff(db: Db, at: string, alive: () => boolean): Promise<boolean> {
  const { rows } = await db.query<{ id: number; state: string }>(
    `SELECT id, state FROM run WHERE called_off
       OR (state = 'planning' AND planned_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM line_owner o WHERE o.epoch::text = planned_by AND o.ended_at IS NULL))`,
  );
  for (const run of rows) {
    await callOff(db, run.id, 'draft', at);
    await dismantle(db, run.id, alive);
  }
  return rows.length > 0;
}

/**
 * Calls a run off before its first text: in one small transaction it can no longer start, its money returns and its broadcast
 * is what `as` says. Its texts are cleared away afterwards. Returns false when it is too late.
 */
export async function callOff(db: Db, runId: number, as: 'draft' | 'set_aside' | 'canceled', at: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<{ broadcast_id: number; called_off: boolean }>(
      `SELECT broadcast_id, called_off FROM run WHERE id = $1 AND (state IN ('planning', 'waiting') OR called_off) FOR UPDATE`,
      [runId],
    );
    if (rows.length === 0) return false;
    if (rows[0].called_off) return true;
    await tx.query(
      `UPDATE run SET state = 'stopped', called_off = true, ended_at = $2::timestamptz, note = 'called off' WHERE id = $1`,
      [runId, at],
    );
    await tx.query(
      `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note)
       SELECT $2::timestamptz, 'release', -sum(amount_micro), $1, 'called off' FROM balance_entry WHERE run_id = $1 HAVING sum(amount_micro) <> 0`,
      [runId, at],
    );
    await tx.query(
      `UPDATE broadcast SET state = $2, version = version + 1, updated_at = $3::timestamptz WHERE id = $1 AND state = 'scheduled'`,
      [rows[0].broadcast_id, as, at],
    );
    return true;
  });
}
