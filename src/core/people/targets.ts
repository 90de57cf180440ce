import { fold } from './fold';

/** Which column feeds which field. `skip` brings nothing in; `field:slug` is a custom field. */
export type Target =
  | 'skip'
  | 'number'
  | 'calling_code'
  | 'given_name'
  | 'family_name'
  | 'full_name'
  | 'reference'
  | 'language'
  | 'zone'
  | 'consent'
  | 'tags'
  | `field:${string}`;

export const TARGET_WORDS: Record<Exclude<Target, `field:${string}`>, string> = {
  skip: 'not brought in',
  number: 'text number',
  calling_code: 'country code',
  given_name: 'given name',
  family_name: 'family name',
  full_name: 'whole name',
  reference: 'own reference',
  language: 'language',
  zone: 'time zone',
  consent: 'consent',
  tags: 'tags',
};

/** Slug of a heading, for a field made on the spot: `Home landing` → `home_landing`. */
export function slugOf(heading: string): string {
  const slug = fold(heading)
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .replace(/^(\d)/, 'f_$1')
    .slice(0, 40);
  return slug === '' ? 'field' : slug;
}
