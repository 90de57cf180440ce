import { fieldText, zoneName } from '../pieces/format';
import { heading, type FieldDef, type PersonRow } from './sources';

/** A column of the people's table; `sort` is the key by which the server can put people in its order. */
export interface Column {
  id: string;
  label: string;
  sort: string | undefined;
  text: (person: PersonRow) => string;
}

/** Every column there may be: what is built in, then the custom fields. */
export function columnsOf(fields: readonly FieldDef[]): Column[] {
  return [
    ...fields
      .filter((field) => field.about === 'person')
      .map((field): Column => ({
        id: `field:${field.slug}`,
        label: heading(field.label),
        sort: field.slug,
        text: (p) => fieldText(p.fields[field.slug] ?? ''),
      })),
    { id: 'language', label: 'Language', sort: 'language', text: (p) => p.language ?? '' },
    { id: 'reference', label: 'Reference', sort: 'reference', text: (p) => p.reference ?? '' },
    {
      id: 'zone',
      label: 'Time zone',
      sort: 'zone',
      text: (p) => (p.zone ? `${zoneName(p.zone)}${p.zone_guessed ? ' ?' : ''}` : ''),
    },
    { id: 'tags', label: 'Tags', sort: undefined, text: (p) => p.tags.join(', ') },
    { id: 'dependants', label: 'Contact of', sort: undefined, text: (p) => p.dependants.join(', ') },
    { id: 'kind', label: 'Kind of line', sort: 'kind', text: (p) => p.number_kind ?? '' },
    { id: 'country', label: 'Country', sort: 'country', text: (p) => p.number_country ?? '' },
    { id: 'born', label: 'Born', sort: 'born', text: (p) => fieldText(p.born ?? '') },
    { id: 'added', label: 'Added', sort: 'added', text: (p) => fieldText(p.created_at.slice(0, 10)) },
  ];
}

const KEPT = 'bell.people.columns';

/** The columns this browser was last left with; at first two fields and the language. */
export function chosenColumns(all: readonly Column[]): string[] {
  const kept = localStorage.getItem(KEPT);
  if (kept !== null) return kept.split(' ').filter((id) => all.some((column) => column.id === id));
  return [...all.filter((column) => column.id.startsWith('field:')).slice(0, 2), { id: 'language' }].map((column) => column.id);
}

export function keepColumns(ids: readonly string[]): void {
  localStorage.setItem(KEPT, ids.join(' '));
}
