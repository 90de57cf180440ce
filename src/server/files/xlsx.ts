import { posix } from 'node:path';
import {
  MOST_COLUMNS,
  RowBatches,
  tooWide,
  UnreadableFile,
  type NumberedRow,
  type OpenTable,
  type SheetName,
  LONGEST_CELL,
  MOST_ROWS,
} from './table';
import { readAllXml, readXml } from './xml';
import { Zip } from './zip';

/**
 * Workbooks of Office Open XML (ECMA-376 part 1, §18): cells as the raw text of the file, so that no digit is lost; dates
 * by their number format; shared and inline strings; cells and rows without a reference; sheets through relationships.
 */
export async function openXlsx(path: string, wanted?: string): Promise<OpenTable> {
  const zip = await Zip.open(path);
  try {
    const book = await bookOf(zip);
    if (book.sheets.length === 0) throw new UnreadableFile('The workbook has no sheet.');
    const sheet = book.sheets.find((each) => each.name === wanted) ?? book.sheets.find((each) => !each.hidden) ?? book.sheets[0];
    const notes: string[] = [];
    return {
      format: 'xlsx',
      encoding: undefined,
      delimiter: undefined,
      sheets: book.sheets.map(({ name, hidden }) => ({ name, hidden })),
      sheet: sheet.name,
      notes,
      rows: () => rowsOf(zip, book, sheet, notes),
    };
  } catch (error) {
    zip.close();
    throw error;
  }
}

/** Characters and pieces of shared text that are held while a sheet is read. */
const MOST_SHARED = 64_000_000;
const MOST_STRINGS = 4_000_000;

interface Sheet extends SheetName {
  part: string;
}
interface Book {
  sheets: Sheet[];
  strings: string | undefined;
  styles: string | undefined;
  /** Days are counted from 1904 instead of 1900 (ECMA-376 part 1, §18.2.28). */
  since1904: boolean;
}

async function relationsOf(zip: Zip, part: string): Promise<{ id: string; type: string; target: string }[]> {
  const name = posix.join(posix.dirname(part), '_rels', `${posix.basename(part)}.rels`);
  const found: { id: string; type: string; target: string }[] = [];
  if (!zip.has(name)) return found;
  await readAllXml(zip.read(name), {
    open(tag, a) {
      if (tag !== 'Relationship') return;
      const target = a.Target ?? '';
      found.push({
        id: a.Id ?? '',
        type: (a.Type ?? '').replace(/^.*\//, ''),
        target: target.startsWith('/') ? target.slice(1) : posix.normalize(posix.join(posix.dirname(part), target)),
      });
    },
    close: () => undefined,
    text: () => undefined,
  });
  return found;
}

async function bookOf(zip: Zip): Promise<Book> {
  const main = (await relationsOf(zip, '')).find((each) => each.type === 'officeDocument')?.target ?? 'xl/workbook.xml';
  if (!zip.has(main)) throw new UnreadableFile('This is a zip file, but not a workbook. Unpack it and choose the sheet in it.');
  const relations = await relationsOf(zip, main);
  const sheets: Sheet[] = [];
  let since1904 = false;
  await readAllXml(zip.read(main), {
    open(tag, a) {
      if (tag === 'workbookPr') since1904 = a.date1904 === '1' || a.date1904 === 'true';
      if (tag !== 'sheet') return;
      const relation = relations.find((each) => each.id === a.id);
      if (relation?.type === 'worksheet' && zip.has(relation.target))
        sheets.push({
          name: a.name ?? `Sheet ${sheets.length + 1}`,
          hidden: a.state === 'hidden' || a.state === 'veryHidden',
          part: relation.target,
        });
    },
    close: () => undefined,
    text: () => undefined,
  });
  const partOf = (type: string) => relations.find((each) => each.type === type && zip.has(each.target))?.target;
  return { sheets, strings: partOf('sharedStrings'), styles: partOf('styles'), since1904 };
}

async function stringsOf(zip: Zip, part: string | undefined): Promise<string[]> {
  const strings: string[] = [];
  if (!part) return strings;
  let text = '';
  let inText = false;
  let phonetic = 0;
  let held = 0;
  await readAllXml(zip.read(part), {
    open(tag) {
      if (tag === 'si') text = '';
      else if (tag === 't') inText = phonetic === 0;
      else if (tag === 'rPh') phonetic += 1; // reading aids beside East Asian text are not the text
    },
    close(tag) {
      if (tag === 'si') {
        const kept = unescaped(text.length > LONGEST_CELL ? text.slice(0, LONGEST_CELL + 1) : text);
        held += kept.length;
        if (held > MOST_SHARED || strings.length >= MOST_STRINGS)
          throw new UnreadableFile(
            `The workbook holds more than ${held > MOST_SHARED ? '64 million characters' : '4 million pieces'} of text beside its sheets. Save the sheet as CSV and choose that file.`,
          );
        strings.push(kept);
      } else if (tag === 't') inText = false;
      else if (tag === 'rPh') phonetic -= 1;
    },
    text(piece) {
      if (inText && text.length <= LONGEST_CELL) text += piece;
    },
  });
  return strings;
}

/** `_x000D_` stands for a control character (ECMA-376 part 1, §22.9.2.19). */
function unescaped(text: string): string {
  return text.includes('_x')
    ? text.replace(/_x([0-9A-Fa-f]{4})_/g, (_, code: string) => String.fromCharCode(parseInt(code, 16)))
    : text;
}

/** Which cell formats show a number as a date: the built-in ones (§18.8.30), and custom codes with day, month or year in them. */
async function dateFormatsOf(zip: Zip, part: string | undefined): Promise<boolean[]> {
  const custom = new Map<number, boolean>();
  const formats: boolean[] = [];
  let inCells = false;
  if (!part) return formats;
  await readAllXml(zip.read(part), {
    open(tag, a) {
      if (tag === 'numFmt') custom.set(Number(a.numFmtId), isDateCode((a.formatCode ?? '').slice(0, 255)));
      else if (tag === 'cellXfs') inCells = true;
      else if (tag === 'xf' && inCells) {
        const id = Number(a.numFmtId ?? 0);
        formats.push(custom.get(id) ?? ((id >= 14 && id <= 17) || id === 22 || (id >= 27 && id <= 36) || (id >= 50 && id <= 58)));
      }
    },
    close(tag) {
      if (tag === 'cellXfs') inCells = false;
    },
    text: () => undefined,
  });
  return formats;
}

function isDateCode(code: string): boolean {
  const bare = code.replace(/"[^"]*"|\\.|\[[^\]]*\]|_.|\*./g, '');
  return /[dy]/i.test(bare) || (/m/i.test(bare) && !/[hs]/i.test(bare));
}

/** A serial day as `YYYY-MM-DD`, with its time when it has one; undefined when it cannot be a day (a phone number, say). */
export function dayOfSerial(raw: string, since1904: boolean): string | undefined {
  const serial = Number(raw);
  if (!Number.isFinite(serial) || serial < 1 || serial >= 2_958_466) return undefined;
  // day 60 of the 1900 system is a 29 February that never was, kept for the sake of an older program
  const days = since1904 ? serial + 1462 : serial < 60 ? serial + 1 : serial;
  const ms = Math.round((days - 25_569) * 86_400_000);
  const written = new Date(ms).toISOString();
  return written.endsWith('T00:00:00.000Z') ? written.slice(0, 10) : `${written.slice(0, 10)} ${written.slice(11, 19)}`;
}

/** A row's number as 0-based, after the row before; rows stand in order (ECMA-376 part 1, §18.3.1.73). */
function rowOf(reference: string, before: number): number {
  const row = /^\d{1,7}$/.test(reference) ? Number(reference) - 1 : NaN;
  if (!(row >= 0 && row < MOST_ROWS))
    throw new UnreadableFile(
      `After row ${before + 1} a row is numbered “${reference.slice(0, 20)}”; rows are numbered 1 to ${MOST_ROWS.toLocaleString('en-US')}. Save the workbook again and choose it.`,
      `after row ${before + 1}`,
    );
  if (row <= before)
    throw new UnreadableFile(
      `Row ${row + 1} stands ${row === before ? 'twice' : `after row ${before + 1}`} in the sheet, so what belongs to it cannot be told. Save the workbook again and choose it.`,
      `row ${row + 1}`,
    );
  return row;
}

/** `BC12` → 54 (0-based). */
function columnOf(reference: string, row: number): number {
  const letters = /^([A-Za-z]{1,3})\d{0,7}$/.exec(reference)?.[1];
  if (letters === undefined)
    throw new UnreadableFile(
      `In row ${row + 1} a cell is called “${reference.slice(0, 20)}”, which names no column. Save the workbook again and choose it.`,
      `row ${row + 1}`,
    );
  let column = 0;
  for (const letter of letters.toUpperCase()) column = column * 26 + letter.charCodeAt(0) - 64;
  return column - 1;
}

async function* rowsOf(zip: Zip, book: Book, sheet: Sheet, notes: string[]): AsyncGenerator<NumberedRow[]> {
  try {
    const strings = await stringsOf(zip, book.strings);
    const dates = await dateFormatsOf(zip, book.styles);
    const batches = new RowBatches();
    const ready: NumberedRow[][] = [];
    let row = -1;
    let cells: string[] = [];
    let column = -1;
    let type = 'n';
    let style = 0;
    let value = '';
    let taking = false;
    let phonetic = 0;
    let hidden = 0;
    let formulas = 0;
    const put = () => {
      if (value === '') return;
      let shown = value;
      if (type === 's') shown = strings[Number(value)] ?? '';
      else if (type === 'inlineStr' || type === 'str') shown = unescaped(value);
      else if (type === 'b') shown = value === '1' ? 'TRUE' : 'FALSE';
      else if (type === 'd') shown = value.replace('T', ' ').replace(/ 00:00:00(\.000)?Z?$/, '');
      else if (type === 'n' && dates[style]) shown = dayOfSerial(value, book.since1904) ?? value;
      if (shown === '') return;
      if (column >= MOST_COLUMNS) {
        if (shown.trim() === '') return;
        throw tooWide(row, column + 1);
      }
      while (cells.length < column) cells.push('');
      cells[column] = shown;
    };
    for await (const batch of readXml(
      zip.read(sheet.part),
      {
        open(tag, a) {
          if (tag === 'row') {
            row = a.r === undefined ? row + 1 : rowOf(a.r, row);
            cells = [];
            column = -1;
            if (a.hidden === '1' || a.hidden === 'true') hidden += 1;
          } else if (tag === 'c') {
            column = a.r === undefined ? column + 1 : columnOf(a.r, row);
            type = a.t ?? 'n';
            style = Number(a.s ?? 0);
            value = '';
          } else if (tag === 'v' || tag === 't') taking = phonetic === 0;
          else if (tag === 'rPh') phonetic += 1;
          else if (tag === 'f') formulas += 1;
        },
        close(tag) {
          if (tag === 'c') put();
          else if (tag === 'v' || tag === 't') taking = false;
          else if (tag === 'rPh') phonetic -= 1;
          else if (tag === 'row') {
            const full = batches.add(row, cells);
            if (full) ready.push(full);
          }
        },
        text(piece) {
          if (taking && value.length <= LONGEST_CELL) value += piece;
        },
      },
      () => ready.splice(0),
    ))
      yield batch;
    const left = batches.take();
    if (left.length > 0) yield left;
    notes.push(...batches.remarks());
    if (!batches.seen) throw new UnreadableFile(`The sheet “${sheet.name}” holds no rows.`);
    if (hidden > 0)
      notes.push(
        `${hidden === 1 ? 'One row is' : `${hidden.toLocaleString('en-US')} rows are`} hidden in the sheet and ${hidden === 1 ? 'was' : 'were'} read too.`,
      );
    if (formulas > 0)
      notes.push(
        `${formulas === 1 ? 'One cell is a formula' : `${formulas.toLocaleString('en-US')} cells are formulas`}; what they last showed was read.`,
      );
  } finally {
    zip.close();
  }
}
