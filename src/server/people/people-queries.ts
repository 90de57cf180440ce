import type { Param, Queryable } from '../db/db';

/** Why a person can or cannot be texted, the same words everywhere people are listed. */
export const REACH_CASE = `CASE
  WHEN person.number IS NULL THEN 'no text number'
  WHEN EXISTS (SELECT 1 FROM suppression WHERE suppression.number = person.number) THEN 'opted out'
  WHEN person.number_kind = 'fixed' THEN 'fixed line'
  WHEN (SELECT act FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'service' ORDER BY c.id DESC LIMIT 1) = 'withdrawn' THEN 'notices withdrawn'
  ELSE 'yes' END`;

export interface PeopleFilter {
  search?: string;
  list?: number;
  tag?: number;
  /** Only those who cannot be texted. */
  cannot?: boolean;
}

/** The filter as SQL with its parameters; `first` is the number of the first free placeholder. */
export function whereOf(filter: PeopleFilter, first: number): { sql: string; params: Param[] } {
  const parts: string[] = [];
  const params: Param[] = [];
  const bind = (value: Param) => {
    params.push(value);
    return `$${first + params.length - 1}`;
  };
  if (filter.search) parts.push(`person.search LIKE ${bind(`%${filter.search.replace(/[\\%_]/g, '\\$&')}%`)}`);
  if (filter.list)
    parts.push(`EXISTS (SELECT 1 FROM list_member m WHERE m.person_id = person.id AND m.list_id = ${bind(filter.list)})`);
  if (filter.tag)
    parts.push(`EXISTS (SELECT 1 FROM person_tag t WHERE t.person_id = person.id AND t.tag_id = ${bind(filter.tag)})`);
  if (filter.cannot) parts.push(`(${REACH_CASE}) <> 'yes'`);
  return { sql: parts.length > 0 ? parts.join(' AND ') : 'true', params };
}

export interface PersonRow {
  id: number;
  given_name: string;
  family_name: string;
  number: string | null;
  language: string | null;
  zone: string | null;
  reach: string;
  sort_name: string;
  fields: Record<string, string>;
}

/** A page of people by name, after the given sort key. */
export async function pageOfPeople(
  db: Queryable,
  filter: PeopleFilter,
  after: { sort: string; id: number } | undefined,
  size: number,
): Promise<PersonRow[]> {
  const { sql, params } = whereOf(filter, 4);
  return (
    await db.query<PersonRow>(
      `SELECT id, given_name, family_name, number, language, zone, fields, sort_name, ${REACH_CASE} AS reach FROM person
       WHERE ${sql} AND ($1::text IS NULL OR (sort_name, id) > ($1::text COLLATE "C", $2::bigint)) ORDER BY sort_name, id LIMIT $3::int`,
      [after?.sort ?? null, after?.id ?? 0, size, ...params],
    )
  ).rows;
}
