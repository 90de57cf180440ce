import type { Source } from '../../core/plan/draft';
import type { Candidate } from '../../core/plan/reach';
import type { Queryable } from '../db/db';

export interface AudiencePerson extends Candidate {
  given_name: string;
  family_name: string;
  reference: string | null;
  number_country: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  fields: Record<string, string>;
}

/** Person ids of each source, in the order of sources and then of people; someone named by two stands in twice. */
export async function idsOf(db: Queryable, sources: readonly Source[]): Promise<number[]> {
  const ids: number[] = [];
  for (const source of sources) {
    if (source.kind === 'person') {
      ids.push(source.id);
      continue;
    }
    const sql =
      source.kind === 'everyone'
        ? `SELECT id FROM person WHERE $1::bigint IS NULL ORDER BY id`
        : source.kind === 'list'
          ? `SELECT person_id AS id FROM list_member WHERE list_id = $1 ORDER BY person_id`
          : `SELECT person_id AS id FROM person_tag WHERE tag_id = $1 ORDER BY person_id`;
    const { rows } = await db.query<{ id: number }>(sql, [source.kind === 'everyone' ? null : source.id]);
    for (const row of rows) ids.push(row.id);
  }
  return ids;
}

const CHUNK = 5000;

/** The people behind ids, with their consent for the purpose at their present number; in the order of the ids. */
export async function peopleOf(
  db: Queryable,
  ids: readonly number[],
  purpose: 'service' | 'marketing',
): Promise<AudiencePerson[]> {
  const distinct = [...new Set(ids)];
  const found = new Map<number, AudiencePerson>();
  for (let from = 0; from < distinct.length; from += CHUNK) {
    const { rows } = await db.query<AudiencePerson>(
      // the latest word for the purpose and the present number; joined once a chunk, not looked up once a person
      `SELECT person.id, given_name, family_name, reference, person.number, number_country, number_kind, language, zone, zone_guessed, fields, latest.act AS consent
       FROM person LEFT JOIN (
         SELECT DISTINCT ON (person_id, number) person_id, number, act FROM consent_event
         WHERE person_id = ANY ($1::bigint[]) AND purpose = $2 ORDER BY person_id, number, id DESC) AS latest
         ON latest.person_id = person.id AND latest.number = person.number
       WHERE person.id = ANY ($1::bigint[])`,
      [distinct.slice(from, from + CHUNK), purpose],
    );
    for (const row of rows) found.set(row.id, row);
    await new Promise((resolve) => setImmediate(resolve));
  }
  return ids.flatMap((id) => found.get(id) ?? []);
}
