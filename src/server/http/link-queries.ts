import type { Queryable } from '../db/db';

export interface Followed {
  address: string;
  run_id: number | null;
  /** It leads nowhere any more. */
  ended: boolean;
}

/** Where a link leads, for whoever only looks (previews, scanners): nobody has clicked. */
export async function addressOfLink(db: Queryable, token: string, at: string): Promise<Followed | undefined> {
  const { rows } = await db.query<Followed>(
    `SELECT address, run_id, coalesce(expires_at <= $2::timestamptz, false) AS ended FROM link WHERE token = $1`,
    [token, at],
  );
  return rows[0];
}

/** Where a link leads, for whoever follows it; the first time is remembered. */
export async function followLink(db: Queryable, token: string, at: string): Promise<Followed | undefined> {
  const { rows } = await db.query<Followed>(
    `UPDATE link SET clicked_at = coalesce(clicked_at, $2::timestamptz) WHERE token = $1
     RETURNING address, run_id, coalesce(expires_at <= $2::timestamptz, false) AS ended`,
    [token, at],
  );
  return rows[0];
}
