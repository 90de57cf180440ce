import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { ImportFacts } from '../../../core/api/people/imports';
import { isAmbiguousDay } from '../../../core/people/day';
import { guessHeadingRow, guessMatch, type KnownFields } from '../../../core/people/match';
import { SAFE_FIXES } from '../../../core/people/mend-number';
import type { Target } from '../../../core/people/targets';
import { wallClock } from '../../../core/zones';
import { oneLine } from '../../../core/text/tidy';
import type { Db, Queryable } from '../../db/db';
import type { NumberedRow } from '../../files/table';
import { rememberedMatch } from './match-memory';

/** The choices of a bench as they are until somebody makes them. */
export const UNTOUCHED: Omit<ImportSettings, 'heading_row' | 'match' | 'country' | 'day_first'> = {
  first_row: 0,
  last_row: null,
  new_fields: {},
  fixes: [...SAFE_FIXES],
  fixed_rows: [],
  two_numbers: 'first',
  already: 'fill_blanks',
  shared_number: 'one_person',
  landlines: 'keep',
  list: '',
  missing: 'keep',
  tags: [],
  consent_purpose: 'service',
  consent_all: null,
};

export function headingsOf(cells: readonly string[] | undefined, width: number): string[] {
  return Array.from(
    { length: width },
    (_, column) => oneLine((cells?.[column] ?? '').slice(0, 200)).slice(0, 100) || `Column ${column + 1}`,
  );
}

/** Custom fields by slug, with what they are about. */
export async function knownFields(db: Queryable): Promise<KnownFields> {
  const { rows } = await db.query<{ slug: string; about: string }>(`SELECT slug, about FROM field_def`);
  return {
    person: new Set(rows.flatMap((row) => (row.about === 'person' ? [row.slug] : []))),
    dependant: new Set(rows.flatMap((row) => (row.about === 'dependant' ? [row.slug] : []))),
  };
}

/** A first look at a file: where its headings are, what its columns may be, and what was chosen for such a file before. */
export async function firstSettings(
  db: Db,
  head: readonly NumberedRow[],
  width: number,
  facts: ImportFacts,
  now: number,
): Promise<ImportSettings> {
  const { country, zone } = (await db.query<{ country: string; zone: string }>(`SELECT country, zone FROM workspace`)).rows[0];
  const rows = head.map((row) => row.cells);
  const at = guessHeadingRow(rows, country);
  const headings = headingsOf(at >= 0 ? rows[at] : undefined, width);
  facts.headings = headings;
  const known = await knownFields(db);
  const remembered = await rememberedMatch(db, headings, known);
  if (remembered) facts.notes.push('The columns are matched as last time.');
  const sample = rows.slice(at + 1, at + 60);
  const match: Target[] = remembered ?? guessMatch(headings, sample, known, country);
  const days = rows.flat().filter((cell) => /^\s*\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4}/.test(cell));
  return {
    ...UNTOUCHED,
    heading_row: at >= 0 ? head[at].no : -1,
    match,
    country,
    // a day beyond 12 tells which comes first; else the country's custom
    day_first: days.some((cell) => Number(/\d{1,2}/.exec(cell)?.[0]) > 12) || (country !== 'US' && days.some(isAmbiguousDay)),
    today: wallClock(now, zone).date,
  };
}
