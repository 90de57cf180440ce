import type { Condition } from '../../core/audience/condition';
export type { PersonRow } from '../../core/api/people';
import type { FieldType } from '../../core/merge/compile';

export interface FieldDef {
  slug: string;
  label: string;
  type: FieldType;
  choices: string[];
  about: 'person' | 'dependant';
}

/** Everyone, lists, tags and segments, with the fields. */
export interface Sources {
  everyone: number;
  cannot: number;
  lists: { id: number; name: string; people: number; filling_import: number | null }[];
  tags: { id: number; name: string; people: number }[];
  segments: { id: number; name: string; rule: Condition }[];
  fields: FieldDef[];
}

export function nameOf(person: { given_name: string; family_name: string }): string {
  return `${person.given_name} ${person.family_name}`.trim() || 'no name';
}

/** `home landing` → `Home landing`, for a heading. */
export function heading(label: string): string {
  return label.charAt(0).toUpperCase() + label.slice(1);
}
