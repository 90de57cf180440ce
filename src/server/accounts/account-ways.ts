import type { Queryable, Tx } from '../db/db';

/** Who can manage, locked: of two who take the last such account away at once, one waits and is refused. Whoever cannot sign in cannot. */
export async function managers(tx: Tx): Promise<number[]> {
  const { rows } = await tx.query<{ id: number }>(
    `SELECT id FROM account WHERE role = 'manage' AND removed_at IS NULL AND password_hash <> '' ORDER BY id FOR UPDATE`,
  );
  return rows.map((row) => row.id);
}

/** Ends sessions of an account, but for the one whose token's hash is given; answers how many. */
export async function endSessions(db: Queryable, account: number, but = ''): Promise<number> {
  return (await db.query(`DELETE FROM session WHERE account_id = $1 AND token_hash <> $2`, [account, but])).rowCount;
}

/**
 * Closes every way into an account and into what is its own: sessions (but the one that is given), links for a new password, and the
 * address of its calendar. Whatever gives an account a new way in calls this first, so that of two ways one is never forgotten.
 */
export async function closeWays(tx: Tx, account: number, but = ''): Promise<void> {
  await endSessions(tx, account, but);
  await tx.query(`DELETE FROM invitation WHERE account_id = $1`, [account]);
  await tx.query(`UPDATE account SET calendar_hash = NULL WHERE id = $1`, [account]);
}
