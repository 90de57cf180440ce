/** What every reader of tables gives: rows in batches, each with its number as the file counts them. */
export interface NumberedRow {
  /** 0-based. */
  no: number;
  cells: string[];
}

export interface SheetName {
  name: string;
  hidden: boolean;
}

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

export interface OpenTable {
  format: 'delimited' | 'xlsx' | 'ods' | 'vcard';
  /** How the bytes were read as text; undefined for workbooks. */
  encoding: Encoding | undefined;
  delimiter: string | undefined;
  sheets: SheetName[];
  /** The sheet that is read; undefined when the format has none. */
  sheet: string | undefined;
  /** What was noticed on the way, in words; complete once the rows have been read. */
  notes: string[];
  /** The rows, blank ones at the end left out. May be gone over once. */
  rows(): AsyncIterable<NumberedRow[]>;
}

/** A file that cannot be read; `message` is the one sentence people see. */
export class UnreadableFile extends Error {
  constructor(
    message: string,
    readonly place?: string,
  ) {
    super(message);
    this.name = 'UnreadableFile';
  }
}

export const MOST_COLUMNS = 200;
export const MOST_ROWS = 1_048_576;
/** Rows that travel together. */
export const BATCH = 4000;

/** Gathers rows into batches and holds the limits that are the same for every format. */
export class RowBatches {
  private batch: NumberedRow[] = [];
  private count = 0;
  seen = false;

  /** Adds a row; returns a full batch when there is one. A row of nothing but blanks only counts. */
  add(no: number, cells: string[]): NumberedRow[] | undefined {
    if (cells.every((cell) => cell.trim() === '')) return undefined;
    if (cells.length > MOST_COLUMNS) {
      let filled = cells.length;
      while (filled > 0 && cells[filled - 1].trim() === '') filled -= 1;
      if (filled > MOST_COLUMNS) throw tooWide(no, filled);
      cells = cells.slice(0, filled);
    }
    this.count += 1;
    if (this.count > MOST_ROWS)
      throw new UnreadableFile(
        `The file has more than ${MOST_ROWS.toLocaleString('en-US')} rows; at most that many can be brought in at once.`,
      );
    this.seen = true;
    this.batch.push({ no, cells });
    return this.batch.length >= BATCH ? this.take() : undefined;
  }

  take(): NumberedRow[] {
    const full = this.batch;
    this.batch = [];
    return full;
  }
}

export function tooWide(row: number, columns: number): UnreadableFile {
  return new UnreadableFile(
    `Row ${row + 1} has ${columns.toLocaleString('en-US')} columns; at most ${MOST_COLUMNS} can be read. Is the delimiter right?`,
    `row ${row + 1}`,
  );
}

export const NO_ROWS = 'The file holds no rows.';
