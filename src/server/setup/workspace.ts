import type { Workspace, WorkspaceBody } from '../../core/api/setup';
import type { Queryable } from '../db/db';

export async function workspaceOf(db: Queryable): Promise<Workspace> {
  return (
    await db.query<Workspace>(
      `SELECT name, zone, country, currency, languages, quiet_from, quiet_to, late_limit_minutes, public_address, opt_out_wording, opt_out_link_wording, help_wording, help_wordings, emergency_line, hours FROM workspace`,
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
       late_limit_minutes = $8, opt_out_wording = $9::jsonb, help_wording = $10, emergency_line = $11, hours = $12, opt_out_link_wording = $13::jsonb, help_wordings = $14::jsonb, begun = true`,
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
