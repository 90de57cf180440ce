import { cellText, type Cell } from './cell';
import Papa from 'papaparse';
import type { SourceChoice } from '../../core/api/people/imports';
import { guessEncoding, textOf } from './charset';
import { NO_ROWS, RowBatches, UnreadableFile, type Encoding, type NumberedRow, type OpenTable } from './table';

/** A row that is longer than this has lost its end: a quote that is never closed swallows everything after it. */
const LONGEST_ROW = 4 << 20;

/**
 * CSV and TSV as RFC 4180 has them, and as spreadsheets really write them: any delimiter, `sep=` line, byte order
 * marks, UTF-16, Windows-1252, mixed line ends. Streams: memory does not grow with the file.
 * @throws UnreadableFile with the row where it goes wrong
 */
export async function openDelimited(path: string, { encoding, delimiter }: SourceChoice = {}): Promise<OpenTable> {
  const read = encoding ?? (await guessEncoding(path));
  return openText(() => textOf(path, read), read, delimiter);
}

/** The same for text that is already decoded (pasted). */
export async function openPasted(text: string, delimiter?: string): Promise<OpenTable> {
  return openText(
    async function* () {
      yield text.replace(/^\ufeff/, '').replace(/\r\n?/g, '\n');
    },
    undefined,
    delimiter,
  );
}

async function openText(
  source: () => AsyncIterable<string>,
  encoding: Encoding | undefined,
  chosen: string | undefined,
): Promise<OpenTable> {
  let head = '';
  for await (const piece of source()) {
    head += piece;
    if (head.length > 1 << 16) break;
  }
  if (head.includes('\0'))
    throw new UnreadableFile('This is not a text file: it holds binary data. Save the sheet as CSV and choose that file.');
  if (head.trim() === '') throw new UnreadableFile(NO_ROWS);
  const sep = /^(?:sep=(.)|"sep=(.)")[ ,;\t]{0,200}\n/i.exec(head);
  const start = sep ? sep[0].length : 0;
  const delimiter = chosen ?? sep?.[1] ?? sep?.[2] ?? guessDelimiter(head.slice(0, 1 << 16));
  const notes: string[] = [];
  return {
    format: 'delimited',
    encoding,
    delimiter,
    sheets: [],
    sheet: undefined,
    notes,
    rows: () => rowsOf(source(), delimiter, start, notes),
  };
}

const DELIMITERS = [',', ';', '\t', '|'];

/**
 * The delimiter that cuts the first rows alike: most rows with the same number of cells, more than one. Also for two columns and
 * two rows, where the general guessers give up; of equals the one that makes more cells. Under a wrong one a quote may swallow what
 * follows: where quotes are broken, the rows that others find count as rows, too.
 */
function guessDelimiter(head: string): string {
  const cuts = DELIMITERS.map((delimiter) => {
    const { data, errors } = Papa.parse<string[]>(head, { newline: '\n', delimiter, preview: 60, skipEmptyLines: 'greedy' });
    // the last row may be cut off
    const widths = (data.length > 2 ? data.slice(0, -1) : data).map((row) => row.length);
    return { delimiter, widths, broken: errors.some(({ type }) => type === 'Quotes') };
  });
  const most = Math.max(...cuts.map(({ widths }) => widths.length));
  let best = { delimiter: ',', score: 0 };
  for (const { delimiter, widths, broken } of cuts) {
    const common = widths.reduce(
      (found, width) => {
        const rows = widths.filter((each) => each === width).length;
        return width > 1 && (rows > found.rows || (rows === found.rows && width > found.width)) ? { width, rows } : found;
      },
      { width: 0, rows: 0 },
    );
    if (common.rows === 0) continue;
    const score = common.rows / (broken ? most : widths.length) + Math.min(common.width, 20) / 100 - (broken ? 0.2 : 0);
    if (score > best.score) best = { delimiter, score };
  }
  return best.delimiter;
}

async function* rowsOf(
  source: AsyncIterable<string>,
  delimiter: string,
  start: number,
  notes: string[],
): AsyncGenerator<NumberedRow[]> {
  const parser = new Papa.Parser({ delimiter, newline: '\n', quoteChar: '"', escapeChar: '"' });
  const batches = new RowBatches();
  let rest = '';
  let skip = start;
  let no = start > 0 ? 1 : 0;
  let unreadable = 0;
  let binary = false;
  const take = function* (text: string, last: boolean): Generator<NumberedRow[]> {
    const parsed = parser.parse(text, 0, !last) as { data: string[][]; errors: Papa.ParseError[]; meta: { cursor: number } };
    const quote = parsed.errors.find((error) => error.type === 'Quotes');
    if (quote) {
      const row = no + (quote.row ?? 0) + 1;
      throw new UnreadableFile(
        quote.code === 'MissingQuotes'
          ? `Row ${row} opens a quote (") that is never closed, so nothing after it can be told apart.`
          : `Row ${row} has a quote (") in the middle of a cell.`,
        `row ${row}`,
      );
    }
    for (const cells of parsed.data) {
      const full = batches.add(no, cells);
      no += 1;
      if (full) yield full;
    }
    rest = last ? '' : text.slice(parsed.meta.cursor);
    if (rest.length > LONGEST_ROW)
      throw new UnreadableFile(
        `Row ${no + 1} does not end within ${LONGEST_ROW >> 20} million characters; a quote (") in it may never be closed.`,
        `row ${no + 1}`,
      );
  };
  let come: string[] = [];
  let length = 0;
  const all = () => {
    const text = rest + come.join('');
    [come, length] = [[], 0];
    return text;
  };
  for await (let piece of source) {
    if (skip > 0) {
      const gone = Math.min(skip, piece.length);
      piece = piece.slice(gone);
      skip -= gone;
    }
    if (piece.includes('\ufffd')) unreadable += piece.split('\ufffd').length - 1;
    if (piece.includes('\0')) {
      binary = true;
      piece = piece.replaceAll('\0', '');
    }
    come.push(piece);
    length += piece.length;
    // what did not end is looked at again from its beginning: only once it has doubled, so that a row of megabytes is not read a hundred times
    if (length < Math.min(rest.length, LONGEST_ROW)) continue;
    yield* take(all(), false);
  }
  yield* take(all(), true);
  const left = batches.take();
  if (left.length > 0) yield left;
  notes.push(...batches.remarks());
  if (!batches.seen) throw new UnreadableFile(NO_ROWS);
  if (unreadable > 0) notes.push(`${unreadable} characters could not be read and show as �. Another encoding may fit.`);
  if (binary) notes.push('Binary zeros in the file were left out.');
}

/** RFC 4180, with a guard against formulas (OWASP, CSV injection) that leaves numbers like +1… whole. */
export function writeCsv(rows: readonly (readonly string[])[]): string {
  return `\ufeff${rows.map(csvLine).join('')}`;
}

/** The same piece by piece: memory does not grow with the file. */
export async function* streamCsv(pages: AsyncIterable<Cell[][]>): AsyncGenerator<string> {
  yield '\ufeff';
  for await (const page of pages) yield page.map((row) => csvLine(row.map(cellText))).join('');
}

/** One line of CSV with its line end. */
function csvLine(row: readonly string[]): string {
  const cell = (text: string) => {
    const safe = withoutFormula(text);
    // quoted where any program might split: some take semicolons or tabs for the delimiter
    return /[",;\t\n\r]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
  };
  return `${row.map(cell).join(',')}\r\n`;
}

/** A text that a spreadsheet would take for a formula gets an apostrophe; numbers with a sign stay whole. */
export function withoutFormula(text: string): string {
  const risky = /^[=@\t\r]/.test(text) || (/^[+-]/.test(text) && !/^[+-]?[\d\s().-]+$/.test(text));
  return risky ? `'${text}` : text;
}
