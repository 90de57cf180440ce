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
  /** The number is in the register already; and it was by a link, so that by a link it can be taken back. */
  done: boolean;
  by_link: boolean;
  /** Marketing only: it can be ended by this link, it was, or nobody here has the number. */
  less: 'can be' | 'done' | 'nobody';
  /** It came with a test: nobody opts out by it. */
  test: boolean;
}

/** How a record says that somebody ended marketing by their link, and that they took it back. */
const BY_LINK = 'opt-out link';
const TAKEN_BACK = 'opt-out link, taken back';

/** The opt-out link of a text: whose number, of which workspace, in which language, and what was said by it. */
export async function optOutLink(db: Queryable, token: string): Promise<OptOutLink | undefined> {
  const { rows } = await db.query<Omit<OptOutLink, 'less'> & { here: boolean; ended: boolean }>(
    `SELECT link.number, language, workspace.name, run_id, test, NOT test AND s.number IS NOT NULL AS done, coalesce(s.how = 'link' AND NOT EXISTS (SELECT 1 FROM inbound i WHERE i.number = s.number AND i.kind = 'stop' AND i.received_at >= s.at), false) AS by_link,
       EXISTS (SELECT 1 FROM person WHERE person.number = link.number) AS here,
       NOT test AND EXISTS (SELECT 1 FROM person JOIN LATERAL (SELECT act, how FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number
         AND c.purpose = 'marketing' ORDER BY c.id DESC LIMIT 1) AS last ON true
         WHERE person.number = link.number AND last.act = 'withdrawn' AND last.how = $2) AS ended
     FROM workspace, link LEFT JOIN suppression s ON s.number = link.number WHERE token = $1 AND opt_out`,
    [token, BY_LINK],
  );
  return rows.map(({ here, ended, ...row }) => ({
    ...row,
    less: ended ? ('done' as const) : here ? ('can be' as const) : ('nobody' as const),
  }))[0];
}

/** The first press is remembered; false for those after it. */
export async function pressOptOut(tx: Tx, token: string, at: string): Promise<boolean> {
  const done = await tx.query(`UPDATE link SET pressed_at = $2::timestamptz WHERE token = $1 AND pressed_at IS NULL`, [
    token,
    at,
  ]);
  return done.rowCount > 0;
}

/** Taken back: nobody has opted out by this link. */
export async function unpressOptOut(tx: Tx, token: string): Promise<void> {
  await tx.query(`UPDATE link SET pressed_at = NULL WHERE token = $1`, [token]);
}

/** No marketing any more for whoever has the number; once, however often it is pressed. */
export async function endMarketing(tx: Tx, number: string, at: string): Promise<number> {
  const done = await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, at)
     SELECT person.id, person.number, 'marketing', 'withdrawn', $2, '', '', $3::timestamptz FROM person
     WHERE person.number = $1 AND (SELECT act FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'marketing'
       ORDER BY c.id DESC LIMIT 1) IS DISTINCT FROM 'withdrawn'`,
    [number, BY_LINK, at],
  );
  return done.rowCount;
}

/** What somebody ended by their link is as it was before, for those of whom nothing else was said since. */
export async function takeMarketingBack(tx: Tx, number: string, at: string): Promise<number> {
  const done = await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, at)
     SELECT person.id, person.number, 'marketing', coalesce(before.act, 'cleared'), $3, '', '', $4::timestamptz FROM person
     JOIN LATERAL (SELECT id, act, how FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'marketing' ORDER BY c.id DESC LIMIT 1) AS last ON true
     LEFT JOIN LATERAL (SELECT act FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'marketing' AND c.id < last.id ORDER BY c.id DESC LIMIT 1) AS before ON true
     WHERE person.number = $1 AND last.act = 'withdrawn' AND last.how = $2`,
    [number, BY_LINK, TAKEN_BACK, at],
  );
  return done.rowCount;
}
