import type { FieldCondition } from '../../../core/audience/condition';
import type { FieldType } from '../../../core/merge/compile';
import { DEPENDANT_FIELDS, PERSON_FIELDS } from '../../../core/people/person-fields';
import type { Sources } from '../sources';

/** Fields by slug with what they are, built-in ones first. */
export function fieldsOf(
  sources: Sources | undefined,
  about: 'person' | 'dependant',
): { slug: string; label: string; type: FieldType; choices?: readonly string[] }[] {
  return [
    ...(sources?.fields ?? []).filter((field) => field.about === about),
    ...(about === 'person' ? PERSON_FIELDS : DEPENDANT_FIELDS),
  ];
}

/** What is asked of a field first, by what it is. */
export function startOf(field: string, type: FieldType): FieldCondition {
  if (type === 'date') return { on: 'field', field, test: 'next_days', days: 30 };
  if (type === 'number') return { on: 'field', field, test: 'at_least', number: 0 };
  if (type === 'yes_no') return { on: 'field', field, test: 'is', values: ['yes'] };
  return { on: 'field', field, test: 'filled' };
}
