import type { Db, Tx } from '../../db/db';
import { Chunks } from '../../db/chunks';
import { returnAllCodes } from './return-codes';

/** Takes a run away as if it had never been pressed: its texts, links, queue and counters. Goes on after a restart. */
export async function dismantle(db: Db, runId: number, alive: () => boolean = () => true): Promise<void> {
  const bulk = db.lane('bulk');
  const chunks = new Chunks(db, 200, 4000);
  // links of copies count for no run
  await bulk.query(
    `DELETE FROM link WHERE run_id IS NULL AND outbound_id IN (SELECT id FROM outbound WHERE run_id = $1 AND kind = 'copy')`,
    [runId],
  );
  for (const [table, key] of [
    ['link', 'token'],
    ['outbound', 'id'],
  ] as const)
    for (let more = true; more && alive();)
      more = await chunks.take(
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
    await returnAllCodes(tx, runId);
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
    await callOff(db, run.id, 'undone', at);
    await dismantle(db, run.id, alive);
  }
  return rows.length > 0;
}

/**
 * What a broadcast is when its run has been called off: as it is said; unchanged where only this run is skipped; and where the run
 * is undone by what went wrong, what it was before: a draft again, or still waiting for the same date or import.
 */
export type CalledOffAs = 'draft' | 'set_aside' | 'canceled' | 'skipped' | 'undone';
/** A run that could not be stored is tried again after so long. */
const AGAIN = '1 minute';

/**
 * Calls a run off before its first text: in one small transaction it can no longer start, its money returns and its broadcast
 * is what `as` says. Its texts are cleared away afterwards. Returns false when it is too late.
 */
export async function callOff(db: Db, runId: number, as: CalledOffAs, at: string): Promise<boolean> {
  return db.transaction((tx) => callOffIn(tx, runId, as, at));
}

/** The same within a transaction that does more. */
export async function callOffIn(tx: Tx, runId: number, as: CalledOffAs, at: string): Promise<boolean> {
  const { rows } = await tx.query<{ broadcast_id: number; called_off: boolean; origin: string }>(
    `SELECT broadcast_id, called_off, origin FROM run WHERE id = $1 AND (state IN ('planning', 'waiting') OR called_off) FOR UPDATE`,
    [runId],
  );
  if (rows.length === 0) return false;
  const [run] = rows;
  if (run.called_off) return true;
  await tx.query(
    `UPDATE run SET state = 'stopped', called_off = true, ended_at = $2::timestamptz, note = 'called off' WHERE id = $1`,
    [runId, at],
  );
  await tx.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note)
     SELECT $2::timestamptz, 'release', -sum(amount_micro), $1, 'called off' FROM balance_entry WHERE run_id = $1 HAVING sum(amount_micro) <> 0`,
    [runId, at],
  );
  if (as === 'skipped') await endWithoutNext(tx, run.broadcast_id, at);
  else if (as !== 'undone' || run.origin === 'press')
    await tx.query(
      `UPDATE broadcast SET state = $2, version = version + 1, updated_at = $3::timestamptz, goes_on = false, next_date = NULL, next_at = NULL,
         plan_at = NULL WHERE id = $1 AND state = 'scheduled'`,
      [run.broadcast_id, as === 'undone' ? 'draft' : as, at],
    );
  else if (run.origin === 'repeat')
    await tx.query(
      `UPDATE broadcast SET goes_on = true, next_date = run.on_date, next_at = run.due_at, plan_at = $2::timestamptz + interval '${AGAIN}'
       FROM run WHERE run.id = $1 AND broadcast.id = run.broadcast_id AND broadcast.state = 'scheduled'`,
      [runId, at],
    );
  else if (run.origin === 'import')
    await tx.query(
      `UPDATE broadcast SET imports_since = import.done_at - interval '1 millisecond' FROM run JOIN import ON import.id = run.import_id
       WHERE run.id = $1 AND broadcast.id = run.broadcast_id AND broadcast.state = 'scheduled'`,
      [runId],
    );
  return true;
}

/** A broadcast of which nothing is to come and nothing is going has ended; one that is sent whenever somebody says so is a draft. */
export async function endWithoutNext(tx: Tx, broadcast: number, at: string): Promise<void> {
  await tx.query(
    `UPDATE broadcast SET updated_at = $2::timestamptz, version = version + 1,
       state = CASE WHEN draft->'when'->>'again' = 'true' THEN 'draft' ELSE 'ended' END
     WHERE id = $1 AND state = 'scheduled' AND NOT goes_on
       AND NOT EXISTS (SELECT 1 FROM run WHERE run.broadcast_id = $1 AND run.ended_at IS NULL)`,
    [broadcast, at],
  );
}
