import type { Static } from 'typebox';
import type { FieldDef as FieldDefSchema } from '../../core/api/people/groups';

export type { PersonRow, Sources } from '../../core/api/people/people';
export type FieldDef = Static<typeof FieldDefSchema>;

export function nameOf(person: { given_name: string; family_name: string }): string {
  return `${person.given_name} ${person.family_name}`.trim() || 'no name';
}

/** `home landing` → `Home landing`, for a heading. */
export function heading(label: string): string {
  return label.charAt(0).toUpperCase() + label.slice(1);
}
