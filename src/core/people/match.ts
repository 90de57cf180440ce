import { readPhone } from '../phone/read';
import { findDamage, LONGEST_PHONE_CELL } from '../phone/repair';
import { fold } from '../text/fold';
import { choosePhone, phoneHeading, type PhoneColumn } from './heading/phone-heading';
import { isRunningNumber, saysReference } from './heading/reference-heading';
import { saidAboutTexts, saysStopped, textingHeading } from './heading/texting-heading';
import { yesOrNo } from './person-fields';
import { slugOf, TARGET_WORDS, type NamedTarget, type Target } from './targets';

/** Headings people really write, folded; English, French and Spanish. Those about dependants and second contacts first. */
const CHILD = '(child|junior|student|pupil|sailor|rower|dependant|dependent|boat|enfant|eleve|hijo|alumno)';
const SECOND = '(second|2nd|other|autre|segundo)( parent| contact| guardian)?|(parent|contact|guardian|tutor) ?(2|b)';
const HEADINGS: [Target, RegExp][] = [
  // of the person themselves: where it is somebody else's, the heading says whose
  ['second_phone', /^(other|additional|further) (phone |mobile )?numbers?$|^(other|additional|further) (phones|mobiles)$/],
  ['dependant:given_name', new RegExp(`^${CHILD}('?s)? (first|given)( name)?$|^prenom (de l'?)?enfant$`)],
  ['dependant:family_name', new RegExp(`^${CHILD}('?s)? (last|family|sur)( ?name)?$`)],
  ['dependant:reference', new RegExp(`^${CHILD}('?s)? (id|ref|reference|number|no)\\.?$`)],
  ['dependant:born', new RegExp(`^${CHILD}('?s)? (born|birthday|birth ?date|date of birth|dob)$`)],
  ['dependant:full_name', new RegExp(`^${CHILD}('?s)?( full)?( name)?$`)],
  ['second:number', new RegExp(`^(${SECOND})('?s)? ?(mobile|cell|phone|tel|number|portable|movil)`)],
  ['second:given_name', new RegExp(`^(${SECOND})('?s)? (first|given)( name)?$`)],
  ['second:family_name', new RegExp(`^(${SECOND})('?s)? (last|family|sur)( ?name)?$`)],
  ['second:full_name', new RegExp(`^(${SECOND})('?s)?( full)?( name)?$`)],
  [
    'calling_code',
    /^((phone |mobile |tel(ephone)? )?(country ?code|country prefix)|calling code|(international )?dial(l?ing)? code|int(ernational|l)? (code|prefix)|phone country|country of (the )?(number|phone)|prefix|indicatif( pays)?|code pays|prefijo( internacional)?|codigo (de )?pais)$/,
  ],
  ['kind', /^(line type|kind of line|type of line|phone type|type de ligne)$/],
  ['ready_text', /^(text|message|sms text|ready-made text|texte|mensaje)$/],
  [
    'given_name',
    /^((parent|contact|guardian)('?s)? ?(1|a)? )?(first|first name|given|given name|forename|prenom|nombre|name first)$/,
  ],
  [
    'family_name',
    /^((parent|contact|guardian)('?s)? ?(1|a)? )?(last|last name|surname|family|family name|nom|nom de famille|apellido|apellidos)$/,
  ],
  ['full_name', /^(name|full name|contact|person|(parent|guardian)( ?(1|a))?|nom complet|nombre completo)$/],
  ['language', /^(lang|language|langue|idioma)\.?$/],
  ['zone', /^(tz|time ?zone|zone|fuseau)$/],
  ['born', /^(born|birthday|birth ?date|date of birth|dob|date de naissance|fecha de nacimiento)$/],
  ['tags', /^(tag|tags|labels?|categories|etiquettes?|groups?)$/],
  ['lists', /^(lists?|mailing lists?|listes?|listas?)$/],
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
  if (cell.length > LONGEST_PHONE_CELL || cell.replace(/\D/g, '').length < 6) return false;
  const damage = findDamage(cell);
  if (damage) return damage.kind !== 'date';
  return readPhone(cell, { country }).ok;
}

/** Custom fields by slug, with what they are about. */
export interface KnownFields {
  person: ReadonlySet<string>;
  dependant: ReadonlySet<string>;
}

/** Rows that are looked at for what a column holds. */
export type Sample = readonly (readonly string[])[];

const filledOf = (sample: Sample, column: number) => sample.map((row) => row[column] ?? '').filter((cell) => cell.trim() !== '');

/** The columns that hold numbers, by their cells or by a heading that says so and some cells that agree. */
export function phoneColumns(headings: readonly string[], sample: Sample, country: string): PhoneColumn[] {
  return headings.flatMap((heading, column): PhoneColumn[] => {
    const cells = filledOf(sample, column);
    const says = phoneHeading(heading);
    const numbers = cells.filter((cell) => looksLikePhone(cell, country));
    const share = cells.length === 0 ? 0 : numbers.length / cells.length;
    if (share <= 0.5 && (says === undefined || says === 'id' || (share < 0.3 && says !== 'mobile' && says !== 'phone')))
      return [];
    // running numbers and dates that happen to be long are not phones
    if (says === undefined && isRunningNumber(cells)) return [];
    const kinds = numbers.flatMap((cell) => {
      const read = readPhone(cell, { country });
      return read.ok ? [read.kind] : [];
    });
    const mobile = kinds.length === 0 ? 0 : kinds.filter((kind) => kind === 'mobile').length / kinds.length;
    return [{ column, heading, says, fill: sample.length === 0 ? 0 : cells.length / sample.length, share, mobile }];
  });
}

/** A column that is, or may be, about consent or stopping. */
export interface TextingQuestion {
  column: number;
  heading: string;
  /** What it is matched to already, or proposed as; `unclear` is asked. */
  says: 'grants' | 'refuses' | 'unclear';
}

/** Headings under which a yes or a no may be about being texted: by texts themselves, or by being taken off. Common practice. */
const MAY_BE_ABOUT =
  /^(?:(?:sms|texts?|texting|textos?|messages?|mensajes?)( ok| on)?|(?:was |is |been )?(?:removed|taken off|off|inactive|deleted|stopped|left)( from (?:the )?list| list)?|active)$/;

/**
 * Every column that speaks about consent or stopping, by its heading or by what stands in its cells: in the first rows, or further
 * down where the dry run has come upon a "stop" (`late`).
 */
export function textingColumns(
  headings: readonly string[],
  sample: Sample,
  late: readonly { column: number }[] = [],
): TextingQuestion[] {
  return headings.flatMap((heading, column): TextingQuestion[] => {
    const says = textingHeading(heading);
    const cells = filledOf(sample, column);
    // "Mobile (do not text)" with numbers in it is a column of numbers, and nobody's answer
    const digits = cells.filter((cell) => cell.replace(/\D/g, '').length >= 6).length;
    if (says && phoneHeading(heading) && digits > cells.length / 2) return [];
    if (says) return [{ column, heading, says }];
    const answers = cells.filter((cell) => yesOrNo(cell) !== undefined || saidAboutTexts(cell, 'grants')).length;
    if (MAY_BE_ABOUT.test(foldedHeading(heading)) && answers > cells.length / 2) return [{ column, heading, says: 'unclear' }];
    // a column of words among which someone "opted out" is about that, whatever its heading
    const stops = cells.some(saysStopped) && cells.every((cell) => cell.length < 60);
    return stops || late.some((each) => each.column === column) ? [{ column, heading, says: 'unclear' }] : [];
  });
}

/** What has been said of the columns of a file. */
interface AboutTexts {
  match: readonly string[];
  not_about_texts?: readonly number[];
  stop_columns?: readonly number[];
}

/** Columns about consent or stopping of which nobody has said what they mean: matched to neither, nor told to be about something else. */
export function openTextingColumns(
  headings: readonly string[],
  sample: Sample,
  settings: AboutTexts,
  late: readonly { column: number }[] = [],
): TextingQuestion[] {
  return textingColumns(headings, sample, late).filter(
    ({ column }) =>
      settings.match[column] !== 'consent' &&
      settings.match[column] !== 'refusal' &&
      !settings.not_about_texts?.includes(column) &&
      !settings.stop_columns?.includes(column),
  );
}

/**
 * A first match, to be looked at by a person: by heading, and for the number by what the cells hold.
 * `sample` is the first rows under the headings. Fields already known by slug are matched to themselves;
 * anything else is not brought in until someone says so. A guess that could reach a wrong person, or bring back someone who said
 * no, is not made: what is unclear is left out and asked about (`textingColumns`).
 */
export function guessMatch(headings: readonly string[], sample: Sample, known: KnownFields, country: string): Target[] {
  const taken = new Set<Target>();
  const texting = new Map(textingColumns(headings, sample).map((each) => [each.column, each.says]));
  const phones = phoneColumns(headings, sample, country);
  const { best } = choosePhone(phones.filter(({ column }) => !secondOf(headings[column])));
  const match = headings.map((heading, column): Target => {
    const folded = foldedHeading(heading);
    if (folded === REASON_HEADING) return 'skip';
    const exact = BY_WORDS.get(folded);
    const found = builtIn(folded, taken, { texting: texting.get(column), reference: filledOf(sample, column) });
    const slug = slugOf(heading);
    // a field of ours with this very name is meant before a heading that only resembles a built-in one
    const field: Target | undefined = known.person.has(slug)
      ? `field:${slug}`
      : known.dependant.has(slug)
        ? `dependant:field:${slug}`
        : undefined;
    let target: Target = exact && !taken.has(exact) ? exact : (field ?? found ?? 'skip');
    // one number to text, the best of all; the others are named on the bench
    if (best && column === best.column && !target.startsWith('field:')) target = 'number';
    else if (target === 'number' && best) target = 'skip';
    if (target !== 'tags' && target !== 'lists' && target !== 'skip' && target !== 'second_phone') taken.add(target);
    return target;
  });
  return match;
}

const foldedHeading = (heading: string) =>
  fold(heading.slice(0, 100))
    .replaceAll('’', "'")
    .replace(/[:?*]{1,9}$/, '')
    .trim();

const secondOf = (heading: string) =>
  HEADINGS.find(([, pattern]) => pattern.test(foldedHeading(heading)))?.[0] === 'second:number';

function builtIn(
  folded: string,
  taken: ReadonlySet<Target>,
  column: { texting: TextingQuestion['says'] | undefined; reference: readonly string[] },
): Target | undefined {
  // a second such column counts, too: of all of them the strictest word
  if (column.texting === 'refuses') return 'refusal';
  if (column.texting === 'grants') return 'consent';
  if (column.texting === 'unclear') return undefined;
  const found = HEADINGS.find(([target, pattern]) => !taken.has(target) && pattern.test(folded))?.[0];
  if (found) return found;
  return !taken.has('reference') && saysReference(folded) && !isRunningNumber(column.reference) ? 'reference' : undefined;
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
