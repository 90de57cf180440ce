import type { Queryable } from '../db/db';
import { rollUpTexts } from './queue-queries';

/**
 * After the press only removals happen by themselves: whoever opted out, was erased or changed number does not get
 * a planned text. Called in the transaction that causes it, and once more over a run before it starts.
 */
export async function removeByNumber(db: Queryable, numbers: readonly string[], reason: string, now: string): Promise<number[]> {
  const { rows } = await db.query<{ run_id: number | null }>(
    `UPDATE outbound SET state = 'not_sent', reason = $2, final_at = $3::timestamptz
     WHERE number = ANY ($1::text[]) AND state = 'planned' AND kind IN ('run', 'reply') RETURNING run_id`,
    [numbers, reason, now],
  );
  await dropWaitingParts(db, numbers, reason, now);
  return runsOf(rows);
}

/** Parts put back for a later try are dropped too; their text is rolled up by the caller's next receipt or here. */
async function dropWaitingParts(db: Queryable, numbers: readonly string[], reason: string, now: string): Promise<void> {
  const { rows } = await db.query<{ outbound_id: number }>(
    `UPDATE outbound_part part SET state = 'not_sent', reason = $2, final_at = $3::timestamptz, retry_at = NULL
     FROM outbound WHERE outbound.id = part.outbound_id AND outbound.kind IN ('run', 'reply') AND part.state = 'planned' AND part.number = ANY ($1::text[])
     RETURNING part.outbound_id`,
    [numbers, reason, now],
  );
  if (rows.length > 0) {
    await rollUpTexts(db, [...new Set(rows.map((row) => row.outbound_id))]);
  }
}

export async function removeByPerson(
  db: Queryable,
  personIds: readonly number[],
  reason: string,
  now: string,
): Promise<number[]> {
  const { rows } = await db.query<{ run_id: number | null }>(
    `UPDATE outbound SET state = 'not_sent', reason = $2, final_at = $3::timestamptz
     WHERE person_id = ANY ($1::bigint[]) AND state = 'planned' AND kind = 'run' RETURNING run_id`,
    [personIds, reason, now],
  );
  return runsOf(rows);
}

/** Takes out of a run whoever may no longer get it: the register, erased people, changed numbers. */
export async function sweepRun(db: Queryable, runId: number, now: string): Promise<void> {
  await db.query(
    `UPDATE outbound SET state = 'not_sent', final_at = $2::timestamptz, reason = CASE
        WHEN EXISTS (SELECT 1 FROM suppression WHERE suppression.number = outbound.number) THEN 'opted out'
        WHEN NOT EXISTS (SELECT 1 FROM person WHERE person.id = outbound.person_id) THEN 'erased'
        ELSE 'number changed' END
     WHERE run_id = $1 AND state = 'planned' AND (
       EXISTS (SELECT 1 FROM suppression WHERE suppression.number = outbound.number)
       OR (person_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM person WHERE person.id = outbound.person_id AND person.number = outbound.number)))`,
    [runId, now],
  );
}

function runsOf(rows: { run_id: number | null }[]): number[] {
  return [...new Set(rows.flatMap((row) => (row.run_id === null ? [] : [row.run_id])))];
}
