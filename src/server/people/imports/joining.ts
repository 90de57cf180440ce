import { sharedOf, type ImportSettings } from '../../../core/api/people/import-settings';
import type { Change } from '../../../core/api/people/imports';
import { anotherName, calledName, type Called } from '../../../core/people/another-name';
import { fold } from '../../../core/text/fold';
import type { Prepared } from '../../../core/people/prepare';
import type { Queryable } from '../../db/db';
import { STORED, type StoredPerson } from '../../address-book/for-others';

const fullName = (of: Called) => fold(calledName(of));

/** How rows find their people: the bench's choices. */
export type Joining = Pick<ImportSettings, 'shared_number' | 'shared_rows' | 'reference_conflict'>;

/** Who a row is about, and who has its own reference though name and number are another's. */
export interface Known {
  person: StoredPerson | undefined;
  conflict?: StoredPerson;
  /** Who has the number under another name, whether the row is taken for them or for another who shares it. */
  otherwise?: StoredPerson;
}

type Someone = Called & { number: string | null };

/** True when two share neither name nor number, and both have both: whatever else they share, they may be strangers. */
export function strangers(a: Someone, b: Someone): boolean {
  const [one, other] = [fullName(a), fullName(b)];
  return one !== '' && other !== '' && one !== other && a.number !== null && b.number !== null && a.number !== b.number;
}

/**
 * People already here that a batch may be about: by own reference, by number, or by name for those without a number. A reference
 * joins nobody to a stranger unless someone has said that they are one person.
 */
export async function findKnown(
  db: Queryable,
  batch: readonly Prepared[],
  joining: Joining,
): Promise<(person: Prepared, row: number) => Known> {
  const { reference_conflict } = joining;
  const numbers = batch.flatMap((person) => (person.number ? [person.number] : []));
  const references = batch.flatMap((person) => (person.reference ? [person.reference] : []));
  const names = batch.flatMap((person) => (person.number ? [] : [fullName(person)]));
  // three indexed look-ups, not one condition with OR, which would read everyone
  const columns = STORED.join(', ');
  const { rows } = await db.query<StoredPerson>(
    `SELECT ${columns} FROM person WHERE number = ANY ($1::text[])
     UNION SELECT ${columns} FROM person WHERE reference = ANY ($2::text[])
     UNION SELECT ${columns} FROM person WHERE number IS NULL AND sort_name <> '' AND search = ANY ($3::text[])
     ORDER BY id`,
    [numbers, references, names],
  );
  const byNumber = new Map<string, StoredPerson[]>();
  const byReference = new Map<string, StoredPerson>();
  const byName = new Map<string, StoredPerson>();
  for (const row of rows) {
    if (row.number) byNumber.set(row.number, [...(byNumber.get(row.number) ?? []), row]);
    if (row.reference && !byReference.has(row.reference)) byReference.set(row.reference, row);
    if (!row.number) byName.set(fullName(row), row);
  }
  return (person, row) => {
    const referred = person.reference ? byReference.get(person.reference) : undefined;
    if (!referred) return byNumberOrName(person, row);
    if (!strangers(referred, person) || reference_conflict === 'same_person') return { person: referred };
    return { ...byNumberOrName(person, row), conflict: referred };
  };
  function byNumberOrName(person: Prepared, row: number): Known {
    if (!person.number) return { person: byName.get(fullName(person)) };
    const sharers = byNumber.get(person.number) ?? [];
    const same = calledAlike(sharers, person);
    if (same || sharers.length === 0) return { person: same };
    const [otherwise] = sharers;
    return { person: sharedOf(joining, row) === 'one_person' ? otherwise : undefined, otherwise };
  }
}

/** Of those who have a number, who is called as somebody is; a shorter form is the same, and without a name nobody can be told apart. */
function calledAlike<T extends Called>(sharers: readonly T[], person: Called): T | undefined {
  return sharers.find((each) => fullName(each) === fullName(person)) ?? sharers.find((each) => !anotherName(each, person));
}

type OfRow = Called & Pick<Prepared, 'number' | 'reference'>;

/** People of a file by what joins its rows: the number, and the name where people may share one; else name and reference. */
export class OfFile<T extends OfRow> {
  private readonly byNumber = new Map<string, T[]>();
  private readonly byName = new Map<string, T>();
  /** Those who are here already, by their id. */
  private readonly here = new Map<number, T>();

  constructor(private readonly joining: Joining) {}

  /** Who an earlier row was about, where this one is about them, too. @param known who of the address book it is about */
  find(person: OfRow, row: number, known?: number): T | undefined {
    if (person.number === null) return this.byName.get(nameKey(person));
    const sharers = this.byNumber.get(person.number) ?? [];
    const alike = calledAlike(sharers, person);
    if (alike || known !== undefined) return alike ?? this.here.get(known ?? 0);
    return sharedOf(this.joining, row) === 'one_person' ? sharers.at(0) : undefined;
  }

  /** Who has the number under another name in an earlier row. */
  otherwise(person: OfRow): T | undefined {
    const sharers = person.number === null ? [] : (this.byNumber.get(person.number) ?? []);
    return calledAlike(sharers, person) ? undefined : sharers.at(0);
  }

  add(person: T, known?: number): void {
    if (known !== undefined) this.here.set(known, person);
    if (person.number === null) this.byName.set(nameKey(person), person);
    else this.byNumber.set(person.number, [...(this.byNumber.get(person.number) ?? []), person]);
  }
}

const nameKey = (person: OfRow) => `${fullName(person)}|${person.reference ?? ''}`;

/** The person as they will be after the import, by the bench's policy. Undefined when nothing changes. */
export function merged(known: StoredPerson, file: Prepared, already: ImportSettings['already']): StoredPerson | undefined {
  if (already === 'skip') return undefined;
  const over = already === 'overwrite';
  const pick = (here: string | null, there: string | null): string | null => (there && (over || !here) ? there : here);
  const next: StoredPerson = {
    ...known,
    given_name: pick(known.given_name, file.given_name) ?? '',
    family_name: pick(known.family_name, file.family_name) ?? '',
    reference: pick(known.reference, file.reference),
    language: pick(known.language, file.language),
    born: pick(known.born, file.born),
    fields: over ? { ...known.fields, ...file.fields } : { ...file.fields, ...withoutBlanks(known.fields) },
  };
  next.number = pick(known.number, file.number);
  if (next.number !== known.number) {
    next.number_country = file.number_country;
    next.number_kind = file.number_kind;
    next.kind_source = file.kind_source;
  } else if (file.kind_source === 'file' && next.number_kind === 'either') {
    next.number_kind = file.number_kind;
    next.kind_source = 'file';
  }
  // a zone that was told goes before a guess, from either side
  if (file.zone && !file.zone_guessed && (over || known.zone === null || known.zone_guessed)) {
    next.zone = file.zone;
    next.zone_guessed = false;
  } else if (known.zone === null || (known.zone_guessed && next.number !== known.number)) {
    next.zone = file.zone;
    next.zone_guessed = file.zone_guessed;
  }
  return changesOf(known, next).length > 0 ? next : undefined;
}

function withoutBlanks(fields: Record<string, string>): Record<string, string> {
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value.trim() !== ''));
}

const SHOWN: readonly (keyof StoredPerson)[] = [
  'given_name',
  'family_name',
  'reference',
  'number',
  'number_kind',
  'language',
  'zone',
  'born',
];

/** What differs, value by value. */
export function changesOf(before: StoredPerson, after: StoredPerson): Change[] {
  const changes: Change[] = [];
  for (const column of SHOWN) {
    const [a, b] = [before[column] ?? '', after[column] ?? ''];
    if (a !== b) changes.push({ field: column, before: String(a), after: String(b) });
  }
  if (before.zone === after.zone && before.zone_guessed !== after.zone_guessed)
    changes.push({ field: 'zone', before: `${before.zone ?? ''} (guessed)`, after: after.zone ?? '' });
  for (const slug of new Set([...Object.keys(before.fields), ...Object.keys(after.fields)])) {
    const [a, b] = [before.fields[slug] ?? '', after.fields[slug] ?? ''];
    if (a !== b) changes.push({ field: slug, before: a, after: b });
  }
  return changes;
}
