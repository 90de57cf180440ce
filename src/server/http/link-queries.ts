import type { Queryable } from '../db/db';

/** Where a link leads, for whoever only looks (previews, scanners): nobody has clicked. */
export async function addressOfLink(db: Queryable, token: string): Promise<string | undefined> {
  return (await db.query<{ address: string }>(`SELECT address FROM link WHERE token = $1`, [token])).rows[0]?.address;
}

/** Where a link leads, for whoever follows it; the first time is remembered. */
export async function followLink(
  db: Queryable,
  token: string,
  at: string,
): Promise<{ address: string; run_id: number | null } | undefined> {
  return (
    await db.query<{ address: string; run_id: number | null }>(
      `UPDATE link SET clicked_at = coalesce(clicked_at, $2::timestamptz) WHERE token = $1 RETURNING address, run_id`,
      [token, at],
    )
  ).rows[0];
}
