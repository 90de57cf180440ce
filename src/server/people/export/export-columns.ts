import type { FieldType } from '../../../core/merge/compile';
import type { Cell } from '../../files/cell';
import type { Exported } from './export-queries';

/** A column of an exported table. */
export interface ExportColumn {
  /** As the table of people calls it; two may belong to one of its columns (the parts of a name). */
  key: string;
  heading: string;
  cell: (person: Exported) => Cell;
  /** Only given when it is asked for: what cannot come back, and what the bench would not know. */
  asked?: true;
}

/** A value as what it is: what does not come back the same from a number stays the text that it is. */
function typedCell(type: FieldType, stored: string): Cell {
  if (type === 'number' && stored !== '' && String(Number(stored)) === stored) return Number(stored);
  return type === 'date' && /^\d{4}-\d{2}-\d{2}$/.test(stored) ? { day: stored } : stored;
}

/** Every column there is. The headings are those that the bench matches by itself when the file comes back; what cannot come back stands last. */
export function exportColumns(fields: readonly { slug: string; label: string; type: FieldType }[]): ExportColumn[] {
  return [
    { key: 'name', heading: 'given name', cell: (p) => p.given_name },
    { key: 'name', heading: 'family name', cell: (p) => p.family_name },
    { key: 'number', heading: 'text number', cell: (p) => p.number ?? '' },
    { key: 'reference', heading: 'own reference', cell: (p) => p.reference ?? '' },
    { key: 'language', heading: 'language', cell: (p) => p.language ?? '' },
    // a guess is not handed on as if it had been told
    { key: 'zone', heading: 'time zone', cell: (p) => (p.zone_guessed ? '' : (p.zone ?? '')) },
    { key: 'born', heading: 'born', cell: (p) => p.born && { day: p.born } },
    ...fields.map(({ slug, label, type }) => ({
      key: slug,
      heading: label,
      cell: (p: Exported) => typedCell(type, p.fields[slug] ?? ''),
    })),
    { key: 'tags', heading: 'tags', cell: (p) => p.tags.join(', ') },
    { key: 'lists', heading: 'lists', cell: (p) => p.lists.join(', ') },
    { key: 'marketing', heading: 'marketing', cell: (p) => (p.marketing === 'cleared' ? '' : (p.marketing ?? '')) },
    { key: 'reach', heading: 'can be texted', cell: (p) => p.reach },
    { key: 'dependants', heading: 'contact of', cell: (p) => p.dependants.join(', '), asked: true },
    { key: 'kind', heading: 'kind of line', cell: (p) => p.number_kind ?? '', asked: true },
    { key: 'country', heading: 'country', cell: (p) => p.number_country ?? '', asked: true },
    { key: 'added', heading: 'added', cell: (p) => ({ day: p.created_at.slice(0, 10) }), asked: true },
  ];
}

/** Those that are asked for, in that order; a key that there is none of is left out. All that come back where none are asked for. */
export function chosenColumns(columns: readonly ExportColumn[], asked: string | undefined): ExportColumn[] {
  if (asked === undefined) return columns.filter((column) => !column.asked);
  return asked.split(',').flatMap((key) => columns.filter((column) => column.key === key));
}
