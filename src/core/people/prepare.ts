import { isZone } from '../zones';
import { PHONE_PROBLEM_WORDS, readPhone, type LineKind } from '../phone/read';
import { findDamage, REPAIR_WORDS, type FixKind } from '../phone/repair';
import { guessZone } from '../phone/zone-guess';
import { bornOf } from './day';
import { fold } from '../text/fold';
import { oneLine } from '../text/tidy';
import { countryOf } from './heading/country-code';
import { saidAboutTexts, saysStopped } from './heading/texting-heading';
import { storedValue, type FieldTypes } from './person-fields';
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

export interface PrepareRules {
  match: readonly Target[];
  /** ISO 3166 country of local numbers. */
  country: string;
  /** Kinds of fixes that are applied; the safe ones unless undone, the others when the person said so. */
  fixes: ReadonlySet<FixKind>;
  /** Of two numbers in a cell, the one to text; the others are kept as "second phone". */
  twoNumbers: 'first' | 'last';
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

/** What a cell can hold; the rest is cut off before anything looks at it. A ready-made text has 1,600 of them. */
const LONGEST_CELL = 2000;

/** What is said of a birth year of two digits that fits both centuries. */
export const TWO_CENTURIES = '19.. or 20..';

const LANGUAGES: Record<string, string> = {
  english: 'en',
  anglais: 'en',
  ingles: 'en',
  french: 'fr',
  francais: 'fr',
  frances: 'fr',
  spanish: 'es',
  espagnol: 'es',
  espanol: 'es',
  castellano: 'es',
};
const KINDS: Record<string, LineKind> = {
  mobile: 'mobile',
  cell: 'mobile',
  cellular: 'mobile',
  wireless: 'mobile',
  portable: 'mobile',
  movil: 'mobile',
  fixed: 'fixed',
  'fixed line': 'fixed',
  landline: 'fixed',
  fixe: 'fixed',
  fijo: 'fixed',
};

/** A language as people write it, as its two letters; null when it is none we know. */
export function languageOf(cell: string): string | null {
  const folded = fold(cell);
  const named = LANGUAGES[folded];
  if (named) return named;
  return /^[a-z]{2}(-[a-z]{2})?$/.test(folded) ? folded.slice(0, 2) : null;
}

function nobody(): Prepared {
  return {
    given_name: '',
    family_name: '',
    reference: null,
    number: null,
    number_country: null,
    number_kind: null,
    kind_source: null,
    language: null,
    zone: null,
    zone_guessed: false,
    born: null,
    quiet: null,
    fields: {},
    tags: [],
    consent: null,
  };
}

function splitName(cell: string): [given: string, family: string] {
  if (cell.includes(',')) {
    const [family, given = ''] = cell.split(',', 2);
    return [given.trim(), family];
  }
  const words = cell.split(/\s+/);
  return [words[0], words.slice(1).join(' ')];
}

/** One row of cells to a person, or the reason why it does not come in. Nothing is guessed that the cells do not say. */
export function prepareRow(cells: readonly string[], rules: PrepareRules): RowRead {
  const person = nobody();
  const second = nobody();
  const dependant: PreparedDependant = { given_name: '', family_name: '', reference: null, born: null, fields: {} };
  const blanks: string[] = [];
  const row: PreparedRow = { person, ready: '' };
  let phone = '';
  let secondPhone = '';
  let callingCode = '';
  let kind: LineKind | undefined;
  const words = (cell: string, most: number, what: string) => {
    const tidied = oneLine(cell);
    if (tidied.length > most) blanks.push(`${what} is longer than ${most} characters and was cut: ${tidied.slice(0, 40)}…`);
    return tidied.slice(0, most).trimEnd();
  };
  const unless = <T>(value: T | null | undefined, what: string, cell: string): T | null => {
    if (value === null || value === undefined) blanks.push(`${what}: ${oneLine(cell).slice(0, 60)}`);
    return value ?? null;
  };
  const birth = (cell: string, what: string): string | null => {
    const born = bornOf(cell, rules.dayFirst, rules.today ?? '9999-12-31', rules.bornCentury);
    return born === 'two' ? unless<string>(null, `${what}, ${TWO_CENTURIES}`, cell) : unless(born, what, cell);
  };
  const value = (types: FieldTypes, slug: string, cell: string, into: Record<string, string>) => {
    const type = types.get(slug) ?? 'text';
    const stored = storedValue(type, type === 'text' || type === 'choice' ? words(cell, 500, slug) : cell, rules.dayFirst);
    const kept = unless(stored, slug.replaceAll('_', ' '), cell);
    if (kept !== null) into[slug] = kept;
  };
  const name = (of: { given_name: string; family_name: string }, part: string, cell: string) => {
    if (part === 'full_name') {
      const [given, family] = splitName(cell);
      if (of.given_name === '') of.given_name = words(given, 100, 'given name');
      if (of.family_name === '') of.family_name = words(family, 100, 'family name');
    } else if (part === 'given_name' || part === 'family_name') of[part] = words(cell, 100, part.replace('_', ' '));
  };
  for (const [column, target] of rules.match.entries()) {
    if (target === 'skip') continue;
    const whole = (cells[column] ?? '').trim();
    // what is cut is marked: a number with something far behind it is no number
    const cell = whole.length > LONGEST_CELL ? `${whole.slice(0, LONGEST_CELL - 1)}…` : whole;
    if (cell === '') continue;
    switch (target) {
      case 'number':
        phone = cell;
        break;
      case 'calling_code':
        callingCode = cell;
        break;
      case 'kind':
        kind = unless(KINDS[fold(cell)], 'kind of line', cell) ?? undefined;
        break;
      case 'given_name':
      case 'family_name':
      case 'full_name':
        name(person, target, cell);
        break;
      case 'reference':
        person.reference = words(cell, 100, 'own reference').replace(/\.0$/, '');
        break;
      case 'language':
        person.language = unless(languageOf(cell), 'language', cell);
        break;
      case 'zone':
        person.zone = unless(isZone(cell) ? cell : undefined, 'time zone', cell);
        break;
      case 'born':
        person.born = birth(cell, 'born');
        break;
      case 'consent':
      case 'refusal': {
        const said = saidAboutTexts(cell, target === 'consent' ? 'grants' : 'refuses');
        if (said === undefined) unless(undefined, 'consent', cell);
        // of several columns the strictest word counts
        else if (said !== null && person.consent !== 'withdrawn') person.consent = said;
        break;
      }
      case 'tags':
        for (const tag of cell.split(/[,;|]/)) {
          const tidied = words(tag, 60, 'tag');
          if (tidied !== '' && !person.tags.includes(tidied)) person.tags.push(tidied);
        }
        break;
      case 'ready_text':
        row.ready = cell.replace(/\r\n?/g, '\n').replace(CONTROL_BUT_BREAKS, ' ').toWellFormed().slice(0, 1600);
        break;
      case 'second:number':
        secondPhone = cell;
        break;
      case 'dependant:reference':
        dependant.reference = words(cell, 100, 'dependant’s reference').replace(/\.0$/, '');
        break;
      case 'dependant:born':
        dependant.born = birth(cell, 'dependant’s birth date');
        break;
      case 'dependant:given_name':
      case 'dependant:family_name':
      case 'dependant:full_name':
        name(dependant, target.slice('dependant:'.length), cell);
        break;
      case 'second:given_name':
      case 'second:family_name':
      case 'second:full_name':
        name(second, target.slice('second:'.length), cell);
        break;
      default:
        if (target.startsWith('dependant:field:'))
          value(rules.dependantTypes, target.slice('dependant:field:'.length), cell, dependant.fields);
        else value(rules.types, target.slice('field:'.length), cell, person.fields);
    }
  }
  if (rules.stopColumns?.some((column) => saysStopped((cells[column] ?? '').trim()))) person.consent = 'withdrawn';
  if (isNamed(dependant) || dependant.reference !== null) row.dependant = dependant;
  if (secondPhone !== '') {
    // a second contact's number is mended only where nothing is lost; else it stays empty, and that is said
    const damage = findDamage(secondPhone);
    const whole = damage === undefined ? secondPhone : 'value' in damage && damage.safe ? damage.value : undefined;
    const read = whole === undefined ? undefined : readPhone(whole, { country: rules.country });
    if (read?.ok) placeNumber(second, read);
    else blanks.push(`second contact’s number: ${secondPhone.slice(0, 40)}`);
  }
  if (isNamed(second) || second.number !== null) row.second = second;
  if (phone === '') {
    if (!isNamed(person)) return { ok: false, reason: 'no number and no name', blanks };
    return { ok: true, row, blanks };
  }
  const beside = callingCode === '' ? {} : countryOf(callingCode);
  if (!beside) {
    // without its country the number could be somebody else's; a complete one does not need it
    const complete = /^\s*(\+|00)/.test(phone) && readPhone(phone).ok;
    if (!complete) return { ok: false, reason: `country code “${oneLine(callingCode).slice(0, 20)}” is none we know`, blanks };
    blanks.push(`country code: ${oneLine(callingCode).slice(0, 20)}`);
  }
  const options = { country: rules.country, ...beside };
  const mended = mend(phone, options, rules);
  const said = person.consent === null ? undefined : { word: person.consent, numbers: numbersIn(phone, options) };
  if (!mended.ok) return { ...mended, blanks, said };
  placeNumber(person, mended.read);
  if (kind !== undefined && mended.read.kind !== kind) {
    // the plan of the country knows better, but for North America it does not tell
    if (mended.read.kind === 'either') {
      person.number_kind = kind;
      person.kind_source = 'file';
    } else blanks.push(`kind of line: the number is ${mended.read.kind}`);
  }
  if (mended.others.length > 0) person.fields.second_phone = mended.others.join(', ');
  return { ok: true, row, fix: mended.fix, blanks, said };
}

/** Every number that can be read in a cell, also of several and of damaged ones. */
function numbersIn(phone: string, options: { country: string; callingCode?: string }): string[] {
  const damage = findDamage(phone);
  const others = damage?.kind === 'two_numbers' ? damage.others : [];
  const all = damage === undefined ? [phone] : 'value' in damage ? [damage.value, ...others] : [];
  return all.flatMap((each) => {
    const read = readPhone(each, options);
    return read.ok ? [read.number] : (findLost(each, options.country)?.read.number ?? []);
  });
}

function isNamed(of: { given_name: string; family_name: string }): boolean {
  return of.given_name !== '' || of.family_name !== '';
}

function placeNumber(person: Prepared, read: { number: string; country: string; kind: LineKind }): void {
  person.number = read.number;
  person.number_country = read.country;
  person.number_kind = read.kind;
  if (person.zone === null) {
    person.zone = guessZone(read.number) ?? null;
    person.zone_guessed = person.zone !== null;
  }
}

type Mended =
  | {
      ok: true;
      read: { number: string; country: string; kind: LineKind };
      fix?: { kind: FixKind; before: string; after: string };
      others: string[];
    }
  | { ok: false; reason: string; fix?: { kind: FixKind; before: string; after: string | null } };

function mend(phone: string, options: { country: string; callingCode?: string }, rules: PrepareRules): Mended {
  const damage = findDamage(phone);
  if (!damage) {
    const read = readPhone(phone, options);
    if (read.ok) return { ok: true, read, others: [] };
    const lost = findLost(phone, options.country);
    if (!lost) return { ok: false, reason: PHONE_PROBLEM_WORDS[read.problem] };
    return apply(lost.kind, phone, lost.read, [], rules);
  }
  if (!('value' in damage))
    return { ok: false, reason: REPAIR_WORDS[damage.kind], fix: { kind: damage.kind, before: phone, after: null } };
  const numbers = damage.kind === 'two_numbers' ? [damage.value, ...damage.others] : [damage.value];
  const chosen = rules.twoNumbers === 'last' ? numbers[numbers.length - 1] : numbers[0];
  const read = readPhone(chosen, options);
  if (!read.ok)
    return { ok: false, reason: PHONE_PROBLEM_WORDS[read.problem], fix: { kind: damage.kind, before: phone, after: null } };
  return apply(
    damage.kind,
    phone,
    read,
    numbers.filter((each) => each !== chosen),
    rules,
  );
}

function apply(
  kind: FixKind,
  before: string,
  read: { number: string; country: string; kind: LineKind },
  others: string[],
  rules: PrepareRules,
): Mended {
  const fix = { kind, before, after: read.number };
  if (!rules.fixes.has(kind)) return { ok: false, reason: `waits for your fix: ${REPAIR_WORDS[kind]}`, fix };
  return { ok: true, read, fix, others };
}

/** A number that reads once a plus or a leading zero is put back, when only one of the two does. */
function findLost(
  phone: string,
  country: string,
): { kind: 'lost_plus' | 'lost_zero'; read: { number: string; country: string; kind: LineKind } } | undefined {
  const digits = phone.replace(/\D/g, '');
  // what begins with a zero has lost neither a plus nor a zero
  if (!/^[\d\s().-]+$/.test(phone) || digits.length < 6 || digits.startsWith('0')) return undefined;
  const plus = digits.length >= 10 ? readPhone(`+${digits}`) : undefined;
  const zero = readPhone(`0${digits}`, { country });
  if (plus?.ok && !zero.ok) return { kind: 'lost_plus', read: plus };
  if (zero.ok && !plus?.ok) return { kind: 'lost_zero', read: zero };
  return undefined;
}

const CONTROL_BUT_BREAKS = /[\u0000-\u0009\u000b-\u001f\u007f\u202a-\u202e\u2066-\u2069\ufeff]/g;

/** The safe kinds, applied at once and undoable. */
export const SAFE_FIXES: readonly FixKind[] = ['scientific', 'trailing_zero'];
/** Kinds that a person must say yes to. */
export const OFFERED_FIXES: readonly FixKind[] = ['two_numbers', 'letters', 'extension', 'footnote', 'lost_plus', 'lost_zero'];
