import { SHORTEST_PASSWORD } from '../../core/api/session';
import { iso } from '../../core/clock';
import type { Queryable } from '../db/db';
import { hashToken, newToken } from '../http/passwords';
import { Refusal } from '../../core/api/refusal';
import type { Account } from '../http/route';

export const SESSION_MS = 14 * 86_400_000;

/** NIST SP 800-63B: length counts, no composition rules. @throws Refusal 422 */
export function refuseWeak(password: string): void {
  if (password.length < SHORTEST_PASSWORD)
    throw new Refusal('wrong', 'password', `The password needs at least ${SHORTEST_PASSWORD} characters; a few words do well.`, {
      place: 'password',
    });
}

/** A new session; answers its token, of which only the hash is kept. @param now ms */
export async function beginSession(db: Queryable, accountId: number, now: number): Promise<string> {
  const { token, hash } = newToken();
  await db.query(
    `INSERT INTO session (token_hash, account_id, created_at, expires_at) VALUES ($1, $2, $3::timestamptz, $4::timestamptz)`,
    [hash, accountId, iso(now), iso(now + SESSION_MS)],
  );
  return token;
}

export async function endSession(db: Queryable, token: string): Promise<void> {
  await db.query(`DELETE FROM session WHERE token_hash = $1`, [hashToken(token)]);
}

/** The account of a session token, if both are still good. */
export async function accountOf(db: Queryable, token: string | undefined, at: string): Promise<Account | undefined> {
  if (!token) return undefined;
  const { rows } = await db.query<Account>(
    `SELECT account.id, name, email, role, own_number, place FROM session JOIN account ON account.id = session.account_id
     WHERE token_hash = $1 AND expires_at > $2::timestamptz AND removed_at IS NULL`,
    [hashToken(token), at],
  );
  return rows[0];
}
