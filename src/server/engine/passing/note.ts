import { nanoid } from 'nanoid';
import { iso } from '../../../core/clock';
import { isEcho } from '../../../core/passing/mark';
import type { Tx } from '../../db/db';
import { want, type Wanted } from '../../desk/job-queries';

/** So many replies of one number are passed on to somebody in an hour; the rest is in Replies. */
export const MOST_PASSED = 10;
const HOUR = 3_600_000;
/** A conversation that was given to somebody is theirs for so long after the last that went to them, ms. */
export const GIVEN_FOR = 7 * 24 * HOUR;

/** Whether a text holds one that went to its number of late: a machine wrote it, and neither is it passed on nor answered by itself. */
export async function echoes(tx: Tx, number: string, body: string, now: number): Promise<boolean> {
  const { rows } = await tx.query<{ body: string }>(
    `SELECT body FROM outbound WHERE number = $1 AND kind <> 'run' AND due_at > $2::timestamptz ORDER BY id DESC LIMIT 50`,
    [number, iso(now - 24 * HOUR)],
  );
  return isEcho(
    body,
    rows.map((row) => row.body),
  );
}

/**
 * Writes down to whom a reply is passed on, with the reply itself: a job sends what is written here, once. Never to the number
 * that wrote, and not more than so many an hour.
 */
export async function noteForPassing(
  tx: Tx,
  reply: { id: number; number: string; run: number | null; keyword: number | null },
  now: number,
): Promise<void> {
  const { rows } = await tx.query<{ id: number; lately: number }>(
    `WITH told AS (SELECT * FROM pass_on p WHERE ended_at IS NULL AND address <> $1
       AND (what = 'all' OR (what = 'keyword' AND keyword_id = $3)
         OR (what = 'broadcast' AND broadcast_id = (SELECT broadcast_id FROM run WHERE id = $2))
         OR (what = 'conversation' AND p.number = $1
           AND greatest(created_at, (SELECT max(at) FROM passed WHERE pass_on_id = p.id)) > $5::timestamptz)))
     SELECT id, (SELECT count(*) FROM passed WHERE pass_on_id = told.id AND number = $1 AND at > $4::timestamptz) AS lately FROM told
     -- somebody who is told of all and of this is told once
     WHERE NOT EXISTS (SELECT 1 FROM told other WHERE other.address = told.address AND other.id < told.id)`,
    [reply.number, reply.run, reply.keyword, iso(now - HOUR), iso(now - GIVEN_FOR)],
  );
  const jobs: Wanted[] = [];
  for (const rule of rows) {
    if (rule.lately >= MOST_PASSED) {
      await tx.query(`UPDATE pass_on SET trouble = $2 WHERE id = $1`, [
        rule.id,
        `More than ${MOST_PASSED} within an hour from ${reply.number}: the rest is in Replies only.`,
      ]);
      continue;
    }
    const { rows: made } = await tx.query<{ id: number }>(
      `INSERT INTO passed (pass_on_id, inbound_id, number, token, at, state, next_at) VALUES ($1, $2, $3, $4, $5::timestamptz, 'waiting', $5::timestamptz) ON CONFLICT DO NOTHING RETURNING id`,
      [rule.id, reply.id, reply.number, nanoid(16), iso(now)],
    );
    for (const { id } of made) jobs.push({ kind: 'pass on', key: String(id), due: now });
  }
  await want(tx, jobs);
}
