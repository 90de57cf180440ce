import type { Queryable, Tx } from '../db/db';

export interface Followed {
  address: string;
  run_id: number | null;
  /** It leads nowhere any more. */
  ended: boolean;
}

/** Where a link leads, for whoever only looks (previews, scanners): nobody has clicked. */
export async function addressOfLink(db: Queryable, token: string, at: string): Promise<Followed | undefined> {
  const { rows } = await db.query<Followed>(
    `SELECT address, run_id, coalesce(expires_at <= $2::timestamptz, false) AS ended FROM link WHERE token = $1 AND NOT opt_out`,
    [token, at],
  );
  return rows[0];
}

/** Where a link leads, for a machine that opens it: nobody has clicked, and it is remembered that one has. */
export async function openedByMachine(db: Queryable, token: string, at: string): Promise<Followed | undefined> {
  const { rows } = await db.query<Followed>(
    `UPDATE link SET machine_at = coalesce(machine_at, $2::timestamptz) WHERE token = $1 AND NOT opt_out
     RETURNING address, run_id, coalesce(expires_at <= $2::timestamptz, false) AS ended`,
    [token, at],
  );
  return rows[0];
}

/** Where a link leads, for whoever follows it; the first time is remembered, and how often. */
export async function followLink(db: Queryable, token: string, at: string): Promise<Followed | undefined> {
  const { rows } = await db.query<Followed>(
    `UPDATE link SET clicked_at = coalesce(clicked_at, $2::timestamptz), opens = opens + 1 WHERE token = $1 AND NOT opt_out
     RETURNING address, run_id, coalesce(expires_at <= $2::timestamptz, false) AS ended`,
    [token, at],
  );
  return rows[0];
}

/** The opt-out link of a text: whose number, of which workspace, in which language; whether the number is in the register already. */
export async function optOutLink(
  db: Queryable,
  token: string,
): Promise<{ number: string; language: string; name: string; run_id: number | null; done: boolean } | undefined> {
  const { rows } = await db.query<{ number: string; language: string; name: string; run_id: number | null; done: boolean }>(
    `SELECT number, language, workspace.name, run_id, EXISTS (SELECT 1 FROM suppression WHERE suppression.number = link.number) AS done
     FROM link, workspace WHERE token = $1 AND opt_out`,
    [token],
  );
  return rows[0];
}

/** The first press is remembered; false for those after it. */
export async function pressOptOut(tx: Tx, token: string, at: string): Promise<boolean> {
  const done = await tx.query(`UPDATE link SET pressed_at = $2::timestamptz WHERE token = $1 AND pressed_at IS NULL`, [
    token,
    at,
  ]);
  return done.rowCount > 0;
}
