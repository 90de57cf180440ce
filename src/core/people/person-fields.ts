import type { FieldType } from '../merge/compile';
import { fold } from '../text/fold';
import { dayOf } from './day';

/** Built-in values of a person that conditions, columns and sorting know, beside the custom fields. */
export const PERSON_FIELDS: readonly { slug: string; label: string; type: FieldType }[] = [
  { slug: 'given_name', label: 'given name', type: 'text' },
  { slug: 'family_name', label: 'family name', type: 'text' },
  { slug: 'reference', label: 'own reference', type: 'text' },
  { slug: 'number', label: 'text number', type: 'text' },
  { slug: 'country', label: 'country of the number', type: 'choice' },
  { slug: 'kind', label: 'kind of line', type: 'choice' },
  { slug: 'language', label: 'language', type: 'choice' },
  { slug: 'zone', label: 'time zone', type: 'choice' },
  { slug: 'born', label: 'born', type: 'date' },
];

/** The same for a dependant. */
export const DEPENDANT_FIELDS: readonly { slug: string; label: string; type: FieldType }[] = [
  { slug: 'given_name', label: 'given name', type: 'text' },
  { slug: 'family_name', label: 'family name', type: 'text' },
  { slug: 'reference', label: 'own reference', type: 'text' },
  { slug: 'born', label: 'born', type: 'date' },
];

/** Slugs that no custom field may take. */
export const RESERVED: ReadonlySet<string> = new Set([
  ...PERSON_FIELDS.map((field) => field.slug),
  'send_date',
  'reply_until',
  'sender_name',
  'workspace_name',
  'code',
  'link',
  'opt_out_link',
  'dependants',
  'ready_text',
  'tags',
  'lists',
  // what every object has of itself
  'constructor',
  'prototype',
]);

export type FieldTypes = ReadonlyMap<string, FieldType>;

const YES = new Set(['yes', 'y', 'true', '1', 'ok', 'x', 'oui', 'si', 'granted', 'opted in']);
const NO = new Set(['no', 'n', 'false', '0', 'non', 'withdrawn', 'opted out', 'stop', 'never']);

/** A cell that says yes or no, in the words people use; undefined when it says neither. */
export function yesOrNo(text: string): 'yes' | 'no' | undefined {
  const folded = fold(text);
  return YES.has(folded) ? 'yes' : NO.has(folded) ? 'no' : undefined;
}

/** A number as people write it: `1,234.5`, `1 234,5`, `1234`. Undefined when it does not read as one. */
export function numberOf(text: string): number | undefined {
  const bare = text.trim().replace(/[\s\u00a0\u202f']/g, '');
  const plain = /^[+-]?\d{1,15}(\.\d{1,10})?$/.test(bare)
    ? bare
    : /^[+-]?\d{1,3}(,\d{3})+(\.\d{1,10})?$/.test(bare)
      ? bare.replace(/,/g, '')
      : /^[+-]?\d{1,3}(\.\d{3})+(,\d{1,10})?$/.test(bare) || /^[+-]?\d{1,12},\d{1,2}$/.test(bare)
        ? bare.replace(/\./g, '').replace(',', '.')
        : undefined;
  return plain === undefined ? undefined : Number(plain);
}

/**
 * A value as it is stored for its type: dates as `YYYY-MM-DD`, yes/no as such, numbers without separators, words as they
 * are. Undefined when the text does not read as the type; nothing is guessed.
 */
export function storedValue(type: FieldType, text: string, dayFirst: boolean): string | undefined {
  switch (type) {
    case 'date':
      return dayOf(text, dayFirst);
    case 'yes_no':
      return yesOrNo(text);
    case 'number': {
      const value = numberOf(text);
      return value === undefined ? undefined : String(value);
    }
    default:
      return text;
  }
}

/** What a condition looks at for a stored value; undefined for none. */
export function foldedValue(type: FieldType, stored: string): string | number | undefined {
  if (stored.trim() === '') return undefined;
  switch (type) {
    case 'date':
      return /^\d{4}-\d{2}-\d{2}$/.test(stored) ? stored : undefined;
    case 'number':
      return numberOf(stored);
    case 'yes_no':
      return yesOrNo(stored);
    default:
      return fold(stored);
  }
}

export interface Foldable {
  given_name: string;
  family_name: string;
  reference: string | null;
  born?: string | null;
  number?: string | null;
  number_country?: string | null;
  number_kind?: string | null;
  language?: string | null;
  zone?: string | null;
  fields: Record<string, string>;
}

/** Everything conditions and sorting look at for a person or a dependant. `types` are the custom fields'. */
export function foldedOf(of: Foldable, types: FieldTypes): Record<string, string | number> {
  const folded: Record<string, string | number> = {};
  const put = (slug: string, type: FieldType, stored: string | null | undefined) => {
    const value = stored ? foldedValue(type, stored) : undefined;
    if (value !== undefined && value !== '') folded[slug] = value;
  };
  for (const [slug, stored] of Object.entries(of.fields)) put(slug, types.get(slug) ?? 'text', stored);
  put('given_name', 'text', of.given_name);
  put('family_name', 'text', of.family_name);
  put('reference', 'text', of.reference);
  put('born', 'date', of.born);
  put('number', 'text', of.number);
  put('country', 'choice', of.number_country);
  put('kind', 'choice', of.number_kind);
  put('language', 'choice', of.language);
  put('zone', 'choice', of.zone);
  return folded;
}
