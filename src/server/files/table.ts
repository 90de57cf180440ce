import type { Encoding, SheetName } from '../../core/api/people/imports';

/** What every reader of tables gives: rows in batches, each with its number as the file counts them. */
export interface NumberedRow {
  /** 0-based. */
  no: number;
  cells: string[];
}

export type { Encoding, SheetName };

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
/** Cells and characters a file may unpack to, counted after repetition, as it is read. */
export const MOST_CELLS = 40_000_000;
export const MOST_CHARACTERS = 400_000_000;
/** What a cell can hold in a spreadsheet (ECMA-376 part 1, §18.18.93 and common practice); the rest is cut off, and said. */
export const LONGEST_CELL = 32_767;
/** Rows that travel together, or so many characters or cells of them: whoever writes a batch down holds others up for so long. */
export const BATCH = 4000;
const BATCH_CHARACTERS = 250_000;
const BATCH_CELLS = 40_000;

/** Gathers rows into batches and holds the limits that are the same for every format. */
export class RowBatches {
  private batch: NumberedRow[] = [];
  private count = 0;
  private cells = 0;
  private characters = 0;
  private inBatch = 0;
  private cellsInBatch = 0;
  /** Cells that were cut. */
  cut = 0;
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
    let length = 0;
    for (let i = 0; i < cells.length; i += 1) {
      if (cells[i].length > LONGEST_CELL) {
        cells[i] = cells[i].slice(0, LONGEST_CELL).toWellFormed();
        this.cut += 1;
      }
      length += cells[i].length;
    }
    this.cells += cells.length;
    this.characters += length;
    this.inBatch += length;
    this.cellsInBatch += cells.length;
    if (this.cells > MOST_CELLS || this.characters > MOST_CHARACTERS)
      throw new UnreadableFile(
        `By row ${(no + 1).toLocaleString('en-US')} the file unpacks to more than ${this.cells > MOST_CELLS ? '40 million cells' : '400 million characters'}; that is more than can be brought in.`,
        `row ${no + 1}`,
      );
    this.seen = true;
    this.batch.push({ no, cells });
    const full = this.batch.length >= BATCH || this.inBatch > BATCH_CHARACTERS || this.cellsInBatch > BATCH_CELLS;
    return full ? this.take() : undefined;
  }

  take(): NumberedRow[] {
    const full = this.batch;
    this.batch = [];
    this.inBatch = 0;
    this.cellsInBatch = 0;
    return full;
  }

  /** What is to be said of the reading as a whole. */
  remarks(): string[] {
    if (this.cut === 0) return [];
    return [
      `${this.cut === 1 ? 'One cell holds' : `${this.cut.toLocaleString('en-US')} cells hold`} more than ${LONGEST_CELL.toLocaleString('en-US')} characters and ${this.cut === 1 ? 'was' : 'were'} cut there.`,
    ];
  }
}

export function tooWide(row: number, columns: number): UnreadableFile {
  return new UnreadableFile(
    `Row ${row + 1} has ${columns.toLocaleString('en-US')} columns; at most ${MOST_COLUMNS} can be read. Is the delimiter right?`,
    `row ${row + 1}`,
  );
}

export const NO_ROWS = 'The file holds no rows.';
