import type { Queryable } from '../../db/db';

/**
 * After the press only removals happen by themselves: whoever opted out, was erased or changed number does not get a planned
 * text. Removing here makes it visible at once; it is the gate, asked by the claim, that makes it certain, so what is leased
 * to a line at the moment is left to it.
 */
const FREE = `NOT EXISTS (SELECT 1 FROM line_queue q WHERE q.id = outbound.queue AND q.leased_by IS NOT NULL)`;

export async function removeByNumber(db: Queryable, numbers: readonly string[], reason: string, now: string): Promise<number[]> {
  return runsOf(
    await db.query<{ run_id: number | null }>(
      `UPDATE outbound SET state = 'not_sent', reason = $2, final_at = $3::timestamptz, open = 0, queue = NULL
       WHERE number = ANY ($1::text[]) AND state = 'planned' AND kind IN ('run', 'reply', 'opt_out', 'copy', 'automatic', 'passed', 'alarm') AND ${FREE} RETURNING run_id`,
      [numbers, reason, now],
    ),
  );
}

export async function removeByPerson(
  db: Queryable,
  personIds: readonly number[],
  reason: string,
  now: string,
): Promise<number[]> {
  return runsOf(
    await db.query<{ run_id: number | null }>(
      `UPDATE outbound SET state = 'not_sent', reason = $2, final_at = $3::timestamptz, open = 0, queue = NULL
       WHERE person_id = ANY ($1::bigint[]) AND state = 'planned' AND kind IN ('run', 'opt_out') AND ${FREE} RETURNING run_id`,
      [personIds, reason, now],
    ),
  );
}

/** Copies for the desk that hold somebody's words. */
export async function removeCopiesOf(db: Queryable, person: number, reason: string, now: string): Promise<number[]> {
  return runsOf(
    await db.query<{ run_id: number | null }>(
      `UPDATE outbound SET state = 'not_sent', reason = $2, final_at = $3::timestamptz, open = 0, queue = NULL
       WHERE copy_of = $1 AND state = 'planned' AND ${FREE} RETURNING run_id`,
      [person, reason, now],
    ),
  );
}

function runsOf({ rows }: { rows: { run_id: number | null }[] }): number[] {
  return [...new Set(rows.flatMap((row) => (row.run_id === null ? [] : [row.run_id])))];
}
