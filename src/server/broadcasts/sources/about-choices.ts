import { fold } from '../../../core/text/fold';
import type { Queryable } from '../../db/db';
import { CHUNK } from './load-people';

/** What can be said of dependants, to name only some of them: a value of a field, and how many of the people have one with it. */
export interface AboutChoice {
  field: string;
  label: string;
  value: string;
  people: number;
}

/** A field with more values than these tells single dependants apart (a birthday, a number), not groups of them. */
const MOST_VALUES = 60;

/** Values of their dependants' fields, of the fields that make groups of them, in the order of fields and then of values. */
export async function aboutChoices(db: Queryable, people: readonly number[]): Promise<AboutChoice[]> {
  const found = new Map<string, AboutChoice>();
  for (let from = 0; from < people.length; from += CHUNK) {
    const { rows } = await db.query<AboutChoice>(
      `SELECT f.slug AS field, f.label, min(d.fields->>f.slug) AS value, count(DISTINCT g.person_id)::int AS people
       FROM guardianship g JOIN dependant d ON d.id = g.dependant_id JOIN field_def f ON f.about = 'dependant' AND f.type IN ('choice', 'text', 'yes_no')
       WHERE g.person_id = ANY ($1::bigint[]) AND NOT g.must_not_receive AND coalesce(d.fields->>f.slug, '') <> ''
       GROUP BY f.slug, f.label, f.position, d.folded->>f.slug ORDER BY f.position, f.label, value`,
      [people.slice(from, from + CHUNK)],
    );
    for (const row of rows) {
      const key = JSON.stringify([row.field, fold(row.value)]);
      const known = found.get(key);
      if (known) known.people += row.people;
      else found.set(key, { ...row });
    }
  }
  const values = new Map<string, number>();
  for (const { field } of found.values()) values.set(field, (values.get(field) ?? 0) + 1);
  return [...found.values()].filter(({ field }) => (values.get(field) ?? 0) <= MOST_VALUES);
}
