import Papa from 'papaparse';
import { decode, guessEncoding, type Encoding } from './charset';

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

export interface Table {
  rows: string[][];
  encoding: Encoding;
  delimiter: string;
  /** What was noticed on the way, in words. */
  notes: string[];
}

export const MOST_COLUMNS = 200;
export const MOST_ROWS = 1_000_000;

/**
 * CSV and TSV as RFC 4180 has them, and as spreadsheets really write them: any delimiter, `sep=` line, byte order
 * marks, UTF-16, Windows-1252, mixed line ends.
 * @throws UnreadableFile with the row where it goes wrong; nothing is half read
 */
export function readDelimited(bytes: Uint8Array): Table {
  if (bytes.length === 0) throw new UnreadableFile('The file is empty.');
  refuseOtherFormats(bytes);
  const encoding = guessEncoding(bytes);
  const text = decode(bytes, encoding);
  if (text.slice(0, 4000).includes('\0'))
    throw new UnreadableFile('This is not a text file: it holds binary data. Save the sheet as CSV and choose that file.');
  return readText(text, encoding);
}

function refuseOtherFormats(bytes: Uint8Array): void {
  const magic = String.fromCharCode(...bytes.subarray(0, 8));
  if (magic.startsWith('PK'))
    throw new UnreadableFile(
      'This is a workbook or a zip file, whatever its name says. Save the sheet as CSV and choose that file.',
    );
  if (magic.startsWith('%PDF'))
    throw new UnreadableFile('This is a PDF, not a table. Save the sheet as CSV and choose that file.');
  if (magic.startsWith('\u00d0\u00cf\u0011\u00e0'))
    throw new UnreadableFile('This is an old workbook (.xls). Save the sheet as CSV and choose that file.');
}

/** The same for text that is already decoded (pasted). */
export function readText(source: string, encoding: Encoding = 'utf-8'): Table {
  const notes: string[] = [];
  let text = source.replace(/\r\n?/g, '\n');
  const sep = /^sep=(.)\n/i.exec(text);
  if (sep) text = text.slice(sep[0].length);
  if (text.trim() === '') throw new UnreadableFile('The file holds no rows.');
  const parsed = Papa.parse<string[]>(text, {
    delimiter: sep?.[1] ?? '',
    newline: '\n',
    skipEmptyLines: false,
    delimitersToGuess: [',', ';', '\t', '|'],
  });
  const quote = parsed.errors.find((error) => error.type === 'Quotes');
  if (quote) {
    const row = (quote.row ?? 0) + 1;
    throw new UnreadableFile(
      quote.code === 'MissingQuotes'
        ? `Row ${row} opens a quote (") that is never closed, so nothing after it can be told apart.`
        : `Row ${row} has a quote (") in the middle of a cell.`,
      `row ${row}`,
    );
  }
  const rows = parsed.data;
  while (rows.length > 0 && rows[rows.length - 1].every((cell) => cell.trim() === '')) rows.pop();
  if (rows.length === 0) throw new UnreadableFile('The file holds no rows.');
  if (rows.length > MOST_ROWS)
    throw new UnreadableFile(`The file has ${rows.length} rows; at most ${MOST_ROWS} can be brought in at once.`);
  const widest = rows.reduce((most, row) => Math.max(most, row.length), 0);
  if (widest > MOST_COLUMNS)
    throw new UnreadableFile(
      `A row has ${widest} columns; at most ${MOST_COLUMNS} can be read. Is the delimiter right?`,
      'columns',
    );
  if (/\ufffd/.test(text)) notes.push('Some characters could not be read and show as �.');
  return { rows, encoding, delimiter: parsed.meta.delimiter, notes };
}

/** One number a line, or many on one line: pasted text without a table in it. Undefined when it is a table. */
export function readNumberList(text: string): string[][] | undefined {
  const pieces = text
    .split(/[\n\r,;\t]+/)
    .map((piece) => piece.trim())
    .filter((piece) => piece !== '');
  return pieces.length > 0 && pieces.every((piece) => /^[+\d\s().-]{7,}$/.test(piece))
    ? pieces.map((piece) => [piece])
    : undefined;
}

/** RFC 4180, with a guard against formulas (OWASP, CSV injection) that leaves numbers like +1… whole. */
export function writeCsv(rows: readonly (readonly string[])[]): string {
  const cell = (text: string) => {
    const risky = /^[=@\t\r]/.test(text) || (/^[+-]/.test(text) && !/^[+-]?[\d\s().-]+$/.test(text));
    const safe = risky ? `'${text}` : text;
    return /[",\n\r]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
  };
  return `\ufeff${rows.map((row) => row.map(cell).join(',')).join('\r\n')}\r\n`;
}
