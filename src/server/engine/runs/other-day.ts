import { iso } from '../../../core/clock';
import type { Queryable, Tx } from '../../db/db';

/** Texts of a run whose words name a day that was counted from another than today: they wait for a person. */
export interface OtherDay {
  n: number;
  /** The first of the days that they were to go on, YYYY-MM-DD. */
  day: string;
}

const WAITS = `o.run_id = $1 AND o.state = 'planned'
  AND o.names_day < ($2::timestamptz AT TIME ZONE coalesce(person.zone, workspace.zone))::date`;

/**
 * How many of a run's texts wait since their day has passed: not asked while it is still the day on which the run began, since that means
 * looking at every text that is to come.
 */
export async function otherDayOf(db: Queryable, run: number, now: number): Promise<OtherDay | null> {
  const { rows } = await db.query<{ n: number; day: string | null }>(
    `SELECT count(*) AS n, to_char(min(o.names_day), 'YYYY-MM-DD') AS day
     FROM workspace CROSS JOIN outbound o LEFT JOIN person ON person.id = o.person_id
     WHERE ${WAITS} AND EXISTS (SELECT 1 FROM run WHERE run.id = $1 AND state IN ('sending', 'paused') AND NOT other_day AND ended_at IS NULL
       AND (due_at AT TIME ZONE workspace.zone)::date < ($2::timestamptz AT TIME ZONE workspace.zone)::date)`,
    [run, iso(now)],
  );
  const [{ n, day }] = rows;
  return n === 0 || day === null ? null : { n, day };
}

/** A person has said that they go all the same: now. */
export async function goOnOtherDay(tx: Tx, run: number, now: number): Promise<boolean> {
  const { rowCount } = await tx.query(
    `UPDATE run SET other_day = true WHERE id = $1 AND state IN ('sending', 'paused') AND ended_at IS NULL AND NOT other_day`,
    [run],
  );
  if (rowCount === 0) return false;
  // both the row and its texts say when they are asked about again
  await tx.query(
    `WITH waits AS (SELECT o.id, o.queue FROM workspace CROSS JOIN outbound o LEFT JOIN person ON person.id = o.person_id WHERE ${WAITS}),
       free AS (UPDATE line_queue q SET due_at = $2::timestamptz FROM (SELECT DISTINCT queue FROM waits) AS w
         WHERE q.id = w.queue AND q.leased_by IS NULL AND q.due_at > $2::timestamptz RETURNING q.id)
     UPDATE outbound SET due_at = $2::timestamptz FROM waits, free WHERE outbound.id = waits.id AND waits.queue = free.id`,
    [run, iso(now)],
  );
  return true;
}
