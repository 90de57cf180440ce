import ExcelJS from 'exceljs';
import { writeOds, writeXlsx } from 'hucre';
import { describe, expect, test } from 'vitest';
import writeExcelFile from 'write-excel-file/node';
import * as SheetJS from 'xlsx';
import { readWhole, refusal } from './testing';
import { dayOfSerial } from './xlsx';

/**
 * Our own readers of Office Open XML and OpenDocument against files written by other libraries of the registry, cell by
 * cell: exceljs, SheetJS, write-excel-file and hucre.
 */
type Cell = string | number | boolean | Date | null;
const DAY = new Date(Date.UTC(2027, 2, 9));
const CELLS: Cell[][] = [
  ['Mobile no.', 'First', 'Pass ends', 'Paid', 'Note'],
  [12075550117, 'Inès', DAY, true, 'line one\nline two'],
  [491761234567, 'Zoë & <Léo>', new Date(Date.UTC(1999, 11, 31)), false, '  spaces  kept '],
  [0.1, '', null, null, 'naïve “quotes” 🚢'],
  [-3.25, 'x', new Date(Date.UTC(2024, 1, 29)), true, '=1+1'],
  [123456789012345, '0207', null, false, "'+44 20"],
];
const shown = (cell: Cell): string =>
  cell === null
    ? ''
    : cell instanceof Date
      ? cell.toISOString().slice(0, 10)
      : typeof cell === 'boolean'
        ? String(cell).toUpperCase()
        : String(cell);
const EXPECTED = CELLS.map((row) => row.map(shown));
const padded = (rows: string[][]) => rows.map((row) => EXPECTED[0].map((_, i) => row[i] ?? ''));

async function byExcelJs(): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  book.addWorksheet('Notes', { state: 'hidden' }).addRow(['not this one']);
  const sheet = book.addWorksheet('Passes 2026');
  for (const row of CELLS) sheet.addRow(row.map((cell) => (cell === '' ? null : cell)));
  sheet.getColumn(3).numFmt = 'yyyy-mm-dd';
  return new Uint8Array(await book.xlsx.writeBuffer());
}

function bySheetJs(bookType: 'xlsx' | 'ods'): Uint8Array {
  const book = SheetJS.utils.book_new();
  const sheet = SheetJS.utils.aoa_to_sheet(CELLS, { cellDates: true, dateNF: 'yyyy-mm-dd', UTC: true } as SheetJS.AOA2SheetOpts);
  SheetJS.utils.book_append_sheet(book, sheet, 'Passes 2026');
  SheetJS.utils.book_append_sheet(book, SheetJS.utils.aoa_to_sheet([['other']]), 'Other & more');
  return SheetJS.write(book, { type: 'buffer', bookType, compression: true }) as Uint8Array;
}

const HUCRE = { sheets: [{ name: 'Passes 2026', rows: CELLS }] };

async function byWriteExcelFile(): Promise<Uint8Array> {
  const written = writeExcelFile(
    CELLS.map((row) =>
      row.map((cell) =>
        cell === null || cell === ''
          ? null
          : cell instanceof Date
            ? { value: cell, type: Date, format: 'yyyy-mm-dd' }
            : typeof cell === 'number'
              ? { value: cell, type: Number }
              : typeof cell === 'boolean'
                ? { value: cell, type: Boolean }
                : { value: cell, type: String },
      ),
    ),
    { sheet: 'Passes 2026' },
  );
  return new Uint8Array(await written.toBuffer());
}

describe('workbooks written by others, cell by cell', () => {
  test.each([
    ['exceljs, xlsx', byExcelJs],
    ['SheetJS, xlsx', async () => bySheetJs('xlsx')],
    ['write-excel-file, xlsx', byWriteExcelFile],
    ['hucre, xlsx', () => writeXlsx(HUCRE)],
    ['SheetJS, ods', async () => bySheetJs('ods')],
    ['hucre, ods', () => writeOds(HUCRE)],
  ])('%s', async (_name, write) => {
    const read = await readWhole(await write());
    expect(read.sheet).toBe('Passes 2026');
    expect(padded(read.rows)).toEqual(EXPECTED);
    expect(read.numbers).toEqual(CELLS.map((_, i) => i));
  });

  test('sheets by name, hidden ones said, and the first that shows taken', async () => {
    const bytes = await byExcelJs();
    expect((await readWhole(bytes)).sheets).toEqual([
      { name: 'Notes', hidden: true },
      { name: 'Passes 2026', hidden: false },
    ]);
    expect((await readWhole(bytes, { sheet: 'Notes' })).rows).toEqual([['not this one']]);
    expect((await readWhole(bySheetJs('ods'), { sheet: 'Other & more' })).rows).toEqual([['other']]);
  });

  test('rich text, formulas, merged cells, hidden and missing rows', async () => {
    const book = new ExcelJS.Workbook();
    const sheet = book.addWorksheet('One');
    sheet.getCell('A1').value = { richText: [{ text: 'Mo' }, { text: 'bile', font: { bold: true } }] };
    sheet.getCell('B1').value = 'First';
    sheet.getCell('A3').value = { formula: '1+1', result: 12075550117 };
    sheet.getCell('B3').value = { text: 'Ana', hyperlink: 'https://example.org' };
    sheet.getCell('A7').value = 'merged';
    sheet.mergeCells('A7:B8');
    sheet.getRow(3).hidden = true;
    const read = await readWhole(new Uint8Array(await book.xlsx.writeBuffer()));
    // of merged cells only the first has a value
    expect(read.rows).toEqual([['Mobile', 'First'], ['12075550117', 'Ana'], ['merged']]);
    expect(read.numbers).toEqual([0, 2, 6]);
    expect(read.notes.join(' ')).toMatch(/One row is hidden.*One cell is a formula/);
  });

  // ECMA-376 part 1, §18.17.4.1: serial 1 is 1900-01-01, 61 is 1900-03-01; in the 1904 system 0 is 1904-01-01
  test.each([
    ['1', false, '1900-01-01'],
    ['59', false, '1900-02-28'],
    ['61', false, '1900-03-01'],
    ['44197', false, '2021-01-01'],
    ['44197.75', false, '2021-01-01 18:00:00'],
    ['2958465', false, '9999-12-31'],
    ['42735', true, '2021-01-01'],
    ['12075550117', false, undefined],
  ])('serial %s', (raw, since1904, day) => expect(dayOfSerial(raw, since1904)).toBe(day));

  test('what is no workbook, or a damaged one, is refused in a sentence', async () => {
    const whole = await byExcelJs();
    expect(await refusal(whole.slice(0, whole.length - 400))).toMatch(/damaged/);
    expect(await refusal(Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, 1, 2]))).toMatch(/old or a locked workbook/);
    const broken = whole.slice();
    for (let i = 200; i < 1200; i += 7) broken[i] ^= 0x5a;
    expect(await refusal(broken)).toMatch(/damaged|not a workbook|no sheet|no rows|read/);
  });
});
