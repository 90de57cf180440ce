import type { Thread } from '../../../core/api/desk/replies';
import type { Queryable } from '../../db/db';

/**
 * What an answer comes from: the number they wrote to, else the one they were last texted from, else the first that takes
 * replies. The same person keeps the same number; a name cannot be answered, so nothing is answered from one.
 */
export async function senderAnswering(db: Queryable, number: string): Promise<Thread['sender']> {
  const { rows } = await db.query<NonNullable<Thread['sender']>>(
    `SELECT id, name, address FROM sender WHERE kind <> 'name' ORDER BY
       ltrim(address, '+') = (SELECT regexp_replace(to_address, '^([+]|00)', '') FROM inbound WHERE number = $1 ORDER BY id DESC LIMIT 1) DESC NULLS LAST,
       id = (SELECT sender_id FROM outbound WHERE number = $1 ORDER BY id DESC LIMIT 1) DESC NULLS LAST, id LIMIT 1`,
    [number],
  );
  return rows[0] ?? null;
}
