import {
  LONGEST_CELL,
  MOST_COLUMNS,
  RowBatches,
  tooWide,
  UnreadableFile,
  type NumberedRow,
  type OpenTable,
  type SheetName,
} from './table';
import { readAllXml, readXml } from './xml';
import { Zip } from './zip';

/** The same row written "so many times over" is a pattern, not people. */
const MOST_REPEATS = 2000;

/**
 * OpenDocument spreadsheets (OASIS ODF 1.2 part 1, §9 and §19.385 on): values from the `office:` attributes, so that no
 * digit is lost to how a cell is shown; repeated cells and rows with limits; notes on cells left out.
 */
export async function openOds(path: string, wanted?: string): Promise<OpenTable> {
  const zip = await Zip.open(path);
  try {
    if (!zip.has('content.xml')) throw new UnreadableFile('The workbook is damaged: it has no content.');
    const sheets = await sheetsOf(zip);
    if (sheets.length === 0) throw new UnreadableFile('The workbook has no sheet.');
    const sheet = sheets.find((each) => each.name === wanted) ?? sheets.find((each) => !each.hidden) ?? sheets[0];
    const notes: string[] = [];
    return {
      format: 'ods',
      encoding: undefined,
      delimiter: undefined,
      sheets,
      sheet: sheet.name,
      notes,
      rows: () => rowsOf(zip, sheets.indexOf(sheet), sheet.name, notes),
    };
  } catch (error) {
    zip.close();
    throw error;
  }
}

async function sheetsOf(zip: Zip): Promise<SheetName[]> {
  const sheets: { name: string; style: string }[] = [];
  const hiddenStyles = new Set<string>();
  let style = '';
  let depth = 0;
  await readAllXml(zip.read('content.xml'), {
    open(tag, a) {
      if (tag === 'style' && a.family === 'table') style = a.name ?? '';
      else if (tag === 'table-properties' && a.display === 'false') hiddenStyles.add(style);
      else if (tag === 'table' && (depth += 1) === 1)
        sheets.push({ name: a.name ?? `Sheet ${sheets.length + 1}`, style: a['style-name'] ?? '' });
    },
    close(tag) {
      if (tag === 'table') depth -= 1;
    },
    text: () => undefined,
  });
  return sheets.map((sheet) => ({ name: sheet.name, hidden: hiddenStyles.has(sheet.style) }));
}

/** How often a row or a cell is repeated (ODF 1.2 part 1, §19.675 and §19.679: a positive whole number). */
function repeats(written: string | undefined, row: number): number {
  if (written === undefined) return 1;
  if (!/^\d{1,8}$/.test(written) || Number(written) < 1)
    throw new UnreadableFile(
      `Row ${row + 1} says that something is repeated “${written.slice(0, 20)}” times. Save the workbook again and choose it.`,
      `row ${row + 1}`,
    );
  return Number(written);
}

async function* rowsOf(zip: Zip, wanted: number, name: string, notes: string[]): AsyncGenerator<NumberedRow[]> {
  try {
    const batches = new RowBatches();
    const ready: NumberedRow[][] = [];
    let sheet = -1;
    let depth = 0;
    let row = 0;
    let rowRepeats = 1;
    let cells: string[] = [];
    let column = 0;
    let columnRepeats = 1;
    let value: string | undefined;
    let paragraphs = 0;
    let text = '';
    let taking = false;
    let aside = 0;
    let hidden = 0;
    let formulas = 0;
    for await (const batch of readXml(
      zip.read('content.xml'),
      {
        open(tag, a) {
          if (tag === 'table') {
            depth += 1;
            if (depth === 1) sheet += 1;
            return;
          }
          if (sheet !== wanted || depth !== 1) return;
          if (tag === 'table-row') {
            rowRepeats = repeats(a['number-rows-repeated'], row);
            cells = [];
            column = 0;
            if (a.visibility === 'collapse' || a.visibility === 'filter') hidden += 1;
          } else if (tag === 'table-cell' || tag === 'covered-table-cell') {
            columnRepeats = repeats(a['number-columns-repeated'], row);
            paragraphs = 0;
            text = '';
            value = undefined;
            if (a.formula !== undefined) formulas += 1;
            switch (a['value-type']) {
              case 'float':
              case 'percentage':
              case 'currency':
                value = a.value;
                break;
              case 'date':
                value = a['date-value']?.replace(/T00:00:00(\.0+)?Z?$/, '').replace('T', ' ');
                break;
              case 'boolean':
                value = a['boolean-value']?.toUpperCase();
                break;
              case 'string':
                value = a['string-value'];
                break;
            }
          } else if (tag === 'annotation') aside += 1;
          else if (aside === 0 && tag === 'p') {
            if (paragraphs > 0) text += '\n';
            paragraphs += 1;
            taking = true;
          } else if (taking && tag === 's') text += ' '.repeat(Math.min(1000, Number(a.c ?? 1)));
          else if (taking && tag === 'tab') text += '\t';
          else if (taking && tag === 'line-break') text += '\n';
        },
        close(tag) {
          if (tag === 'table') {
            depth -= 1;
            return;
          }
          if (sheet !== wanted || depth !== 1) return;
          if (tag === 'annotation') aside -= 1;
          else if (tag === 'p' && aside === 0) taking = false;
          else if (tag === 'table-cell' || tag === 'covered-table-cell') {
            const shown = value ?? text;
            if (shown !== '') {
              if (column + columnRepeats > MOST_COLUMNS && shown.trim() !== '') throw tooWide(row, column + columnRepeats);
              while (cells.length < column) cells.push('');
              for (let i = 0; i < Math.min(columnRepeats, MOST_COLUMNS); i += 1) cells[column + i] = shown;
            }
            column += columnRepeats;
          } else if (tag === 'table-row') {
            const blank = cells.every((cell) => cell.trim() === '');
            if (!blank && rowRepeats > MOST_REPEATS)
              throw new UnreadableFile(
                `Row ${row + 1} is written once for ${rowRepeats.toLocaleString('en-US')} rows; that is a pattern, not people.`,
                `row ${row + 1}`,
              );
            for (let i = 0; i < (blank ? 0 : rowRepeats); i += 1) {
              // one and the same row: it is never changed again
              const full = batches.add(row + i, cells);
              if (full) ready.push(full);
            }
            row += rowRepeats;
          }
        },
        text(piece) {
          if (taking && aside === 0 && text.length <= LONGEST_CELL) text += piece;
        },
      },
      () => ready.splice(0),
    ))
      yield batch;
    const left = batches.take();
    if (left.length > 0) yield left;
    notes.push(...batches.remarks());
    if (!batches.seen) throw new UnreadableFile(`The sheet “${name}” holds no rows.`);
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
