import type { Condition } from '../../../core/audience/condition';
import type { Names } from '../../../core/audience/words';
import { DEPENDANT_FIELDS, PERSON_FIELDS } from '../../../core/people/person-fields';
import type { Queryable } from '../../db/db';

export interface StoredSegment {
  id: number;
  name: string;
  rule: Condition;
}

export async function listSegments(db: Queryable): Promise<StoredSegment[]> {
  return (await db.query<StoredSegment>(`SELECT id, name, rule FROM segment ORDER BY name`)).rows;
}

export async function insertSegment(db: Queryable, name: string, rule: Condition, at: string): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO segment (name, rule, created_at, updated_at) VALUES ($1, $2::jsonb, $3::timestamptz, $3::timestamptz) RETURNING id`,
    [name, JSON.stringify(rule), at],
  );
  return rows[0].id;
}

export async function changeSegment(db: Queryable, s: StoredSegment, at: string): Promise<boolean> {
  const changed = await db.query(`UPDATE segment SET name = $2, rule = $3::jsonb, updated_at = $4::timestamptz WHERE id = $1`, [
    s.id,
    s.name,
    JSON.stringify(s.rule),
    at,
  ]);
  return changed.rowCount > 0;
}

/** Deletes a segment; answers its name. */
export async function deleteSegment(db: Queryable, id: number): Promise<string | undefined> {
  return (await db.query<{ name: string }>(`DELETE FROM segment WHERE id = $1 RETURNING name`, [id])).rows[0]?.name;
}

/** What fields, lists and tags are called, for saying a rule in words. */
export async function namesOf(db: Queryable): Promise<Names> {
  const fields = (await db.query<{ slug: string; label: string; about: string }>(`SELECT slug, label, about FROM field_def`))
    .rows;
  const lists = (await db.query<{ id: number; name: string }>(`SELECT id, name FROM list`)).rows;
  const tags = (await db.query<{ id: number; name: string }>(`SELECT id, name FROM tag`)).rows;
  const label = new Map([
    ...PERSON_FIELDS.map((f) => [`person ${f.slug}`, f.label] as const),
    ...DEPENDANT_FIELDS.map((f) => [`dependant ${f.slug}`, f.label] as const),
    ...fields.map((f) => [`${f.about} ${f.slug}`, f.label] as const),
  ]);
  return {
    field: (slug, about) => label.get(`${about} ${slug}`) ?? slug,
    list: (id) => lists.find((each) => each.id === id)?.name ?? 'a list that is gone',
    tag: (id) => tags.find((each) => each.id === id)?.name ?? 'a tag that is gone',
  };
}

/** Fields that have a column of their own. */
const COLUMNS: Record<string, string> = {
  given_name: 'given_name',
  family_name: 'family_name',
  reference: 'reference',
  language: 'language',
  zone: 'zone',
  country: 'number_country',
  kind: 'number_kind',
};
const OF_DEPENDANTS = ['given_name', 'family_name', 'reference'];

/** The values a field has, the most frequent first: at most sixty. */
export async function valuesOf(
  db: Queryable,
  about: 'person' | 'dependant',
  slug: string,
): Promise<{ value: string; n: number }[]> {
  // of the map’s own: every object has others of itself
  const column = Object.hasOwn(COLUMNS, slug) ? COLUMNS[slug] : undefined;
  if (column !== undefined && about === 'dependant' && !OF_DEPENDANTS.includes(column)) return [];
  const valueSql = column ?? `fields->>$1::text`;
  return (
    await db.query<{ value: string; n: number }>(
      `SELECT ${valueSql} AS value, count(*) AS n FROM ${about} WHERE $1::text IS NOT NULL AND coalesce(${valueSql}, '') <> '' GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 60`,
      [slug],
    )
  ).rows;
}
