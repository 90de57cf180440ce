import ExcelJS from 'exceljs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import XLSX from 'xlsx';
import { readWhole, xlsxOf } from './testing';
import { streamXlsx } from './write-xlsx';

const ROWS = [
  ['text number', 'given name', 'note'],
  ['+1 207 555 0142', 'Marisol', '=1+1'],
  ['02075550163', 'Inès', ' kept  spaces '],
  ['1.20756E+10', '<b>&"quoted"</b>', 'two\nlines'],
  ['0042', '', '_x000D_ stays what it is, _x12G4_ too'],
  ['9007199254740993', '🐟 漁', 'a\rb'],
];

/** Cells as text, as another library reads them. */
async function byExcelJs(file: Buffer): Promise<string[][]> {
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(file as unknown as ArrayBuffer);
  const rows: string[][] = [];
  book.worksheets[0].eachRow((row) => {
    rows.push(Array.from({ length: 3 }, (_, i) => row.getCell(i + 1).text));
  });
  return rows;
}

describe('writing workbooks (ECMA-376)', () => {
  test('two other libraries read every cell as the text it is, and so do we', async () => {
    const file = await xlsxOf(ROWS);
    expect((await readWhole(file)).rows).toEqual(ROWS.map((row) => row.map((cell) => (cell.trim() === '' ? '' : cell))));
    // exceljs does not take `_x005F_` in an inline text for the underscore it stands for (§22.4.2.4)
    const byExcel = await byExcelJs(file);
    expect(byExcel.map((row) => row.map((cell) => cell.replace('_x005F_x000D_', '_x000D_')))).toEqual(ROWS);
    const sheet = XLSX.read(file).Sheets.People;
    expect(XLSX.utils.sheet_to_json(sheet, { header: 1, defval: '' })).toEqual(ROWS);
  });

  test('whatever stands in the cells comes back from a round, without what XML cannot hold', async () => {
    const cell = fc.string({ unit: 'binary', maxLength: 20 }).filter((text) => /^[^\p{C}\p{Z}]+$/u.test(text));
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(cell, { minLength: 2, maxLength: 40 }), { minLength: 1, maxLength: 6 }),
        async (rows) => {
          const width = Math.max(...rows.map((row) => row.length));
          const even = rows.map((row) => Array.from({ length: width }, (_, i) => row[i] ?? 'x'));
          expect((await readWhole(await xlsxOf(even))).rows).toEqual(even);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('numbers are numbers, days and times are days and times, text numbers are text; and there is a style to begin with', async () => {
    async function* pages() {
      yield [
        ['text number', 'parts', 'cost', 'born', 'planned (America/New_York)', 'old'],
        [
          '+12075550142',
          3,
          0.0225,
          { day: '2015-04-01' },
          { at: '2026-12-02T21:30:05.700Z', zone: 'America/New_York' },
          { day: '1899-05-01' },
        ],
      ];
    }
    const pieces: Uint8Array[] = [];
    for await (const piece of streamXlsx('Run', pages())) pieces.push(piece);
    const file = Buffer.concat(pieces);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(file as unknown as ArrayBuffer);
    const row = book.worksheets[0].getRow(2);
    const value = (column: number) => row.getCell(column).value;
    expect([value(1), value(2), value(3), value(6)]).toEqual(['+12075550142', 3, 0.0225, '1899-05-01']);
    expect(value(4)).toEqual(new Date('2015-04-01T00:00:00Z'));
    // as the clock there shows it: a workbook knows no zones
    expect((value(5) as Date).toISOString().slice(0, 19)).toBe('2026-12-02T16:30:05');
    expect([row.getCell(1).numFmt, row.getCell(4).numFmt]).toEqual(['@', 'yyyy-mm-dd']);
    // and by another: SheetJS reads the same, with the formats as it shows them
    const sheet = XLSX.read(file, { cellNF: true }).Sheets.Run;
    expect([sheet.A2.t, sheet.B2.t, sheet.D2.w, sheet.E2.w]).toEqual(['s', 'n', '2015-04-01', '2026-12-02 16:30:05']);
    expect(XLSX.read(file, { bookFiles: true })).toHaveProperty(['files', 'xl/styles.xml']);
  });

  test('nobody on it is a workbook, too', async () => {
    const file = await xlsxOf([]);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(file as unknown as ArrayBuffer);
    expect(book.worksheets[0].rowCount).toBe(0);
  });

  test('pages are asked for as the file is taken, not all before', async () => {
    let asked = 0;
    async function* pages() {
      for (; asked < 2000; asked += 1)
        yield Array.from({ length: 200 }, (_, i) => [`${asked * 7919 + i * 104_729}`, `${Math.sin(asked + i)}`]);
    }
    for await (const piece of streamXlsx('People', pages())) {
      if (piece.length > 0 && asked > 0) break;
    }
    expect(asked).toBeLessThan(2000);
  });

  test('when the rows fail, so does the file', async () => {
    async function* pages(): AsyncGenerator<string[][]> {
      yield [['text number']];
      throw new Error('the database is gone');
    }
    const take = async () => {
      for await (const piece of streamXlsx('People', pages())) void piece;
    };
    await expect(take()).rejects.toThrow('the database is gone');
  });
});
