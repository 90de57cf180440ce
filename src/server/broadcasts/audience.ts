import type { Source } from '../../core/plan/draft';
import type { Condition } from '../../core/audience/condition';
import type { Today } from '../../core/audience/decide';
import type { Candidate } from '../../core/plan/reach';
import { yearsBetween } from '../../core/people/day';
import { readPhone } from '../../core/phone/read';
import { guessZone } from '../../core/phone/zone-guess';
import { Binder, guardianSql, ruleSql } from '../audience/rule-sql';
import type { Queryable } from '../db/db';
import { onceRows } from './once';

/** Someone a text may be written about, as its words need them. */
export interface Dependant {
  id: number;
  given_name: string;
  family_name: string;
  fields: Record<string, string>;
}

export interface AudiencePerson extends Candidate {
  /** In the address book; else the id is a negative one of this plan only. */
  known: boolean;
  given_name: string;
  family_name: string;
  reference: string | null;
  number_country: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  /** Do-not-disturb hours of their own, `HH:MM-HH:MM`. */
  quiet: string | null;
  fields: Record<string, string>;
  /** Those the audience matched, or all of theirs; without those about whom they must not be written to. */
  dependants: Dependant[];
  /** Words that a file used once brings along. */
  ready: string;
}

/** One naming of someone by a source. */
interface Named {
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
const breathe = () => new Promise((resolve) => setImmediate(resolve));

async function segmentRule(db: Queryable, id: number): Promise<Condition | undefined> {
  return (await db.query<{ rule: Condition }>(`SELECT rule FROM segment WHERE id = $1`, [id])).rows[0]?.rule;
}

/** The dependant conditions of a rule that make someone belong, not those that keep someone out. */
function dependantParts(rule: Condition): Extract<Condition, { on: 'dependant' }>[] {
  if ('op' in rule) return rule.op === 'none' ? [] : rule.of.flatMap(dependantParts);
  return rule.on === 'dependant' ? [rule] : [];
}

/** People of a segment with the dependants for whom they are in it. */
async function namedBySegment(db: Queryable, rule: Condition, today: Today): Promise<Named[]> {
  const binder = new Binder();
  const { rows } = await db.query<{ id: number }>(
    `SELECT id FROM person WHERE ${ruleSql(rule, binder, today)} ORDER BY id`,
    binder.params,
  );
  const parts = dependantParts(rule);
  if (parts.length === 0) return rows.map(({ id }) => ({ id }));
  const of = new Map<number, number[]>();
  for (const part of parts) {
    const inner = new Binder();
    const pairs = await db.query<{ person_id: number; dependant_id: number }>(
      `SELECT g.person_id, g.dependant_id FROM guardianship g JOIN dependant ON dependant.id = g.dependant_id WHERE ${guardianSql(part, inner, today)} ORDER BY g.dependant_id`,
      inner.params,
    );
    for (const pair of pairs.rows) of.set(pair.person_id, [...(of.get(pair.person_id) ?? []), pair.dependant_id]);
  }
  return rows.map(({ id }) => ({ id, dependants: of.get(id) ?? [] }));
}

/** Everyone the sources name, in the order of sources and then of people; someone named by two stands in twice. */
export async function namedBy(
  db: Queryable,
  sources: readonly Source[],
  purpose: 'service' | 'marketing',
  today: Today,
): Promise<Named[]> {
  const named: Named[] = [];
  for (const source of sources) {
    switch (source.kind) {
      case 'person':
        named.push({ id: source.id });
        break;
      case 'everyone':
      case 'list':
      case 'tag': {
        const sql = {
          everyone: `SELECT id FROM person WHERE $1::bigint IS NULL ORDER BY id`,
          list: `SELECT person_id AS id FROM list_member WHERE list_id = $1 ORDER BY person_id`,
          tag: `SELECT person_id AS id FROM person_tag WHERE tag_id = $1 ORDER BY person_id`,
        }[source.kind];
        const { rows } = await db.query<{ id: number }>(sql, [source.kind === 'everyone' ? null : source.id]);
        for (const row of rows) named.push({ id: row.id });
        break;
      }
      case 'segment': {
        const rule = await segmentRule(db, source.id);
        if (rule) for (const each of await namedBySegment(db, rule, today)) named.push(each);
        break;
      }
      case 'numbers':
        for (const number of source.numbers) named.push({ number });
        break;
      case 'file':
        for (const row of await onceRows(db, source.id, purpose))
          named.push({
            number: row.person.number ?? '',
            row: { ...row.person, ready: row.ready, said: row.said },
          });
        break;
      case 'unreachable':
        break;
    }
    await breathe();
  }
  return named;
}

type Row = Omit<AudiencePerson, 'known' | 'dependants' | 'ready' | 'mustNot' | 'minor'> & { born: string | null };

/** People with their consent for the purpose at their present number. */
async function peopleWithConsent(
  db: Queryable,
  where: 'id' | 'number',
  values: readonly (number | string)[],
  purpose: 'service' | 'marketing',
): Promise<Row[]> {
  const people: Row[] = [];
  for (let from = 0; from < values.length; from += CHUNK) {
    const { rows } = await db.query<Row>(
      // the latest word for the purpose and the present number; joined once a chunk, not looked up once a person
      `SELECT person.id, given_name, family_name, reference, person.number, number_country, number_kind, language, zone, zone_guessed, quiet, fields, born, latest.act AS consent
       FROM person LEFT JOIN (
         SELECT DISTINCT ON (person_id, number) person_id, number, act FROM consent_event
         WHERE ${where === 'id' ? 'person_id = ANY ($1::bigint[])' : 'number = ANY ($1::text[])'} AND purpose = $2 ORDER BY person_id, number, id DESC) AS latest
         ON latest.person_id = person.id AND latest.number = person.number
       WHERE person.${where} = ANY ($1::${where === 'id' ? 'bigint' : 'text'}[]) ORDER BY person.id`,
      [values.slice(from, from + CHUNK), purpose],
    );
    for (const row of rows) people.push(row);
    await breathe();
  }
  return people;
}

/** The people behind what the sources named; in the order of the naming. */
export async function peopleOf(
  db: Queryable,
  named: readonly Named[],
  purpose: 'service' | 'marketing',
  today: Today,
): Promise<AudiencePerson[]> {
  const byId = new Map<number, Row>();
  const ids = [...new Set(named.flatMap((each) => each.id ?? []))];
  for (const row of await peopleWithConsent(db, 'id', ids, purpose)) byId.set(row.id, row);
  // a bare number that is someone's here is that someone, with what they said about being texted
  const numbers = [...new Set(named.flatMap((each) => each.number ?? []))].filter((number) => number !== '');
  const byNumber = new Map<string, Row[]>();
  for (const row of await peopleWithConsent(db, 'number', numbers, purpose))
    byNumber.set(row.number ?? '', [...(byNumber.get(row.number ?? '') ?? []), row]);
  const dependants = await dependantsOf(db, [...ids, ...[...byNumber.values()].flat().map((row) => row.id)]);
  const matched = new Map<number, Set<number>>();
  for (const { id, dependants: some } of named)
    if (id !== undefined && some) matched.set(id, new Set([...(matched.get(id) ?? []), ...some]));
  let nobody = 0;
  const unknown = new Map<string, number>();
  return named.flatMap((each): AudiencePerson[] => {
    const sharers = each.number === undefined ? [] : (byNumber.get(each.number) ?? []);
    const row = each.id === undefined ? strictest(sharers, purpose) : byId.get(each.id);
    const file = each.row;
    if (each.id !== undefined && !row) return [];
    if (!row) {
      const number = each.number ?? '';
      const read = number === '' ? undefined : readPhone(number);
      // the same number again is the same nobody; rows without one are each their own
      const id = (number === '' ? undefined : unknown.get(number)) ?? (nobody -= 1);
      if (number !== '') unknown.set(number, id);
      const zone = read?.ok ? (guessZone(read.number) ?? null) : null;
      return [
        {
          id,
          known: false,
          given_name: file?.given_name ?? '',
          family_name: file?.family_name ?? '',
          reference: null,
          number: number === '' ? null : number,
          number_country: read?.ok ? read.country : null,
          number_kind: read?.ok ? read.kind : null,
          consent: file?.said ?? null,
          language: file?.language ?? null,
          zone,
          zone_guessed: true,
          quiet: null,
          fields: file?.fields ?? {},
          dependants: [],
          ready: file?.ready ?? '',
        },
      ];
    }
    const of = dependants.get(row.id) ?? [];
    const only = matched.get(row.id);
    const may = of.filter((d) => !d.mustNot && (!only || only.has(d.id)));
    return [
      {
        ...row,
        known: true,
        given_name: file?.given_name || row.given_name,
        family_name: file?.family_name || row.family_name,
        // what they said here goes before a file's yes, and a file's no before what they said here
        consent: file?.said === 'withdrawn' ? 'withdrawn' : (row.consent ?? file?.said ?? null),
        language: file?.language ?? row.language,
        fields: file ? { ...row.fields, ...file.fields } : row.fields,
        dependants: may,
        mustNot: of.length > 0 && of.every((d) => d.mustNot),
        minor: row.born !== null && yearsBetween(row.born, today.day) < 18,
        ready: file?.ready ?? '',
      },
    ];
  });
}

/** Of people who share a number, the one whose word about being texted is the strictest; for marketing, someone must have agreed. */
function strictest(sharers: readonly Row[], purpose: 'service' | 'marketing'): Row | undefined {
  return (
    sharers.find((row) => row.consent === 'withdrawn') ??
    (purpose === 'marketing' ? sharers.find((row) => row.consent === 'granted') : undefined) ??
    sharers[0]
  );
}

/** Dependants by person, in the order of contact. */
async function dependantsOf(db: Queryable, ids: readonly number[]): Promise<Map<number, (Dependant & { mustNot: boolean })[]>> {
  const found = new Map<number, (Dependant & { mustNot: boolean })[]>();
  for (let from = 0; from < ids.length; from += CHUNK) {
    const { rows } = await db.query<Dependant & { person_id: number; mustNot: boolean }>(
      `SELECT g.person_id, d.id, d.given_name, d.family_name, d.fields, g.must_not_receive AS "mustNot"
       FROM guardianship g JOIN dependant d ON d.id = g.dependant_id WHERE g.person_id = ANY ($1::bigint[]) ORDER BY d.sort_name, d.id`,
      [ids.slice(from, from + CHUNK)],
    );
    for (const { person_id, ...dependant } of rows) found.set(person_id, [...(found.get(person_id) ?? []), dependant]);
  }
  return found;
}

/**
 * The next contacts of dependants none of whose chosen contacts can be texted. `dropped` are those who cannot,
 * `reached` whom the text reaches anyway.
 */
export async function nextContacts(
  db: Queryable,
  dropped: readonly AudiencePerson[],
  reached: readonly AudiencePerson[],
): Promise<Named[]> {
  const covered = new Set(reached.flatMap((person) => person.dependants.map((d) => d.id)));
  const wanting = [...new Set(dropped.flatMap((person) => person.dependants.map((d) => d.id)))].filter((id) => !covered.has(id));
  if (wanting.length === 0) return [];
  const { rows } = await db.query<{ dependant_id: number; person_id: number }>(
    `SELECT DISTINCT ON (g.dependant_id) g.dependant_id, g.person_id FROM guardianship g
     WHERE g.dependant_id = ANY ($1::bigint[]) AND NOT g.must_not_receive AND g.person_id <> ALL ($2::bigint[]) ORDER BY g.dependant_id, g.contact, g.person_id`,
    [wanting, dropped.map((person) => person.id)],
  );
  const of = new Map<number, number[]>();
  for (const row of rows) of.set(row.person_id, [...(of.get(row.person_id) ?? []), row.dependant_id]);
  return [...of].map(([id, dependants]) => ({ id, dependants }));
}

/** Numbers of these that the carrier last said do not exist. */
export async function unreachableOf(db: Queryable, numbers: readonly string[]): Promise<Set<string>> {
  const { rows } = await db.query<{ number: string }>(
    `SELECT number FROM (SELECT DISTINCT ON (number) number, state, reason FROM outbound
       WHERE number = ANY ($1::text[]) AND state IN ('delivered', 'not_delivered', 'expired') ORDER BY number, id DESC) AS last
     WHERE state = 'not_delivered' AND reason = 'number does not exist'`,
    [numbers],
  );
  return new Set(rows.map((row) => row.number));
}
