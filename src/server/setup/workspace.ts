import type { SetupAnswer, Workspace, WorkspaceBody } from '../../core/api/setup';
import type { Queryable } from '../db/db';

/** Where links lead, as SQL over the workspace: the address that somebody has chosen, else the one at which a process was served last. */
export const PUBLIC_ADDRESS = `coalesce(nullif(public_address, ''), served_at)`;

export async function workspaceOf(db: Queryable): Promise<Workspace> {
  return (
    await db.query<Workspace>(
      `SELECT name, zone, country, currency, languages, quiet_from, quiet_to, late_limit_minutes, ${PUBLIC_ADDRESS} AS public_address, opt_out_wording, opt_out_link_wording, help_wording, help_wordings, emergency_line, hours, notices FROM workspace`,
    )
  ).rows[0];
}

/** The country whose numbers are written without a country code. */
export async function countryOf(db: Queryable): Promise<string> {
  return (await db.query<{ country: string }>(`SELECT country FROM workspace`)).rows[0].country;
}

export async function saveWorkspace(db: Queryable, b: WorkspaceBody): Promise<void> {
  await db.query(
    `UPDATE workspace SET name = $1, zone = $2, country = $3, currency = $4, languages = $5::text[], quiet_from = $6, quiet_to = $7,
       late_limit_minutes = $8, opt_out_wording = $9::jsonb, help_wording = $10, emergency_line = $11, hours = $12, opt_out_link_wording = $13::jsonb, help_wordings = $14::jsonb, notices = $15, begun = true`,
    [
      b.name,
      b.zone,
      b.country,
      b.currency,
      b.languages,
      b.quiet_from,
      b.quiet_to,
      b.late_limit_minutes,
      JSON.stringify(b.opt_out_wording),
      b.help_wording,
      b.emergency_line,
      b.hours,
      JSON.stringify(b.opt_out_link_wording),
      JSON.stringify(b.help_wordings),
      b.notices,
    ],
  );
}

/** Nothing has been sent or paid yet, so that country and currency say nothing about anything. */
export async function nothingSentYet(db: Queryable): Promise<boolean> {
  const { rows } = await db.query(
    `SELECT 1 FROM run UNION ALL SELECT 1 FROM balance_entry WHERE kind <> 'top_up' UNION ALL SELECT 1 FROM outbound LIMIT 1`,
  );
  return rows.length === 0;
}

/** The address that somebody has chosen, and when a browser got here by it. */
export async function chosenAddress(db: Queryable): Promise<SetupAnswer['address']> {
  return (await db.query<SetupAnswer['address']>(`SELECT public_address AS chosen, public_tried_at AS tried_at FROM workspace`))
    .rows[0];
}

/** @param tried when the browser that chose it had got here by it */
export async function choosePublicAddress(db: Queryable, address: string, tried: string | null): Promise<void> {
  await db.query(
    `UPDATE workspace SET public_tried_at = CASE WHEN $2::timestamptz IS NULL AND public_address = $1 THEN public_tried_at ELSE $2::timestamptz END,
       public_address = $1, public_try = NULL`,
    [address, tried],
  );
}

/** The next who comes with this token has come by the public address. */
export async function expectTry(db: Queryable, hash: string): Promise<void> {
  await db.query(`UPDATE workspace SET public_try = $1`, [hash]);
}

/** Somebody came with a token: the name of the workspace, or undefined where it is another's. */
export async function tryCame(db: Queryable, hash: string, at: string): Promise<string | undefined> {
  const { rows } = await db.query<{ name: string }>(
    `UPDATE workspace SET public_tried_at = $2::timestamptz WHERE public_try = $1 RETURNING name`,
    [hash, at],
  );
  return rows.at(0)?.name;
}
