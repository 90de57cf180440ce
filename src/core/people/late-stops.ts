import { saysStopped } from './heading/texting-heading';

/** A cell that says by itself that someone stopped, in a column of which nobody has said that it is about texts. */
export interface Stop {
  column: number;
  /** 0-based, as the file counts. */
  row: number;
  cell: string;
}

/** A longer cell is a sentence in which a word about stopping may mean anything. */
const LONGEST_WORD = 60;
/** Cells repeat ("yes", "Pier 4"): what was read once is not read again; so many are remembered. */
const MOST_REMEMBERED = 20_000;
const remembered = new Map<string, boolean>();

function stops(cell: string): boolean {
  const known = remembered.get(cell);
  if (known !== undefined) return known;
  if (remembered.size >= MOST_REMEMBERED) remembered.clear();
  const says = saysStopped(cell);
  remembered.set(cell, says);
  return says;
}

/**
 * Looks through the columns that come in as something else, or not at all, for a cell like "STOP" or "opted out": such a column is
 * found by its first rows, and where the word stands in row 900 only, it would else pass unnoticed. The first one of each column.
 */
export function firstStops(
  rows: readonly { row_no: number; cells: readonly string[] }[],
  { match }: { match: readonly string[] },
): Stop[] {
  const found: Stop[] = [];
  const width = rows.reduce((most, { cells }) => Math.max(most, cells.length), 0);
  for (let column = 0; column < width; column += 1) {
    const target = match[column] ?? 'skip';
    if (!(target === 'skip' || target === 'tags' || target === 'lists' || target.includes('field:'))) continue;
    const first = rows.find(({ cells }) => {
      const cell = (cells[column] ?? '').trim();
      return cell.length < LONGEST_WORD && /\p{L}/u.test(cell) && stops(cell);
    });
    if (first) found.push({ column, row: first.row_no, cell: first.cells[column].trim() });
  }
  return found;
}
