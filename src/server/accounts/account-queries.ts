import type { Role } from '../../core/api/roles';
import type { Queryable, Tx } from '../db/db';
import { closeWays } from './account-ways';

export async function setRole(tx: Tx, id: number, role: Role): Promise<boolean> {
  return (await tx.query(`UPDATE account SET role = $2 WHERE id = $1 AND removed_at IS NULL`, [id, role])).rowCount > 0;
}

/** The account goes, and its address is free again; its name stays with what it did. */
export async function removeAccount(tx: Tx, id: number, at: string): Promise<boolean> {
  const gone = await tx.query(
    `UPDATE account SET removed_at = $2::timestamptz, email = 'removed:' || id, password_hash = '', own_number = NULL WHERE id = $1 AND removed_at IS NULL`,
    [id, at],
  );
  await closeWays(tx, id);
  return gone.rowCount > 0;
}

export async function roleOf(db: Queryable, id: number): Promise<Role | undefined> {
  return (await db.query<{ role: Role }>(`SELECT role FROM account WHERE id = $1 AND removed_at IS NULL`, [id])).rows[0]?.role;
}

/** What an account's password is held against; none while it is being chosen anew. */
export async function passwordOf(db: Queryable, id: number): Promise<string> {
  return (
    (await db.query<{ password_hash: string }>(`SELECT password_hash FROM account WHERE id = $1`, [id])).rows[0]?.password_hash ??
    ''
  );
}

export async function setPassword(db: Queryable, id: number, hash: string): Promise<void> {
  await db.query(`UPDATE account SET password_hash = $2 WHERE id = $1`, [id, hash]);
}

/** Uses up a link with which somebody who is here chooses a new password; undefined when it is none, or too old. */
export async function useResetLink(tx: Tx, hash: string, at: string): Promise<number | undefined> {
  const { rows } = await tx.query<{ account_id: number }>(
    `DELETE FROM invitation WHERE token_hash = $1 AND expires_at > $2::timestamptz AND account_id IS NOT NULL RETURNING account_id`,
    [hash, at],
  );
  return rows[0]?.account_id;
}

/** Uses up an invitation; answers the role it is for. */
export async function useInvitation(tx: Tx, hash: string, at: string): Promise<Role | undefined> {
  const { rows } = await tx.query<{ role: Role }>(
    `DELETE FROM invitation WHERE token_hash = $1 AND expires_at > $2::timestamptz AND account_id IS NULL RETURNING role`,
    [hash, at],
  );
  return rows[0]?.role;
}

/** A new account; undefined when its address is taken. */
export async function insertAccount(
  tx: Tx,
  made: { email: string; name: string; role: Role; hash: string; at: string },
): Promise<number | undefined> {
  const { rows } = await tx.query<{ id: number }>(
    `INSERT INTO account (email, name, role, password_hash, created_at) VALUES ($1, $2, $3, $4, $5::timestamptz) ON CONFLICT (email) DO NOTHING RETURNING id`,
    [made.email, made.name, made.role, made.hash, made.at],
  );
  return rows[0]?.id;
}

/** The account of an address, with what its password is held against. */
export async function accountOfAddress(db: Queryable, email: string): Promise<{ id: number; password_hash: string } | undefined> {
  return (
    await db.query<{ id: number; password_hash: string }>(
      `SELECT id, password_hash FROM account WHERE email = $1 AND removed_at IS NULL`,
      [email],
    )
  ).rows[0];
}

/** How an account likes its tables, by their names. */
export async function layoutsOf(db: Queryable, id: number): Promise<Record<string, unknown>> {
  return (await db.query<{ layouts: Record<string, unknown> }>(`SELECT layouts FROM account WHERE id = $1`, [id])).rows[0]
    .layouts;
}

export async function keepLayout(db: Queryable, id: number, table: string, layout: unknown): Promise<void> {
  await db.query(`UPDATE account SET layouts = layouts || jsonb_build_object($2::text, $3::jsonb) WHERE id = $1`, [
    id,
    table,
    JSON.stringify(layout),
  ]);
}

/** Where somebody works, as it stands in texts they write. */
export async function setPlace(db: Queryable, id: number, place: string): Promise<void> {
  await db.query(`UPDATE account SET place = $2 WHERE id = $1`, [id, place]);
}

export async function addressOfAccount(db: Queryable, id: number): Promise<string> {
  return (await db.query<{ email: string }>(`SELECT email FROM account WHERE id = $1`, [id])).rows[0].email;
}
