import { fold } from '../text/fold';
import { RESERVED } from './person-fields';

/**
 * Which column feeds which field. `skip` brings nothing in; `field:slug` is a custom field. A row may also name a
 * dependant (a child, a boat, an account) and a second contact for them.
 */
export type Target =
  | 'skip'
  | 'number'
  | 'second_phone'
  | 'calling_code'
  | 'kind'
  | 'given_name'
  | 'family_name'
  | 'full_name'
  | 'reference'
  | 'language'
  | 'zone'
  | 'born'
  | 'consent'
  | 'refusal'
  | 'tags'
  | 'lists'
  | 'ready_text'
  | 'dependant:given_name'
  | 'dependant:family_name'
  | 'dependant:full_name'
  | 'dependant:reference'
  | 'dependant:born'
  | 'second:given_name'
  | 'second:family_name'
  | 'second:full_name'
  | 'second:number'
  | `field:${string}`
  | `dependant:field:${string}`;

export type NamedTarget = Exclude<Target, `field:${string}` | `dependant:field:${string}`>;

export const TARGET_WORDS: Record<NamedTarget, string> = {
  skip: 'not brought in',
  number: 'text number',
  second_phone: 'second phone',
  calling_code: 'country code',
  kind: 'kind of line',
  given_name: 'given name',
  family_name: 'family name',
  full_name: 'whole name',
  reference: 'own reference',
  language: 'language',
  zone: 'time zone',
  born: 'born',
  consent: 'consent',
  refusal: 'said no to texts',
  tags: 'tags',
  lists: 'lists',
  ready_text: 'ready-made text',
  'dependant:given_name': 'dependant’s given name',
  'dependant:family_name': 'dependant’s family name',
  'dependant:full_name': 'dependant’s whole name',
  'dependant:reference': 'dependant’s reference',
  'dependant:born': 'dependant’s birth date',
  'second:given_name': 'second contact’s given name',
  'second:family_name': 'second contact’s family name',
  'second:full_name': 'second contact’s whole name',
  'second:number': 'second contact’s number',
};

/** The longest name that a list has, characters. */
export const LONGEST_LIST = 100;

/** The names in a cell that may hold several: between commas, semicolons or bars. */
export const namesIn = (cell: string): string[] => cell.split(/[,;|]/);

/** What a column may be matched to, as a pattern for schemas. */
export const TARGET_PATTERN = `^(${Object.keys(TARGET_WORDS).join('|')}|(dependant:)?field:[a-z][a-z0-9_]{0,40})$`;

/** Slug of a heading, for a field made on the spot: `Home landing` → `home_landing`. A reserved word gets a 2. */
export function slugOf(heading: string): string {
  const slug = fold(heading)
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .replace(/^(\d)/, 'f_$1')
    .slice(0, 40);
  if (slug === '') return 'field';
  return RESERVED.has(slug) ? `${slug}_2` : slug;
}

/** True when rows of this match are about dependants and their contacts. */
export function aboutDependants(match: readonly string[]): boolean {
  return match.some((target) => target.startsWith('dependant:'));
}
