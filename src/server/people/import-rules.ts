import type { ImportSettings } from '../../core/api/imports';
import type { FieldType } from '../../core/merge/compile';
import { OFFERED_FIXES, SAFE_FIXES, prepareRow, type FixKind, type PrepareRules, type RowRead } from '../../core/people/prepare';
import type { Target } from '../../core/people/targets';
import type { Queryable } from '../db/db';
import { fieldTypes } from './person-store';

/** How the rows of one import are read, by its bench's settings and the fields there are. */
export interface RowReader {
  read(no: number, cells: readonly string[]): RowRead;
  /** Types of the custom fields once the import has made its own. */
  types: Map<string, FieldType>;
  dependantTypes: Map<string, FieldType>;
}

export async function readerOf(db: Queryable, settings: ImportSettings): Promise<RowReader> {
  const types = new Map(await fieldTypes(db));
  const dependantTypes = new Map(await fieldTypes(db, 'dependant'));
  for (const [target, field] of Object.entries(settings.new_fields)) {
    const [, about, slug] = /^(dependant:)?field:(.+)$/.exec(target) ?? [];
    if (!slug) continue;
    const into = about ? dependantTypes : types;
    if (!into.has(slug)) into.set(slug, field.type);
  }
  const rules: PrepareRules = {
    match: settings.match as Target[],
    country: settings.country,
    fixes: new Set(settings.fixes),
    twoNumbers: settings.two_numbers,
    dayFirst: settings.day_first,
    today: settings.today,
    bornCentury: settings.born_century,
    types,
    dependantTypes,
  };
  const all: PrepareRules = { ...rules, fixes: new Set<FixKind>([...SAFE_FIXES, ...OFFERED_FIXES]) };
  const single = new Set(settings.fixed_rows);
  return {
    types,
    dependantTypes,
    read: (no, cells) => prepareRow(cells, single.has(no) ? all : rules),
  };
}

/** The condition that a row is within what the bench reads; placeholders start at `$first`. */
export function rowRange(settings: ImportSettings): { first: number; last: number } {
  return {
    first: Math.max(settings.heading_row + 1, settings.first_row),
    last: settings.last_row ?? 2_000_000_000,
  };
}
