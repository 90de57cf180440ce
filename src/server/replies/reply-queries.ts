import type { Reply } from '../../core/api/replies';
import type { Queryable, Tx } from '../db/db';

/** Replies that wait, longest waiting first; or those that do not any more, latest first. */
export async function listReplies(db: Queryable, done: boolean): Promise<Reply[]> {
  return (
    await db.query<Reply>(
      `SELECT inbound.id, received_at, inbound.number, body, kind, inbound.person_id, given_name, family_name, run.name AS run, run.id AS run_id, done_at, incomplete, trouble,
         EXISTS (SELECT 1 FROM suppression WHERE suppression.number = inbound.number) AS opted_out
       FROM inbound LEFT JOIN person ON person.id = inbound.person_id LEFT JOIN run ON run.id = inbound.run_id
       WHERE (done_at IS NOT NULL) = $1 ORDER BY CASE WHEN $1 THEN -inbound.id ELSE inbound.id END LIMIT 100`,
      [done],
    )
  ).rows;
}

/** How many replies wait for a person. */
export async function repliesWaiting(db: Queryable): Promise<number> {
  return (await db.query<{ n: number }>(`SELECT count(*) AS n FROM inbound WHERE done_at IS NULL`)).rows[0].n;
}

/** Marks a reply as done; answers the number it came from. */
export async function closeReply(tx: Tx, id: number, at: string): Promise<string | undefined> {
  const { rows } = await tx.query<{ number: string }>(
    `UPDATE inbound SET done_at = $2::timestamptz WHERE id = $1 RETURNING number`,
    [id, at],
  );
  return rows[0]?.number;
}

/** Marks everything that waits from a number as done. */
export async function closeRepliesOf(tx: Tx, number: string, at: string): Promise<void> {
  await tx.query(`UPDATE inbound SET done_at = $2::timestamptz WHERE number = $1 AND done_at IS NULL`, [number, at]);
}

export async function replyById(tx: Tx, id: number): Promise<{ number: string; body: string } | undefined> {
  return (await tx.query<{ number: string; body: string }>(`SELECT number, body FROM inbound WHERE id = $1`, [id])).rows[0];
}
