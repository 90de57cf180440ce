import { Readable } from 'node:stream';
import yazl from 'yazl';
import { cellText, serialOf, type Cell } from './cell';
import { MOST_ROWS } from './table';

const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const RELATIONS = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
const TYPES = 'application/vnd.openxmlformats-officedocument.spreadsheetml';
/** A workbook as a download names it (IANA media types). */
export const XLSX = `${TYPES}.sheet`;

/** The parts of a workbook of one sheet beside its rows (ECMA-376 part 1, §12.3; part 2, §9). */
const parts = (sheet: string): [string, string][] => [
  [
    '[Content_Types].xml',
    `<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${TYPES}.sheet.main+xml"/><Override PartName="/xl/styles.xml" ContentType="${TYPES}.styles+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="${TYPES}.worksheet+xml"/></Types>`,
  ],
  [
    '_rels/.rels',
    `<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rId1" Type="${RELATIONS}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
  ],
  [
    'xl/workbook.xml',
    `<workbook xmlns="${MAIN}" xmlns:r="${RELATIONS}"><sheets><sheet name="${escaped(sheet)}" sheetId="1" r:id="rId1"/></sheets></workbook>`,
  ],
  [
    'xl/_rels/workbook.xml.rels',
    `<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rId1" Type="${RELATIONS}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="${RELATIONS}/styles" Target="styles.xml"/></Relationships>`,
  ],
  // text is text ("@", §18.8.30), so that no program reshapes a text number; numbers, days and times have styles of their own (see STYLE);
  // and there is the style that all others are made from (§18.8.7), without which readers warn
  [
    'xl/styles.xml',
    `<styleSheet xmlns="${MAIN}"><numFmts count="2"><numFmt numFmtId="164" formatCode="yyyy\\-mm\\-dd"/><numFmt numFmtId="165" formatCode="yyyy\\-mm\\-dd\\ hh:mm:ss"/></numFmts><fonts count="2"><font><sz val="11"/><name val="Calibri"/></font><font><b/><sz val="11"/><name val="Calibri"/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="6"><xf xfId="0"/><xf numFmtId="49" xfId="0" applyNumberFormat="1"/><xf numFmtId="49" fontId="1" xfId="0" applyNumberFormat="1" applyFont="1"/><xf numFmtId="0" xfId="0"/><xf numFmtId="164" xfId="0" applyNumberFormat="1"/><xf numFmtId="165" xfId="0" applyNumberFormat="1"/></cellXfs><cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>`,
  ],
];

/**
 * A table as a workbook of one sheet, piece by piece: however many rows there are, few of them are held. Numbers are numbers, days are days,
 * all else is text, text numbers too, so that none is reshaped and nothing is a formula. The first row are the headings.
 */
export async function* streamXlsx(sheet: string, pages: AsyncIterable<Cell[][]>): AsyncGenerator<Uint8Array> {
  const zip = new yazl.ZipFile();
  for (const [name, xml] of parts(sheet)) zip.addBuffer(Buffer.from(XML + xml), name);
  const rows = Readable.from(sheetXml(pages));
  zip.addReadStream(rows, 'xl/worksheets/sheet1.xml');
  zip.end();
  // an error of the rows (the database is gone) ends the whole, which would else wait for ever
  const out = zip.outputStream as Readable;
  rows.on('error', (error) => out.destroy(error));
  for await (const piece of out) yield piece as Uint8Array;
}

async function* sheetXml(pages: AsyncIterable<Cell[][]>): AsyncGenerator<string> {
  let no = 0;
  for await (const page of pages) {
    let xml = '';
    for (const cells of page) {
      no += 1;
      // rather no whole file than one that lacks people without a word
      if (no > MOST_ROWS) throw new Error(`A workbook holds ${MOST_ROWS} rows; these are more.`);
      if (no === 1)
        xml += `${XML}<worksheet xmlns="${MAIN}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><cols><col min="1" max="${Math.max(1, cells.length)}" width="18" style="1" customWidth="1"/></cols><sheetData>`;
      xml += rowXml(no, cells, no === 1 ? STYLE.heading : STYLE.text);
    }
    yield xml;
  }
  yield no === 0 ? `${XML}<worksheet xmlns="${MAIN}"><sheetData/></worksheet>` : '</sheetData></worksheet>';
}

/** Where the styles stand in `cellXfs`. */
const STYLE = { text: 1, heading: 2, number: 3, day: 4, at: 5 } as const;

function rowXml(no: number, cells: readonly Cell[], style: number): string {
  let xml = `<row r="${no}">`;
  cells.forEach((cell, column) => {
    const counted = countedXml(cell);
    if (counted !== undefined) xml += `<c r="${letters(column)}${no}" ${counted}</c>`;
    else {
      const text = cellText(cell);
      if (text !== '')
        xml += `<c r="${letters(column)}${no}" t="inlineStr" s="${style}"><is><t xml:space="preserve">${escaped(plain(text))}</t></is></c>`;
    }
  });
  return `${xml}</row>`;
}

/** What is counted: a number, a day, a time. Undefined for text. */
function countedXml(cell: Cell): string | undefined {
  if (typeof cell === 'number') return Number.isFinite(cell) ? `s="${STYLE.number}"><v>${cell}</v>` : undefined;
  if (typeof cell !== 'object' || cell === null) return undefined;
  const serial = serialOf(cell);
  return serial === undefined ? undefined : `s="${'day' in cell ? STYLE.day : STYLE.at}"><v>${serial}</v>`;
}

/** A, B … Z, AA … (ECMA-376 part 1, §18.18.7). @param column 0-based */
function letters(column: number): string {
  const before = Math.floor(column / 26);
  return (before > 0 ? letters(before - 1) : '') + String.fromCharCode(65 + (column % 26));
}

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', '\r': '&#13;' };

/** `_x000D_` and the like stand for a character in a workbook (§22.4.2.4): what looks so is told to be itself. */
function escaped(text: string): string {
  return text.replace(/_(?=x[0-9A-Fa-f]{4}_)/g, '_x005F_').replace(/[&<>"\r]/g, (each) => ESCAPES[each]);
}

/** XML 1.0 has no control characters but tab and line breaks (§2.2), and a cell holds 32,767 characters. */
function plain(text: string): string {
  return text
    .slice(0, 32_767)
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .toWellFormed();
}
