import type { Static } from 'typebox';
import { recordOf, type RecordOf } from '../../core/api/record-way';
import type { RecordRow } from '../../core/api/setup';
import { fold } from '../../core/text/fold';
import type { Queryable } from '../db/db';

const PAGE = 50;
const likely = (search: string) => `%${search.replace(/[\\%_]/g, '\\$&')}%`;

/** What is found by words: what was done and to what, who did it, and people by their names. */
const FOUND_SQL = `($1 = '' OR record.act ILIKE $2 OR record.subject ILIKE $2 OR account.name ILIKE $2
  OR ((record.act LIKE '%person%' OR record.act LIKE 'wrote down consent%')
    AND EXISTS (SELECT 1 FROM person WHERE person.id = CASE WHEN record.subject ~ '^[0-9]{1,15}$' THEN record.subject::bigint END AND person.sort_name LIKE $3)))`;

/** Who did what, latest first, a page of it; with what it is about, as that is called now. */
export async function recordEntries(
  db: Queryable,
  { skip = 0, search = '' }: { skip?: number; search?: string },
): Promise<{ record: Static<typeof RecordRow>[]; total: number }> {
  const found = [search.trim(), likely(search.trim()), likely(fold(search))];
  const { rows } = await db.query<{
    id: number;
    at: string;
    act: string;
    subject: string;
    by: string | null;
    detail: Record<string, unknown>;
  }>(
    `SELECT record.id, at, act, subject, detail, account.name AS by FROM record LEFT JOIN account ON account.id = account_id
     WHERE ${FOUND_SQL} ORDER BY record.id DESC LIMIT ${PAGE} OFFSET $4::int`,
    [...found, skip],
  );
  const counted = await db.query<{ n: number }>(
    `SELECT count(*) AS n FROM record LEFT JOIN account ON account.id = account_id WHERE ${FOUND_SQL}`,
    found,
  );
  const of = rows.map((row) => recordOf(row) ?? null);
  const names = await namesOf(db, of);
  return {
    record: rows.map(({ id, at, act, subject, by }, i) => {
      const about = of[i];
      const named = about && about.kind !== 'setup' ? names.get(`${about.kind} ${about.id}`) : undefined;
      // what is gone has no way to it
      const gone = about !== null && about.kind in NAMES_SQL && named === undefined;
      return {
        id,
        at,
        act,
        subject,
        by,
        of: gone ? null : about,
        named: named ?? (/^(?:\w+ )?\d+$/.test(subject) ? '' : subject),
      };
    }),
    total: counted.rows[0].n,
  };
}

/** How each is called. */
const NAMES_SQL = {
  person: `SELECT id, trim(given_name || ' ' || family_name) AS name FROM person WHERE id = ANY ($1::bigint[])`,
  dependant: `SELECT id, trim(given_name || ' ' || family_name) AS name FROM dependant WHERE id = ANY ($1::bigint[])`,
  run: `SELECT id, name FROM run WHERE id = ANY ($1::bigint[])`,
  broadcast: `SELECT id, name FROM broadcast WHERE id = ANY ($1::bigint[])`,
} as const;

async function namesOf(db: Queryable, of: readonly (RecordOf | null)[]): Promise<Map<string, string>> {
  const names = new Map<string, string>();
  for (const [kind, sql] of Object.entries(NAMES_SQL)) {
    const ids = of.flatMap((each) => (each?.kind === kind && 'id' in each ? [each.id] : []));
    if (ids.length === 0) continue;
    for (const { id, name } of (await db.query<{ id: number; name: string }>(sql, [ids])).rows) names.set(`${kind} ${id}`, name);
  }
  return names;
}
