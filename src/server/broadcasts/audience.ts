import type { Condition } from '../../core/audience/condition';
import type { Today } from '../../core/audience/decide';
import { yearsBetween } from '../../core/people/day';
import { readPhone } from '../../core/phone/read';
import { guessZone } from '../../core/phone/zone-guess';
import type { Source } from '../../core/plan/draft';
import type { PlanDependant, PlanPerson } from '../../core/plan/person';
import { Binder, guardianSql, ruleSql } from '../audience/rule-sql';
import type { Param, Queryable } from '../db/db';
import { onceRows } from './once';

/** One naming of someone by a source. */
export interface Named {
  /** A person of the address book, or undefined for a bare number. */
  id?: number;
  number?: string;
  dependants?: number[];
  /** What a file used once says of them. */
  row?: {
    given_name: string;
    family_name: string;
    fields: Record<string, string>;
    language: string | null;
    ready: string;
    said: 'granted' | 'withdrawn' | null;
  };
}

const CHUNK = 5000;
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

async function ids(db: Queryable, id: string, from: string, params: readonly Param[]): Promise<number[]> {
  const { rows } = await db.query<{ packed: string | null }>(
    `SELECT string_agg(${id}::text, ',' ORDER BY ${id}) AS packed FROM ${from}`,
    params,
  );
  return rows[0].packed === null ? [] : rows[0].packed.split(',').map(Number);
}

/** The dependant conditions of a rule that make someone belong, not those that keep someone out. */
function dependantParts(rule: Condition): Extract<Condition, { on: 'dependant' }>[] {
  if ('op' in rule) return rule.op === 'none' ? [] : rule.of.flatMap(dependantParts);
  return rule.on === 'dependant' ? [rule] : [];
}

/** People of a segment with the dependants for whom they are in it. */
async function namedBySegment(db: Queryable, rule: Condition, today: Today): Promise<Named[]> {
  const binder = new Binder();
  const people = await ids(db, 'id', `person WHERE ${ruleSql(rule, binder, today)}`, binder.params);
  const parts = dependantParts(rule);
  if (parts.length === 0) return people.map((id) => ({ id }));
  const of = new Map<number, number[]>();
  for (const part of parts) {
    const inner = new Binder();
    const pairs = await db.query<{ person_id: number; dependant_id: number }>(
      `SELECT g.person_id, g.dependant_id FROM guardianship g JOIN dependant ON dependant.id = g.dependant_id WHERE ${guardianSql(part, inner, today)} ORDER BY g.dependant_id`,
      inner.params,
    );
    for (const pair of pairs.rows) of.set(pair.person_id, [...(of.get(pair.person_id) ?? []), pair.dependant_id]);
  }
  return people.map((id) => ({ id, dependants: of.get(id) ?? [] }));
}

/** Everyone the sources name, in the order of sources and then of people; someone named by two stands in twice. */
export async function namedBy(
  db: Queryable,
  sources: readonly Source[],
  purpose: 'service' | 'marketing',
  today: Today,
): Promise<Named[]> {
  const named: Named[] = [];
  const add = (all: readonly number[]) => {
    for (const id of all) named.push({ id });
  };
  for (const source of sources) {
    switch (source.kind) {
      case 'person':
        named.push({ id: source.id });
        break;
      case 'everyone':
        add(await ids(db, 'id', 'person', []));
        break;
      case 'list':
        add(await ids(db, 'person_id', 'list_member WHERE list_id = $1', [source.id]));
        break;
      case 'tag':
        add(await ids(db, 'person_id', 'person_tag WHERE tag_id = $1', [source.id]));
        break;
      case 'segment': {
        const rule = (await db.query<{ rule: Condition }>(`SELECT rule FROM segment WHERE id = $1`, [source.id])).rows[0]?.rule;
        if (rule) for (const each of await namedBySegment(db, rule, today)) named.push(each);
        break;
      }
      case 'numbers':
        for (const number of source.numbers) named.push({ number });
        break;
      case 'file':
        for (const row of await onceRows(db, source.id, purpose))
          named.push({ number: row.person.number ?? '', row: { ...row.person, ready: row.ready, said: row.said } });
        break;
      case 'unreachable':
        break;
    }
  }
  return named;
}

/** What is loaded of people: which custom fields, and consent for which purpose. */
export interface Loading {
  purpose: 'service' | 'marketing';
  fields: readonly string[];
  dependantFields: readonly string[];
}

/** People by id, kept while nothing about anyone changes (see `PlanDesk`). */
export type Kept = Map<number, PlanPerson>;

/** People with the latest word on the purpose at their present number. */
async function peopleWithConsent(
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

/** The people behind what the sources named; in the order of the naming. */
export async function peopleOf(
  db: Queryable,
  named: readonly Named[],
  loading: Loading,
  today: Today,
  kept: Kept = new Map(),
): Promise<PlanPerson[]> {
  const { purpose } = loading;
  const wanted = new Set<number>();
  for (const { id } of named) if (id !== undefined && !kept.has(id)) wanted.add(id);
  for (const row of await peopleWithConsent(db, 'id', [...wanted], loading, today)) kept.set(row.id, row);
  // a bare number that is someone's here is that someone, with what they said about being texted
  const numbers = [...new Set(named.flatMap((each) => each.number ?? []))].filter((number) => number !== '');
  const byNumber = new Map<string, PlanPerson[]>();
  for (const row of await peopleWithConsent(db, 'number', numbers, loading, today))
    byNumber.set(row.number ?? '', [...(byNumber.get(row.number ?? '') ?? []), row]);
  const everyone = new Set<number>();
  for (const { id } of named) if (id !== undefined) everyone.add(id);
  for (const rows of byNumber.values()) for (const { id } of rows) everyone.add(id);
  const dependants = await dependantsOf(db, everyone, loading.dependantFields);
  const matched = new Map<number, Set<number>>();
  for (const { id, dependants: some } of named)
    if (id !== undefined && some) matched.set(id, new Set([...(matched.get(id) ?? []), ...some]));
  let nobody = 0;
  const unknown = new Map<string, number>();
  const people: PlanPerson[] = [];
  for (const each of named) {
    const sharers = each.number === undefined ? [] : (byNumber.get(each.number) ?? []);
    const row = each.id === undefined ? strictest(sharers, purpose) : kept.get(each.id);
    const file = each.row;
    if (each.id !== undefined && !row) continue;
    if (!row) {
      const number = each.number ?? '';
      // the same number again is the same nobody; rows without one are each their own
      const id = (number === '' ? undefined : unknown.get(number)) ?? (nobody -= 1);
      if (number !== '') unknown.set(number, id);
      people.push(stranger(id, number, file));
      continue;
    }
    const of = dependants.get(row.id) ?? [];
    const only = matched.get(row.id);
    if (of.length === 0 && !file) {
      // most are just themselves, and are not copied
      people.push(row);
      continue;
    }
    people.push({
      ...row,
      given_name: file?.given_name || row.given_name,
      family_name: file?.family_name || row.family_name,
      // what they said here goes before a file's yes, and a file's no before what they said here
      consent: file?.said === 'withdrawn' ? 'withdrawn' : (row.consent ?? file?.said ?? null),
      language: file?.language ?? row.language,
      fields: file ? { ...row.fields, ...file.fields } : row.fields,
      dependants: of.filter((d) => !d.mustNot && (!only || only.has(d.id))),
      mustNot: of.length > 0 && of.every((d) => d.mustNot),
      ready: file?.ready ?? '',
    });
  }
  return people;
}

/** A number that is nobody's here. */
function stranger(id: number, number: string, file: Named['row']): PlanPerson {
  const read = number === '' ? undefined : readPhone(number);
  return {
    id,
    known: false,
    given_name: file?.given_name ?? '',
    family_name: file?.family_name ?? '',
    reference: null,
    number: number === '' ? null : number,
    number_kind: read?.ok ? read.kind : null,
    consent: file?.said ?? null,
    language: file?.language ?? null,
    zone: read?.ok ? (guessZone(read.number) ?? null) : null,
    zone_guessed: true,
    quiet: null,
    fields: file?.fields ?? {},
    dependants: [],
    ready: file?.ready ?? '',
  };
}

/** Of people who share a number, the one whose word about being texted is the strictest; for marketing, someone must have agreed. */
function strictest(sharers: readonly PlanPerson[], purpose: 'service' | 'marketing'): PlanPerson | undefined {
  return (
    sharers.find((row) => row.consent === 'withdrawn') ??
    (purpose === 'marketing' ? sharers.find((row) => row.consent === 'granted') : undefined) ??
    sharers[0]
  );
}

/** Dependants by person, in the order of their names. */
async function dependantsOf(
  db: Queryable,
  people: ReadonlySet<number>,
  fields: readonly string[],
): Promise<Map<number, (PlanDependant & { mustNot: boolean })[]>> {
  const found = new Map<number, (PlanDependant & { mustNot: boolean })[]>();
  if (people.size === 0 || (await db.query(`SELECT 1 FROM guardianship LIMIT 1`)).rowCount === 0) return found;
  const all = [...people];
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

/**
 * The next contacts of dependants none of whose chosen contacts can be texted. `cannot` are those who cannot (chosen, or
 * tried as a next contact already), `reached` whom the text reaches anyway.
 */
export async function nextContacts(
  db: Queryable,
  cannot: readonly PlanPerson[],
  reached: readonly PlanPerson[],
  tried: ReadonlySet<number>,
): Promise<Named[]> {
  const covered = new Set(reached.flatMap((person) => person.dependants.map((d) => d.id)));
  const wanting = [...new Set(cannot.flatMap((person) => person.dependants.map((d) => d.id)))].filter((id) => !covered.has(id));
  if (wanting.length === 0) return [];
  const { rows } = await db.query<{ dependant_id: number; person_id: number }>(
    `SELECT DISTINCT ON (g.dependant_id) g.dependant_id, g.person_id FROM guardianship g
     WHERE g.dependant_id = ANY ($1::bigint[]) AND NOT g.must_not_receive AND g.person_id <> ALL ($2::bigint[]) ORDER BY g.dependant_id, g.contact, g.person_id`,
    [wanting, [...tried]],
  );
  const of = new Map<number, number[]>();
  for (const row of rows) of.set(row.person_id, [...(of.get(row.person_id) ?? []), row.dependant_id]);
  return [...of].map(([id, dependants]) => ({ id, dependants }));
}

/** Numbers that the carrier last said do not exist. */
export async function unreachableNumbers(db: Queryable, numbers: readonly string[]): Promise<Set<string>> {
  const found = new Set<string>();
  for (let from = 0; from < numbers.length; from += CHUNK) {
    const { rows } = await db.query<{ number: string }>(
      `SELECT number FROM (SELECT DISTINCT ON (number) number, state, reason FROM outbound
         WHERE number = ANY ($1::text[]) AND state IN ('delivered', 'not_delivered', 'expired') ORDER BY number, id DESC) AS last
       WHERE state = 'not_delivered' AND reason = 'number does not exist'`,
      [numbers.slice(from, from + CHUNK)],
    );
    for (const row of rows) found.add(row.number);
  }
  return found;
}
