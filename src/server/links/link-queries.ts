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
    `UPDATE link SET machine_at = CASE WHEN NOT test THEN coalesce(machine_at, $2::timestamptz) END WHERE token = $1 AND NOT opt_out
     RETURNING address, run_id, coalesce(expires_at <= $2::timestamptz, false) AS ended`,
    [token, at],
  );
  return rows[0];
}

/** Where a link leads, for whoever follows it; the first time is remembered, and how often, unless it is one of a test. */
export async function followLink(db: Queryable, token: string, at: string): Promise<Followed | undefined> {
  const { rows } = await db.query<Followed>(
    `UPDATE link SET clicked_at = CASE WHEN NOT test THEN coalesce(clicked_at, $2::timestamptz) END, opens = opens + (NOT test)::int WHERE token = $1 AND NOT opt_out
     RETURNING address, run_id, coalesce(expires_at <= $2::timestamptz, false) AS ended`,
    [token, at],
  );
  return rows[0];
}

export interface OptOutLink {
  number: string;
  language: string;
  /** Of the workspace. */
  name: string;
  run_id: number | null;
  /** The number is in the register already. */
  done: boolean;
  /** It came with a test: nobody opts out by it. */
  test: boolean;
}

/** The opt-out link of a text: whose number, of which workspace, in which language. */
export async function optOutLink(db: Queryable, token: string): Promise<OptOutLink | undefined> {
  const { rows } = await db.query<OptOutLink>(
    `SELECT number, language, workspace.name, run_id, test, NOT test AND EXISTS (SELECT 1 FROM suppression WHERE suppression.number = link.number) AS done
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
