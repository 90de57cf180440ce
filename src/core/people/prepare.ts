import { PHONE_PROBLEM_WORDS, readPhone } from '../phone/read';
import { findDamage, REPAIR_WORDS, type Damage } from '../phone/repair';
import { guessZone } from '../phone/zone-guess';
import { isZone } from '../plan/zones';
import { fold } from './fold';
import type { Target } from './targets';

/** A person as they will be stored. */
export interface Prepared {
  given_name: string;
  family_name: string;
  reference: string | null;
  number: string | null;
  number_country: string | null;
  number_kind: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  fields: Record<string, string>;
  tags: string[];
  /** What the file's consent cell says, for the purpose chosen on the bench. */
  consent: 'granted' | 'withdrawn' | null;
}

export type FixKind = Damage['kind'];

export type RowRead =
  | { ok: true; person: Prepared; fix?: { kind: FixKind; before: string; after: string } }
  | { ok: false; reason: string; fix?: { kind: FixKind; before: string; after: string | null } };

export interface PrepareRules {
  match: readonly Target[];
  /** ISO 3166 country of local numbers. */
  country: string;
  /** Kinds of fixes that are applied; the safe ones unless undone, the others when the person said so. */
  fixes: ReadonlySet<FixKind>;
  languages: readonly string[];
}

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
};
const YES = new Set(['yes', 'y', 'true', '1', 'ok', 'x', 'oui', 'si', 'granted', 'opted in']);
const NO = new Set(['no', 'n', 'false', '0', 'non', 'withdrawn', 'opted out', 'stop', 'never']);

function languageOf(cell: string): string | null {
  const folded = fold(cell);
  const named = LANGUAGES[folded];
  if (named) return named;
  return /^[a-z]{2}(-[a-z]{2})?$/.test(folded) ? folded.slice(0, 2) : null;
}

/** One row of cells to a person, or the reason why it does not come in. Nothing is guessed that the cells do not say. */
export function prepareRow(cells: readonly string[], rules: PrepareRules): RowRead {
  const person: Prepared = {
    given_name: '',
    family_name: '',
    reference: null,
    number: null,
    number_country: null,
    number_kind: null,
    language: null,
    zone: null,
    zone_guessed: false,
    fields: {},
    tags: [],
    consent: null,
  };
  let phone = '';
  let callingCode = '';
  rules.match.forEach((target, column) => {
    const cell = (cells[column] ?? '').trim();
    if (cell === '') return;
    switch (target) {
      case 'skip':
        return;
      case 'number':
        phone = cell;
        return;
      case 'calling_code':
        callingCode = cell;
        return;
      case 'given_name':
      case 'family_name':
        person[target] = tidy(cell, 100);
        return;
      case 'full_name': {
        const [family, given] = cell.includes(',')
          ? cell.split(/,\s*/, 2)
          : [cell.split(/\s+/).slice(1).join(' '), cell.split(/\s+/)[0]];
        if (person.given_name === '') person.given_name = tidy(given, 100);
        if (person.family_name === '') person.family_name = tidy(family, 100);
        return;
      }
      case 'reference':
        person.reference = tidy(cell, 100).replace(/\.0$/, '');
        return;
      case 'language':
        person.language = languageOf(cell);
        return;
      case 'zone':
        if (isZone(cell)) person.zone = cell;
        return;
      case 'consent': {
        const folded = fold(cell);
        person.consent = YES.has(folded) ? 'granted' : NO.has(folded) ? 'withdrawn' : null;
        return;
      }
      case 'tags':
        person.tags = [...new Set(cell.split(/\s*[,;|]\s*/).filter((tag) => tag !== ''))].map((tag) => tidy(tag, 60));
        return;
      default:
        person.fields[target.slice('field:'.length)] = tidy(cell, 500);
    }
  });
  const named = person.given_name !== '' || person.family_name !== '';
  if (phone === '') {
    if (!named) return { ok: false, reason: 'no number and no name' };
    return { ok: true, person };
  }
  const damage = findDamage(phone);
  let fix: { kind: FixKind; before: string; after: string } | undefined;
  let text = phone;
  if (damage) {
    const read = 'value' in damage ? readPhone(damage.value, { country: rules.country, callingCode }) : undefined;
    const after = read?.ok ? read.number : null;
    if (!('value' in damage) || after === null)
      return {
        ok: false,
        reason: 'value' in damage ? unreadable(damage.value, rules, callingCode) : REPAIR_WORDS[damage.kind],
        fix: { kind: damage.kind, before: phone, after },
      };
    if (!rules.fixes.has(damage.kind))
      return {
        ok: false,
        reason: `waits for your fix: ${REPAIR_WORDS[damage.kind]}`,
        fix: { kind: damage.kind, before: phone, after },
      };
    text = damage.value;
    fix = { kind: damage.kind, before: phone, after };
    if (damage.kind === 'two_numbers') person.fields.second_phone = damage.others.join(', ');
  }
  const read = readPhone(text, { country: rules.country, callingCode });
  if (!read.ok) return { ok: false, reason: PHONE_PROBLEM_WORDS[read.problem] };
  person.number = read.number;
  person.number_country = read.country;
  person.number_kind = read.kind;
  if (person.zone === null) {
    person.zone = guessZone(read.number, read.country) ?? null;
    person.zone_guessed = person.zone !== null;
  }
  return { ok: true, person, fix };
}

function unreadable(value: string, rules: PrepareRules, callingCode: string): string {
  const read = readPhone(value, { country: rules.country, callingCode });
  return read.ok ? '' : PHONE_PROBLEM_WORDS[read.problem];
}

/** One line of words: control and bidi characters out, runs of white space to one space, cut to a sane length. */
function tidy(text: string, most: number): string {
  return text
    .replace(/[\u0000-\u001f\u007f\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, most);
}

/** The safe kinds, applied at once and undoable. */
export const SAFE_FIXES: readonly FixKind[] = ['scientific', 'trailing_zero'];
/** Kinds that a person must say yes to. */
export const OFFERED_FIXES: readonly FixKind[] = ['two_numbers', 'letters', 'extension'];
