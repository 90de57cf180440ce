import type { Today } from '../../../core/audience/decide';
import { yearsBetween } from '../../../core/people/day';
import type { About } from '../../../core/plan/draft/draft';
import type { PlanDependant, PlanPerson } from '../../../core/plan/reach/person';
import type { Param, Queryable } from '../../db/db';

/** So many people are asked for in one statement, so that the interface's statements slip between. */
export const CHUNK = 5000;
const NOBODY: PlanDependant[] = [];
const NO_FIELDS: Record<string, string> = Object.freeze({});

/**
 * Rows as one piece of JSON text: it passes between threads as it is, and only who needs the rows takes it apart. `valuesSql` are the
 * SQL expressions of a row, `from` all that follows the select list.
 */
async function packed<T extends unknown[]>(
  db: Queryable,
  valuesSql: string,
  from: string,
  params: readonly Param[],
): Promise<T[]> {
  const { rows } = await db.query<{ packed: string | null }>(
    `SELECT json_agg(json_build_array(${valuesSql}))::text AS packed FROM ${from}`,
    params,
  );
  return rows[0].packed === null ? [] : (JSON.parse(rows[0].packed) as T[]);
}

/** What is loaded of people: which custom fields, and consent for which purpose. */
export interface Loading {
  /** Somebody must have agreed to its purpose. */
  needsYes: boolean;
  purpose: 'service' | 'marketing';
  fields: readonly string[];
  dependantFields: readonly string[];
  /** Whom the texts are about, where nobody knows for whom people were chosen. */
  about?: About | undefined;
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

/** What is asked of a person, in this order; custom fields follow. */
const COLUMNS = [
  'person.id',
  'given_name',
  'family_name',
  'reference',
  'person.number',
  'number_kind',
  'language',
  'zone',
  'zone_guessed',
  'quiet',
  'born',
  'c.act',
] as const;

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
  // column by column: one array of texts is made and taken apart faster than five thousand small ones
  const columns = [...COLUMNS, ...fields.map((_, i) => `fields->>$${i + 3}::text`)];
  const sql = `SELECT ${columns.map((column, i) => `json_agg(${column})::text AS c${i}`).join(', ')}
    FROM person LEFT JOIN consent_now c ON c.person_id = person.id AND c.purpose = $2 AND c.number = person.number
    WHERE person.${where} = ANY ($1::${where === 'id' ? 'bigint' : 'text'}[])`;
  const ask = (from: number) => {
    const asked = db.query<Record<string, string | null>>(sql, [values.slice(from, from + CHUNK), purpose, ...fields]);
    // it is waited for a piece later; until then its failure is nobody's
    asked.catch(() => undefined);
    return asked;
  };
  // the next piece is read in the database's thread while this one is taken apart here
  let next = values.length > 0 ? ask(0) : undefined;
  for (let from = CHUNK; next !== undefined; from += CHUNK) {
    const [row] = (await next).rows;
    next = from < values.length ? ask(from) : undefined;
    if (row.c0 === null) continue;
    const column = <T>(i: number) => JSON.parse(row[`c${i}`] ?? '[]') as T[];
    const [ids, given, family] = [column<number>(0), column<string>(1), column<string>(2)];
    const [references, numbers, kinds, languages, inZones] = [3, 4, 5, 6, 7].map((i) => column<string | null>(i));
    const guessed = column<boolean>(8);
    const [quiets, births] = [9, 10].map((i) => column<string | null>(i));
    const acts = column<PlanPerson['consent']>(11);
    const own = fields.map((_, i) => column<string | null>(COLUMNS.length + i));
    for (let i = 0; i < ids.length; i += 1) {
      // of a million people most are alike in this: one empty object, and one text of a zone, for all of them
      const values: Record<string, string> = fields.length === 0 ? NO_FIELDS : {};
      fields.forEach((slug, at) => {
        const value = own[at][i];
        if (value !== null) values[slug] = value;
      });
      const zone = inZones[i];
      const born = births[i];
      people.push({
        id: ids[i],
        given_name: given[i],
        family_name: family[i],
        reference: references[i],
        number: numbers[i],
        number_kind: kinds[i],
        language: languages[i],
        zone: zone === null ? null : (zones.get(zone) ?? keep(zone)),
        zone_guessed: guessed[i],
        quiet: quiets[i],
        consent: acts[i],
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
