import { nanoid } from 'nanoid';
import { iso } from '../../../core/clock';
import type { Tx } from '../../db/db';
import { want } from '../../desk/job-queries';
import { lockConversation } from '../replies/conversation-acts';

/** So many of their texts that wait go along when a conversation is given; the rest is in Replies. */
const MOST_ALONG = 5;

/** Who is to answer, and how it comes to them. */
export interface GivenTo {
  name: string;
  way: 'text' | 'mail';
  /** E.164, or one e-mail address. */
  address: string;
  any_hour: boolean;
}

/**
 * Gives one conversation to somebody by text or mail: what waits in it is passed on to them (their last text, where nothing waits), and so
 * is what that number writes within a week of the last. Given to the same again it is the same. Answers how many texts went; none where
 * all of them had been passed on to that address before, or they have not written: then nothing is to be kept, and the caller rolls back.
 */
export async function giveConversation(
  tx: Tx,
  number: string,
  to: GivenTo,
  { account, now }: { account: number; now: number },
): Promise<number> {
  await lockConversation(tx, number);
  const standing = await tx.query<{ id: number }>(
    `UPDATE pass_on SET name = $3, any_hour = $4, created_at = $5::timestamptz
     WHERE what = 'conversation' AND ended_at IS NULL AND number = $1 AND address = $2 RETURNING id`,
    [number, to.address, to.name, to.any_hour, iso(now)],
  );
  const made =
    standing.rows.at(0) ??
    (
      await tx.query<{ id: number }>(
        `INSERT INTO pass_on (what, number, name, way, address, any_hour, created_at, account_id)
         VALUES ('conversation', $1, $2, $3, $4, $5, $6::timestamptz, $7) RETURNING id`,
        [number, to.name, to.way, to.address, to.any_hour, iso(now), account],
      )
    ).rows[0];
  const { rows: along } = await tx.query<{ id: number }>(
    `SELECT i.id FROM inbound i WHERE i.number = $1 AND i.kind NOT IN ('auto', 'unread')
       AND (i.done_at IS NULL OR i.id = (SELECT max(id) FROM inbound WHERE number = $1 AND kind NOT IN ('auto', 'unread')))
       AND NOT EXISTS (SELECT 1 FROM passed JOIN pass_on p ON p.id = pass_on_id
         WHERE inbound_id = i.id AND p.address = $2 AND passed.state <> 'failed')
     ORDER BY i.id DESC LIMIT $3`,
    [number, to.address, MOST_ALONG],
  );
  const passed: number[] = [];
  for (const { id } of along.reverse()) {
    const { rows } = await tx.query<{ id: number }>(
      `INSERT INTO passed (pass_on_id, inbound_id, number, token, at, state, next_at)
       VALUES ($1, $2, $3, $4, $5::timestamptz, 'waiting', $5::timestamptz)
       ON CONFLICT (pass_on_id, inbound_id) DO UPDATE SET state = 'waiting', attempts = 0, next_at = excluded.next_at RETURNING id`,
      [made.id, id, number, nanoid(16), iso(now)],
    );
    passed.push(rows[0].id);
  }
  await want(
    tx,
    passed.map((id) => ({ kind: 'pass on', key: String(id), due: now })),
  );
  return passed.length;
}
