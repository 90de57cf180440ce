import { LONGEST_LIST, namesIn, type Target } from './targets';
import { numberPieces } from '../phone/number-list';
import { readPhone, type LineKind } from '../phone/read';
import { fold } from '../text/fold';
import { oneLine } from '../text/tidy';
import { isZone } from '../zones';
import { bornOf } from './day';
import { saidAboutTexts } from './heading/texting-heading';
import { storedValue, type FieldTypes } from './person-fields';
import type { Prepared, PreparedDependant, PrepareRules } from './prepare';

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
    lists: [],
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

const CONTROL_BUT_BREAKS = /[\u0000-\u0009\u000b-\u001f\u007f\u202a-\u202e\u2066-\u2069\ufeff]/g;

type Named = Pick<PreparedDependant, 'given_name' | 'family_name'>;

/** What the cells of one row have said so far; what cannot be read as what its column is stands under `blanks`. */
export class RowCells {
  readonly person = nobody();
  readonly second = nobody();
  readonly dependant: PreparedDependant = { given_name: '', family_name: '', reference: null, born: null, fields: {} };
  readonly blanks: string[] = [];
  ready = '';
  phone = '';
  secondPhone = '';
  callingCode = '';
  kind: LineKind | undefined;

  constructor(private readonly rules: PrepareRules) {}

  /** Takes a cell for what its column is matched with. */
  take(target: Target, content: string): void {
    if (target === 'skip') return;
    const whole = content.trim();
    // what is cut is marked: a number with something far behind it is no number
    const cell = whole.length > LONGEST_CELL ? `${whole.slice(0, LONGEST_CELL - 1)}…` : whole;
    if (cell === '') return;
    const [of, part] = target.startsWith('dependant:')
      ? (['dependant', target.slice('dependant:'.length)] as const)
      : target.startsWith('second:')
        ? (['second', target.slice('second:'.length)] as const)
        : (['person', target] as const);
    if (part === 'given_name' || part === 'family_name' || part === 'full_name') this.name(this[of], part, cell);
    else if (of === 'dependant') this.ofDependant(part, cell);
    else if (of === 'second') this.secondPhone = cell;
    else this.ofPerson(part, cell);
  }

  /** Numbers beside the one that is texted: each as it is dialed where it can be read, else as it stands. */
  private numbers(cell: string): string {
    const pieces = numberPieces(cell).map((piece) => {
      const read = readPhone(piece, { country: this.rules.country });
      return read.ok ? read.number : oneLine(piece);
    });
    const before = this.person.fields.second_phone?.split(', ') ?? [];
    return [...new Set([...before, ...pieces])].join(', ').slice(0, 200);
  }

  private ofPerson(part: string, cell: string): void {
    const { person } = this;
    switch (part) {
      case 'number':
        this.phone = cell;
        break;
      case 'second_phone':
        person.fields.second_phone = this.numbers(cell);
        break;
      case 'calling_code':
        this.callingCode = cell;
        break;
      case 'kind':
        this.kind = this.unless(KINDS[fold(cell)], 'kind of line', cell) ?? undefined;
        break;
      case 'reference':
        person.reference = this.reference(cell, 'own reference');
        break;
      case 'language':
        person.language = this.unless(languageOf(cell), 'language', cell);
        break;
      case 'zone':
        person.zone = this.unless(isZone(cell) ? cell : undefined, 'time zone', cell);
        break;
      case 'born':
        person.born = this.birth(cell, 'born');
        break;
      case 'consent':
      case 'refusal': {
        const said = saidAboutTexts(cell, part === 'consent' ? 'grants' : 'refuses');
        if (said === undefined) this.unless(undefined, 'consent', cell);
        // of several columns the strictest word counts
        else if (said !== null && person.consent !== 'withdrawn') person.consent = said;
        break;
      }
      case 'tags':
        this.several(person.tags, cell, 60, 'tag');
        break;
      case 'lists':
        this.several(person.lists, cell, LONGEST_LIST, 'list');
        break;
      case 'ready_text':
        this.ready = cell.replace(/\r\n?/g, '\n').replace(CONTROL_BUT_BREAKS, ' ').toWellFormed().slice(0, 1600);
        break;
      default:
        this.value(this.rules.types, part.slice('field:'.length), cell, person.fields);
    }
  }

  /** Names in one cell, each once, between commas, semicolons or bars. */
  private several(into: string[], cell: string, most: number, what: string): void {
    for (const name of namesIn(cell)) {
      const tidied = this.words(name, most, what);
      if (tidied !== '' && !into.includes(tidied)) into.push(tidied);
    }
  }

  private ofDependant(part: string, cell: string): void {
    const { dependant } = this;
    if (part === 'reference') dependant.reference = this.reference(cell, 'dependant’s reference');
    else if (part === 'born') dependant.born = this.birth(cell, 'dependant’s birth date');
    else this.value(this.rules.dependantTypes, part.slice('field:'.length), cell, dependant.fields);
  }

  private words(cell: string, most: number, what: string): string {
    const tidied = oneLine(cell);
    if (tidied.length > most) this.blanks.push(`${what} is longer than ${most} characters and was cut: ${tidied.slice(0, 40)}…`);
    return tidied.slice(0, most).trimEnd();
  }

  /** A spreadsheet gives a reference that it took for a number its `.0`. */
  private reference(cell: string, what: string): string {
    return this.words(cell, 100, what).replace(/\.0$/, '');
  }

  private unless<T>(value: T | null | undefined, what: string, cell: string): T | null {
    if (value === null || value === undefined) this.blanks.push(`${what}: ${oneLine(cell).slice(0, 60)}`);
    return value ?? null;
  }

  private birth(cell: string, what: string): string | null {
    const { dayFirst, today, bornCentury } = this.rules;
    const born = bornOf(cell, dayFirst, today ?? '9999-12-31', bornCentury);
    return born === 'two' ? this.unless<string>(null, `${what}, ${TWO_CENTURIES}`, cell) : this.unless(born, what, cell);
  }

  private value(types: FieldTypes, slug: string, cell: string, into: Record<string, string>): void {
    const type = types.get(slug) ?? 'text';
    const said = type === 'text' || type === 'choice' ? this.words(cell, 500, slug) : cell;
    const kept = this.unless(storedValue(type, said, this.rules.dayFirst), slug.replaceAll('_', ' '), cell);
    if (kept !== null) into[slug] = kept;
  }

  private name(of: Named, part: 'given_name' | 'family_name' | 'full_name', cell: string): void {
    if (part === 'full_name') {
      const [given, family] = splitName(cell);
      if (of.given_name === '') of.given_name = this.words(given, 100, 'given name');
      if (of.family_name === '') of.family_name = this.words(family, 100, 'family name');
    } else of[part] = this.words(cell, 100, part.replace('_', ' '));
  }
}
