import type { ImportSettings } from '../../../core/api/people/import-settings';
import { readerWith, type RowReader, type RowRules } from '../../../core/people/read-rows';
import type { Queryable } from '../../db/db';
import { fieldTypes } from '../../address-book/for-others';

/** How the rows of one import are read, by its bench's settings and the fields there are. */
export async function rulesOf(db: Queryable, settings: ImportSettings): Promise<RowRules> {
  const types = new Map(await fieldTypes(db));
  const dependantTypes = new Map(await fieldTypes(db, 'dependant'));
  for (const [target, field] of Object.entries(settings.new_fields)) {
    const [, about, slug] = /^(dependant:)?field:(.+)$/.exec(target) ?? [];
    if (!slug) continue;
    const into = about ? dependantTypes : types;
    if (!into.has(slug)) into.set(slug, field.type);
  }
  return { settings, types, dependantTypes };
}

/** The same, read here: for a page of rows. A whole file is read in a thread (`RowThread`). */
export async function readerOf(db: Queryable, settings: ImportSettings): Promise<RowReader> {
  return readerWith(await rulesOf(db, settings));
}

/** From which row to which the bench reads, both included. */
export function rowRange(settings: ImportSettings): { first: number; last: number } {
  return {
    first: Math.max(settings.heading_row + 1, settings.first_row),
    last: settings.last_row ?? 2_000_000_000,
  };
}
