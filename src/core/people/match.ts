import { readPhone } from '../phone/read';
import { findDamage } from '../phone/repair';
import { fold } from './fold';
import { slugOf, TARGET_WORDS, type NamedTarget, type Target } from './targets';

/** Headings people really write, folded; English, French and Spanish. Those about dependants and second contacts first. */
const CHILD = '(child|junior|student|pupil|sailor|rower|dependant|dependent|boat|enfant|eleve|hijo|alumno)';
const SECOND = '(second|2nd|other|autre|segundo)( parent| contact| guardian)?|(parent|contact|guardian|tutor) ?(2|b)';
const HEADINGS: [Target, RegExp][] = [
  ['dependant:given_name', new RegExp(`^${CHILD}('?s)? (first|given)( name)?$|^prenom (de l'?)?enfant$`)],
  ['dependant:family_name', new RegExp(`^${CHILD}('?s)? (last|family|sur)( ?name)?$`)],
  ['dependant:reference', new RegExp(`^${CHILD}('?s)? (id|ref|reference|number|no)\\.?$`)],
  ['dependant:born', new RegExp(`^${CHILD}('?s)? (born|birthday|birth ?date|date of birth|dob)$`)],
  ['dependant:full_name', new RegExp(`^${CHILD}('?s)?( full)?( name)?$`)],
  ['second:number', new RegExp(`^(${SECOND})('?s)? ?(mobile|cell|phone|tel|number|portable|movil)`)],
  ['second:given_name', new RegExp(`^(${SECOND})('?s)? (first|given)( name)?$`)],
  ['second:family_name', new RegExp(`^(${SECOND})('?s)? (last|family|sur)( ?name)?$`)],
  ['second:full_name', new RegExp(`^(${SECOND})('?s)?( full)?( name)?$`)],
  ['calling_code', /^(country code|calling code|dial(ing)? code|prefix|indicatif|prefijo)$/],
  ['kind', /^(line type|kind of line|type of line|phone type|type de ligne)$/],
  ['ready_text', /^(text|message|sms text|ready-made text|texte|mensaje)$/],
  ['number', /(mobile|cell|phone|tel(ephone)?\b|portable|movil|text number|sms|number to text)/],
  [
    'given_name',
    /^((parent|contact|guardian)('?s)? ?(1|a)? )?(first|first name|given|given name|forename|prenom|nombre|name first)$/,
  ],
  [
    'family_name',
    /^((parent|contact|guardian)('?s)? ?(1|a)? )?(last|last name|surname|family|family name|nom|nom de famille|apellido|apellidos)$/,
  ],
  ['full_name', /^(name|full name|contact|person|(parent|guardian)( ?(1|a))?|nom complet|nombre completo)$/],
  [
    'reference',
    /^(id|ref|reference|own reference|member (no|number|id)|pass (no|number)|account|customer (no|id|number)|no)\.?$/,
  ],
  ['language', /^(lang|language|langue|idioma)\.?$/],
  ['zone', /^(tz|time ?zone|zone|fuseau)$/],
  ['born', /^(born|birthday|birth ?date|date of birth|dob|date de naissance|fecha de nacimiento)$/],
  ['consent', /(consent|ok to text|opt ?in|may text|permission|accord)/],
  ['tags', /^(tag|tags|labels?|categories|etiquettes?|groups?)$/],
];
const BY_WORDS = new Map(
  (Object.entries(TARGET_WORDS) as [NamedTarget, string][])
    .filter(([target]) => target !== 'skip')
    .map(([target, words]) => [fold(words).replaceAll('’', "'"), target]),
);
/** The reason column of a rejects file is ours, and means nothing to a new import. */
export const REASON_HEADING = 'why it did not come in';

/** True when a cell looks like a phone number, whole or damaged. */
export function looksLikePhone(cell: string, country: string): boolean {
  if (cell.replace(/\D/g, '').length < 6) return false;
  const damage = findDamage(cell);
  if (damage) return damage.kind !== 'date';
  return readPhone(cell, { country }).ok;
}

/** Custom fields by slug, with what they are about. */
export interface KnownFields {
  person: ReadonlySet<string>;
  dependant: ReadonlySet<string>;
}

/**
 * A first match, to be looked at by a person: by heading, and for the number by what the cells hold.
 * `sample` is the first rows under the headings. Fields already known by slug are matched to themselves;
 * anything else is not brought in until someone says so.
 */
export function guessMatch(
  headings: readonly string[],
  sample: readonly (readonly string[])[],
  known: KnownFields,
  country: string,
): Target[] {
  const taken = new Set<Target>();
  const match = headings.map((heading): Target => {
    const folded = fold(heading)
      .replaceAll('’', "'")
      .replace(/[:?*]+$/, '')
      .trim();
    if (folded === REASON_HEADING) return 'skip';
    const exact = BY_WORDS.get(folded);
    const found =
      exact && !taken.has(exact) ? exact : HEADINGS.find(([target, pattern]) => !taken.has(target) && pattern.test(folded))?.[0];
    const slug = slugOf(heading);
    // a field of ours with this very name is meant before a heading that only resembles a built-in one
    const field: Target | undefined = known.person.has(slug)
      ? `field:${slug}`
      : known.dependant.has(slug)
        ? `dependant:field:${slug}`
        : undefined;
    const target = exact && found ? found : (field ?? found ?? 'skip');
    if (target !== 'tags') taken.add(target);
    return target;
  });
  const share = (column: number) => {
    const cells = sample.map((row) => row[column] ?? '').filter((cell) => cell.trim() !== '');
    return cells.length === 0 ? 0 : cells.filter((cell) => looksLikePhone(cell, country)).length / cells.length;
  };
  const named = match.indexOf('number');
  if (named < 0 || share(named) < 0.3) {
    let best = -1;
    for (let column = 0; column < headings.length; column += 1)
      if (match[column] !== 'second:number' && share(column) > 0.5 && (best < 0 || share(column) > share(best))) best = column;
    if (best >= 0) {
      if (named >= 0) match[named] = 'skip';
      match[best] = 'number';
    }
  }
  return match;
}

/**
 * Where the headings are: the first row that has words and no phone number, among the first ten; -1 when the file
 * starts with people at once.
 */
export function guessHeadingRow(rows: readonly (readonly string[])[], country: string): number {
  for (let at = 0; at < Math.min(10, rows.length); at += 1) {
    const filled = rows[at].filter((cell) => cell.trim() !== '');
    if (filled.some((cell) => looksLikePhone(cell, country))) return -1;
    const wide =
      filled.length >=
      Math.min(2, Math.max(...rows.slice(at, at + 5).map((row) => row.filter((cell) => cell.trim() !== '').length)));
    if (filled.length > 0 && wide && filled.every((cell) => cell.length < 60)) return at;
  }
  return -1;
}
