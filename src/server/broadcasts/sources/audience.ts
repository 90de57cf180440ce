import type { Today } from '../../../core/audience/decide';
import { anotherName, calledName } from '../../../core/people/another-name';
import { readPhone } from '../../../core/phone/read';
import { fold } from '../../../core/text/fold';
import { guessZone } from '../../../core/phone/zone-guess';
import type { About } from '../../../core/plan/draft/draft';
import type { PlanDependant, PlanPerson } from '../../../core/plan/reach/person';
import type { Queryable } from '../../db/db';
import { CHUNK, dependantsOf, Kept, peopleWithConsent, type Loading } from './load-people';
import type { Named, Naming } from './named';

/** The people behind what the sources named; in the order of the naming. */
export async function peopleOf(
  db: Queryable,
  named: readonly Naming[],
  loading: Loading,
  today: Today,
  kept = new Kept(),
): Promise<PlanPerson[]> {
  const { needsYes, about } = loading;
  const wanted: number[] = [];
  const details: Named[] = [];
  for (const each of named) {
    const id = typeof each === 'number' ? each : each.id;
    if (typeof each !== 'number') details.push(each);
    if (id !== undefined && !kept.get(id)) wanted.push(id);
  }
  kept.add(await peopleWithConsent(db, 'id', once(wanted), loading, today));
  // a bare number that is someone's here is that someone, with what they said about being texted
  const numbers = [...new Set(details.flatMap((each) => each.number ?? []))].filter((number) => number !== '');
  const byNumber = new Map<string, PlanPerson[]>();
  for (const row of await peopleWithConsent(db, 'number', numbers, loading, today))
    byNumber.set(row.number ?? '', [...(byNumber.get(row.number ?? '') ?? []), row]);
  const dependants = await dependantsOf(
    db,
    () =>
      once([
        ...named.flatMap((each) => (typeof each === 'number' ? each : (each.id ?? []))),
        ...[...byNumber.values()].flatMap((rows) => rows.map(({ id }) => id)),
      ]),
    loading.about ? [...loading.dependantFields, loading.about.field] : loading.dependantFields,
  );
  const matched = new Map<number, Set<number>>();
  for (const { id, dependants: some } of details)
    if (id !== undefined && some) matched.set(id, new Set([...(matched.get(id) ?? []), ...some]));
  let nobody = 0;
  const unknown = new Map<string, number>();
  const people: PlanPerson[] = [];
  for (const naming of named) {
    const each: Named = typeof naming === 'number' ? { id: naming } : naming;
    const sharers = each.number === undefined ? [] : (byNumber.get(each.number) ?? []);
    const row = each.id === undefined ? strictest(sharers, needsYes) : kept.get(each.id);
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
    const only = matched.get(row.id) ?? (about && aboutWhom(of, about));
    if (of.length === 0 && !file) {
      // most are just themselves, and are not copied
      people.push(row);
      continue;
    }
    // a segment names somebody for those who match; a list for those for whom they were put on it, also where they must not hear about them
    const here = only ? of.filter((d) => only.has(d.id)) : of;
    const named = here.filter((d) => !d.mustNot);
    people.push({
      ...row,
      ...nameOf(row, file),
      // what they said here goes before a file's yes, and a file's no before what they said here
      consent: file?.said === 'withdrawn' ? 'withdrawn' : (row.consent ?? file?.said ?? null),
      language: file?.language ?? row.language,
      fields: file ? { ...row.fields, ...file.fields } : row.fields,
      dependants: named,
      thereFor: only !== undefined,
      mustNot: of.length > 0 && of.every((d) => d.mustNot),
      mustNotHere: only !== undefined && here.length > 0 && named.length === 0,
      barredForSome: !only && of.some((d) => d.mustNot),
      ready: file?.ready ?? '',
    });
  }
  return people;
}

/** Of somebody's dependants those whom the texts are about. */
function aboutWhom(of: readonly PlanDependant[], { field, values }: About): Set<number> {
  const wanted = new Set(values.map(fold));
  return new Set(of.filter(({ fields }) => wanted.has(fold(fields[field] ?? ''))).map(({ id }) => id));
}

/** The name that a file gives goes whole before that of the address book: half of one and half of the other is nobody's. */
function nameOf(row: PlanPerson, file: Named['row']): Pick<PlanPerson, 'given_name' | 'family_name' | 'byFile' | 'hereAs'> {
  if (!file || calledName(file) === '') return { given_name: row.given_name, family_name: row.family_name };
  const { given_name, family_name } = file;
  return { given_name, family_name, byFile: true, ...(anotherName(file, row) ? { hereAs: calledName(row) } : {}) };
}

/** Each once, in order. */
function once(ids: readonly number[]): number[] {
  const sorted = Float64Array.from(ids).sort();
  return Array.from(sorted.filter((id, i) => i === 0 || id !== sorted[i - 1]));
}

/** A number that is nobody's here. */
function stranger(id: number, number: string, file: Named['row']): PlanPerson {
  const read = number === '' ? undefined : readPhone(number);
  return {
    id,
    known: false,
    given_name: file?.given_name ?? '',
    family_name: file?.family_name ?? '',
    byFile: file !== undefined && calledName(file) !== '',
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

/** Of people who share a number, the one whose word about being texted is the strictest; where somebody must have agreed, who has. */
function strictest(sharers: readonly PlanPerson[], needsYes: boolean): PlanPerson | undefined {
  return (
    sharers.find((row) => row.consent === 'withdrawn') ??
    (needsYes ? sharers.find((row) => row.consent === 'granted') : undefined) ??
    sharers[0]
  );
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
): Promise<{ id: number; dependants: number[] }[]> {
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
