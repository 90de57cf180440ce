import type { ImportSettings } from '../api/people/import-settings';
import type { FieldType } from '../merge/compile';
import { isAmbiguousDay } from './day';
import { firstStops, type Stop } from './late-stops';
import { OFFERED_FIXES, SAFE_FIXES } from './mend-number';
import { prepareRow, type FixKind, type PrepareRules, type RowRead } from './prepare';
import type { Target } from './targets';

/** What decides how the rows of one import are read; plain data, so that it can be handed to a thread. */
export interface RowRules {
  settings: ImportSettings;
  /** Types of the custom fields once the import has made its own. */
  types: Map<string, FieldType>;
  dependantTypes: Map<string, FieldType>;
}

/** A row of a file, 0-based as the file counts. */
export interface FileRow {
  row_no: number;
  cells: string[];
}

export interface RowReader extends RowRules {
  read(no: number, cells: readonly string[]): RowRead;
}

export function readerWith(rules: RowRules): RowReader {
  const { settings, types, dependantTypes } = rules;
  const chosen: PrepareRules = {
    match: settings.match as Target[],
    country: settings.country,
    fixes: new Set(settings.fixes),
    twoNumbers: settings.two_numbers,
    dayFirst: settings.day_first,
    today: settings.today,
    bornCentury: settings.born_century,
    stopColumns: settings.stop_columns,
    types,
    dependantTypes,
  };
  const all: PrepareRules = { ...chosen, fixes: new Set<FixKind>([...SAFE_FIXES, ...OFFERED_FIXES]) };
  const single = new Set(settings.fixed_rows);
  return { ...rules, read: (no, cells) => prepareRow(cells, single.has(no) ? all : chosen) };
}

export interface RowsRead {
  rows: {
    no: number;
    result: RowRead;
    /** The cell that held the number, for a reason that is shown with an example. */
    example: string;
  }[];
  /** Cells like `3/9/2027`, of which only a person knows which is the month. */
  ambiguousDays: number;
  /** The first "stop" of each column that is matched to something else. */
  stops: Stop[];
}

/** Reads a batch of rows; an empty line is no person. */
export function readRows(reader: RowReader, rows: readonly FileRow[]): RowsRead {
  const { settings } = reader;
  const dates = dateColumnsOf(reader);
  const number = settings.match.indexOf('number');
  const some = rows.filter((row) => row.cells.some((cell) => cell.trim() !== ''));
  let ambiguousDays = 0;
  for (const { cells } of some) for (const column of dates) if (isAmbiguousDay(cells[column] ?? '')) ambiguousDays += 1;
  return {
    rows: some.map(({ row_no: no, cells }) => {
      const result = reader.read(no, cells);
      return { no, result, example: result.ok ? '' : (result.fix?.before ?? cells[number] ?? '').slice(0, 60) };
    }),
    ambiguousDays,
    stops: firstStops(some, settings),
  };
}

function dateColumnsOf({ settings, types, dependantTypes }: RowRules): number[] {
  return settings.match.flatMap((target, column) => {
    const [, about, slug] = /^(dependant:)?field:(.+)$/.exec(target) ?? [];
    const date = slug ? (about ? dependantTypes : types).get(slug) === 'date' : target === 'born' || target === 'dependant:born';
    return date ? [column] : [];
  });
}
