import type { Today } from '../../core/audience/decide';
import { yearsBetween } from '../../core/people/day';
import type { PlanDependant, PlanPerson } from '../../core/plan/person';
import type { Param, Queryable } from '../db/db';

/** So many people are asked for in one statement, so that the interface's statements slip between. */
export const CHUNK = 5000;
const NOBODY: PlanDependant[] = [];
const NO_FIELDS: Record<string, string> = Object.freeze({});

/**
 * Rows as one piece of JSON text: it passes between threads as it is, and only who needs the rows takes it apart. `values` are the
 * SQL expressions of a row, `from` all that follows the select list.
 */
async function packed<T extends unknown[]>(db: Queryable, values: string, from: string, params: readonly Param[]): Promise<T[]> {
  const { rows } = await db.query<{ packed: string | null }>(
    `SELECT json_agg(json_build_array(${values}))::text AS packed FROM ${from}`,
    params,
  );
  return rows[0].packed === null ? [] : (JSON.parse(rows[0].packed) as T[]);
}

/** What is loaded of people: which custom fields, and consent for which purpose. */
export interface Loading {
  purpose: 'service' | 'marketing';
  fields: readonly string[];
  dependantFields: readonly string[];
}

/**
 * People by id, kept while nothing about anyone changes (see `PlanDesk`). A sorted row of them, since a map of a million takes as
 * much memory again as a third of the people.
 */
export class Kept {
  private people: PlanPerson[] = [];
  /** Where the last one was found: a list names people in the order of their ids, so the next one is mostly the next. */
  private at = 0;

  get size(): number {
    return this.people.length;
  }

  /** @param more people who are not here yet, in any order */
  add(more: readonly PlanPerson[]): void {
    if (more.length > 0) this.people = [...this.people, ...more].sort((a, b) => a.id - b.id);
  }

  get(id: number): PlanPerson | undefined {
    const next = this.people.at(this.at + 1);
    if (next?.id === id) {
      this.at += 1;
      return next;
    }
    let low = 0;
    let high = this.people.length - 1;
    while (low <= high) {
      const middle = (low + high) >> 1;
      const found = this.people[middle];
      if (found.id === id) {
        this.at = middle;
        return found;
      }
      if (found.id < id) low = middle + 1;
      else high = middle - 1;
    }
    return undefined;
  }
}

/** People with the latest word on the purpose at their present number. */
export async function peopleWithConsent(
  db: Queryable,
  where: 'id' | 'number',
  values: readonly (number | string)[],
  { purpose, fields }: Loading,
  today: Today,
): Promise<PlanPerson[]> {
  const people: PlanPerson[] = [];
  const zones = new Map<string, string>();
  const keep = (zone: string) => {
    zones.set(zone, zone);
    return zone;
  };
  for (let from = 0; from < values.length; from += CHUNK) {
    type Columns = [
      number,
      string,
      string,
      string | null,
      string | null,
      string | null,
      string | null,
      string | null,
      boolean,
      string | null,
      string | null,
      PlanPerson['consent'],
      ...(string | null)[],
    ];
    const rows = await packed<Columns>(
      db,
      `person.id, given_name, family_name, reference, person.number, number_kind, language, zone, zone_guessed, quiet, born, c.act${fields.map((_, i) => `, fields->>$${i + 3}::text`).join('')}`,
      `person LEFT JOIN consent_now c ON c.person_id = person.id AND c.purpose = $2 AND c.number = person.number
       WHERE person.${where} = ANY ($1::${where === 'id' ? 'bigint' : 'text'}[])`,
      [values.slice(from, from + CHUNK), purpose, ...fields],
    );
    for (const [
      id,
      given_name,
      family_name,
      reference,
      number,
      number_kind,
      language,
      zone,
      zone_guessed,
      quiet,
      born,
      consent,
      ...own
    ] of rows) {
      // of a million people most are alike in this: one empty object, and one text of a zone, for all of them
      const values: Record<string, string> = fields.length === 0 ? NO_FIELDS : {};
      fields.forEach((slug, i) => {
        const value = own[i];
        if (value !== null && value !== undefined) values[slug] = value;
      });
      people.push({
        id,
        given_name,
        family_name,
        reference,
        number,
        number_kind,
        language,
        zone: zone === null ? null : (zones.get(zone) ?? keep(zone)),
        zone_guessed,
        quiet,
        consent,
        fields: values,
        known: true,
        dependants: NOBODY,
        mustNot: false,
        minor: born !== null && yearsBetween(born, today.day) < 18,
        ready: '',
      });
    }
  }
  return people.sort((a, b) => a.id - b.id);
}

/** Dependants by person, in the order of their names. */
export async function dependantsOf(
  db: Queryable,
  people: () => readonly number[],
  fields: readonly string[],
): Promise<Map<number, (PlanDependant & { mustNot: boolean })[]>> {
  const found = new Map<number, (PlanDependant & { mustNot: boolean })[]>();
  // most offices have no dependants at all: nobody is counted up for nothing
  if ((await db.query(`SELECT 1 FROM guardianship LIMIT 1`)).rowCount === 0) return found;
  const all = people();
  for (let from = 0; from < all.length; from += CHUNK) {
    const rows = await packed<[number, number, string, string, boolean, Record<string, string> | null]>(
      db,
      `g.person_id, d.id, d.given_name, d.family_name, g.must_not_receive, ${fields.length > 0 ? 'd.fields' : 'NULL::jsonb'}`,
      `(SELECT * FROM guardianship WHERE person_id = ANY ($1::bigint[])) g JOIN dependant d ON d.id = g.dependant_id`,
      [all.slice(from, from + CHUNK)],
    );
    for (const [person, id, given_name, family_name, mustNot, own] of rows)
      found.set(person, [...(found.get(person) ?? []), { id, given_name, family_name, fields: own ?? {}, mustNot }]);
  }
  const sorted = (d: PlanDependant) => `${d.family_name} ${d.given_name}`.toLowerCase();
  for (const own of found.values()) own.sort((a, b) => (sorted(a) < sorted(b) ? -1 : sorted(a) > sorted(b) ? 1 : a.id - b.id));
  return found;
}
