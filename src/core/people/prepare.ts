import { readPhone, type LineKind } from '../phone/read';
import { findDamage, type FixKind } from '../phone/repair';
import { guessZone } from '../phone/zone-guess';
import { oneLine } from '../text/tidy';
import { countryOf } from './heading/country-code';
import { saysStopped } from './heading/texting-heading';
import { mend, numbersIn, type MendRules, type ReadNumber } from './mend-number';
import type { FieldTypes } from './person-fields';
import { RowCells } from './row-cells';
import type { Target } from './targets';

export type { FixKind } from '../phone/repair';

/** A person as they will be stored. */
export interface Prepared {
  given_name: string;
  family_name: string;
  reference: string | null;
  number: string | null;
  number_country: string | null;
  number_kind: string | null;
  kind_source: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  born: string | null;
  /** Do-not-disturb hours in their zone, `HH:MM-HH:MM`. */
  quiet: string | null;
  fields: Record<string, string>;
  tags: string[];
  /** Names of lists, as the file has them. */
  lists: string[];
  /** What the file's consent cell says, for the purpose chosen on the bench. */
  consent: 'granted' | 'withdrawn' | null;
}

/** A dependant that a row is about. */
export interface PreparedDependant {
  given_name: string;
  family_name: string;
  reference: string | null;
  born: string | null;
  fields: Record<string, string>;
}

export interface PreparedRow {
  person: Prepared;
  second?: Prepared;
  dependant?: PreparedDependant;
  /** The whole words of a text that the file brings ready-made. */
  ready: string;
}

interface Read {
  fix?: { kind: FixKind; before: string; after: string | null };
  /** Cells that could not be read as what their column is, as "what: cell"; they come in empty. */
  blanks: string[];
  /** What the row says about being texted, and for which numbers: also of a row that does not come in. */
  said?: { word: 'granted' | 'withdrawn'; numbers: string[] };
}
export type RowRead = ({ ok: true; row: PreparedRow } & Read) | ({ ok: false; reason: string } & Read);

export interface PrepareRules extends MendRules {
  match: readonly Target[];
  /** ISO 3166 country of local numbers. */
  country: string;
  /** `3/9/2027` is 3 September. */
  dayFirst: boolean;
  /** The day of the file, `YYYY-MM-DD`: nobody is born after it. */
  today?: string;
  /** Of a birth year of two digits that may be 19.. or 20..; undefined when nobody has said. */
  bornCentury?: '19' | '20';
  types: FieldTypes;
  dependantTypes: FieldTypes;
  /** Columns in which a cell that says stop is a no, and any other says nothing. */
  stopColumns?: readonly number[];
}

/** One row of cells to a person, or the reason why it does not come in. Nothing is guessed that the cells do not say. */
export function prepareRow(cells: readonly string[], rules: PrepareRules): RowRead {
  const read = new RowCells(rules);
  for (const [column, target] of rules.match.entries()) read.take(target, cells[column] ?? '');
  const { person, second, dependant, blanks } = read;
  const row: PreparedRow = { person, ready: read.ready };
  if (rules.stopColumns?.some((column) => saysStopped((cells[column] ?? '').trim()))) person.consent = 'withdrawn';
  if (isNamed(dependant) || dependant.reference !== null) row.dependant = dependant;
  placeSecond(read, rules);
  if (isNamed(second) || second.number !== null) row.second = second;
  if (read.phone === '') {
    if (!isNamed(person)) return { ok: false, reason: 'no number and no name', blanks };
    return { ok: true, row, blanks };
  }
  const beside = countryBeside(read);
  if (!beside) return { ok: false, reason: `country code “${oneLine(read.callingCode).slice(0, 20)}” is none we know`, blanks };
  const options = { country: rules.country, ...beside };
  const mended = mend(read.phone, options, rules);
  const said = person.consent === null ? undefined : { word: person.consent, numbers: numbersIn(read.phone, options) };
  if (!mended.ok) return { ...mended, blanks, said };
  placeNumber(person, mended.read);
  placeKind(read, mended.read.kind);
  if (mended.others.length > 0)
    person.fields.second_phone = [...mended.others, person.fields.second_phone ?? ''].filter(Boolean).join(', ');
  return { ok: true, row, fix: mended.fix, blanks, said };
}

/** A second contact's number is mended only where nothing is lost; else it stays empty, and that is said. */
function placeSecond({ secondPhone, second, blanks }: RowCells, rules: PrepareRules): void {
  if (secondPhone === '') return;
  const damage = findDamage(secondPhone);
  const whole = damage === undefined ? secondPhone : 'value' in damage && damage.safe ? damage.value : undefined;
  const read = whole === undefined ? undefined : readPhone(whole, { country: rules.country });
  if (read?.ok) placeNumber(second, read);
  else blanks.push(`second contact’s number: ${secondPhone.slice(0, 40)}`);
}

/** The country that a column of its own names; undefined when it names none we know and the number needs it. */
function countryBeside({ callingCode, phone, blanks }: RowCells): { country?: string; callingCode?: string } | undefined {
  const beside = callingCode === '' ? {} : countryOf(callingCode);
  if (beside) return beside;
  // without its country the number could be somebody else's; a complete one does not need it
  if (!/^\s*(\+|00)/.test(phone) || !readPhone(phone).ok) return undefined;
  blanks.push(`country code: ${oneLine(callingCode).slice(0, 20)}`);
  return {};
}

/** The plan of the country knows better what kind of line it is, but for North America it does not tell. */
function placeKind({ kind, person, blanks }: RowCells, known: LineKind): void {
  if (kind === undefined || known === kind) return;
  if (known === 'either') {
    person.number_kind = kind;
    person.kind_source = 'file';
  } else blanks.push(`kind of line: the number is ${known}`);
}

function isNamed(of: { given_name: string; family_name: string }): boolean {
  return of.given_name !== '' || of.family_name !== '';
}

function placeNumber(person: Prepared, read: ReadNumber): void {
  person.number = read.number;
  person.number_country = read.country;
  person.number_kind = read.kind;
  if (person.zone === null) {
    person.zone = guessZone(read.number) ?? null;
    person.zone_guessed = person.zone !== null;
  }
}
