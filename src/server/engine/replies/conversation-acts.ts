import type { Queryable, Tx } from '../../db/db';
import { Refusal } from '../../../core/api/refusal';

/** The last answer that the desk gave a number, by its id; 0 when there is none. */
export const ANSWERED = `coalesce((SELECT max(id) FROM outbound WHERE number = $1 AND kind = 'reply'), 0)`;

/** Locks a conversation, so that of two acts on it at the same moment one comes after the other. */
export async function lockConversation(tx: Tx, number: string): Promise<void> {
  await tx.query(`INSERT INTO conversation (number) VALUES ($1) ON CONFLICT (number) DO NOTHING`, [number]);
  await tx.query(`SELECT 1 FROM conversation WHERE number = $1 FOR UPDATE`, [number]);
}

/** Refuses an answer to what somebody else has answered since: `answered` is the last answer that was on the screen. */
export async function refuseOvertaken(tx: Tx, number: string, answered: number): Promise<void> {
  const { rows } = await tx.query<{ id: number; body: string; by: string | null }>(
    `SELECT o.id, o.body, account.name AS by FROM outbound o LEFT JOIN account ON account.id = o.account_id WHERE o.number = $1 AND o.id = ${ANSWERED}`,
    [number],
  );
  const last = rows.at(0);
  if (last && last.id > answered)
    throw new Refusal('clash', 'answered', `${last.by ?? 'Somebody'} has just answered: “${last.body}”`, {
      kept: 'Your words are still here.',
      act: 'Look at the answer, and send yours if it is still needed.',
    });
}

/**
 * Nothing of theirs up to a text waits any more; what came after it does. A doubt about stopping that was in it is decided: what is
 * done holds its number no more, and brought back it does again (`number_held`).
 */
export async function closeUpTo(tx: Tx, number: string, seen: number, at: string): Promise<void> {
  await tx.query(`UPDATE inbound SET done_at = $3::timestamptz WHERE number = $1 AND id <= $2 AND done_at IS NULL`, [
    number,
    seen,
    at,
  ]);
  await tx.query(`UPDATE conversation SET later_at = NULL WHERE number = $1`, [number]);
}

/** Everything that waits from a number is done with, whoever has it. */
export async function closeAll(tx: Tx, number: string, at: string): Promise<void> {
  await tx.query(`UPDATE inbound SET done_at = $2::timestamptz WHERE number = $1 AND done_at IS NULL`, [number, at]);
  await tx.query(`DELETE FROM conversation WHERE number = $1`, [number]);
}

/** What was put away waits again; where nothing waits, the last that they wrote does. False when they never wrote. */
export async function bringBack(tx: Tx, number: string): Promise<boolean> {
  await tx.query(`UPDATE conversation SET later_at = NULL WHERE number = $1`, [number]);
  if ((await tx.query(`SELECT 1 FROM inbound WHERE number = $1 AND done_at IS NULL LIMIT 1`, [number])).rowCount > 0) return true;
  const back = await tx.query(
    `UPDATE inbound SET done_at = NULL WHERE id = (SELECT max(id) FROM inbound WHERE number = $1 AND kind IN ('reply', 'help', 'maybe_stop', 'unread'))`,
    [number],
  );
  return back.rowCount > 0;
}

/** Hands a conversation to somebody, or to nobody. @throws Refusal when it is another's by now than was seen */
export async function claim(tx: Tx, number: string, to: number | null, from: number | null, at: string): Promise<void> {
  await lockConversation(tx, number);
  const { rows } = await tx.query<{ id: number | null; name: string | null }>(
    `SELECT account.id, account.name FROM conversation c LEFT JOIN account ON account.id = c.claimed_by AND removed_at IS NULL WHERE number = $1`,
    [number],
  );
  const has = rows[0]?.id ?? null;
  if (has !== from && has !== to)
    throw new Refusal(
      'clash',
      'claimed',
      has === null ? 'Nobody has it any more.' : `${rows[0].name ?? 'Somebody'} has it now.`,
      {
        act: 'Look again, and take it over if you want to.',
      },
    );
  await tx.query(
    `UPDATE conversation SET claimed_by = $2::bigint, claimed_at = CASE WHEN $2::bigint IS NOT NULL THEN $3::timestamptz END WHERE number = $1`,
    [number, to, at],
  );
}

/** What may have meant stop does not: runs may text them again, and their words wait for an answer like any others. */
export async function notAStop(tx: Tx, number: string, seen: number): Promise<void> {
  await tx.query(`UPDATE inbound SET kind = 'reply' WHERE number = $1 AND id <= $2 AND kind IN ('maybe_stop', 'unread')`, [
    number,
    seen,
  ]);
}

/** Who a conversation can be passed on to. */
export async function accountsOfDesk(db: Queryable): Promise<{ id: number; name: string }[]> {
  return (
    await db.query<{ id: number; name: string }>(
      `SELECT id, name FROM account WHERE removed_at IS NULL AND role <> 'look' ORDER BY name, id`,
    )
  ).rows;
}
