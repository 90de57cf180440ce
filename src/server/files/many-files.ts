import { writeOds, writeXlsx } from 'hucre';
import { writeCsv } from './delimited';
import { spreadsheet, workbook, xlsxOf, zipOf } from './testing';

/**
 * Files with one phone cell each that went wrong somewhere, in every container, with what a careful person would say of it: the
 * number; `asks` where there is a likely reading that only a person may accept; `no` where nobody can tell, or it is none.
 */
export const CELLS: readonly [cell: string, country: string, says: string][] = [
  ['207-555-0142', 'US', '+12075550142'],
  ['+1 (207) 555-0142', 'US', '+12075550142'],
  ['1-207-555-0142', 'US', '+12075550142'],
  ['12075550142', 'US', '+12075550142'],
  ['+1\u00a0207\u2011555\u20110142', 'US', '+12075550142'],
  ['\u202a+12075550142\u202c', 'US', '+12075550142'],
  ['0044 20 7946 0018', 'US', '+442079460018'],
  ['+49 (0)171 1234567', 'DE', '+491711234567'],
  ['55 1234 5678', 'MX', '+525512345678'],
  // all digits are there (ECMA-376 part 1, §18.8.30 on how numbers are shown; common practice)
  ['2.075550142E+9', 'US', '+12075550142'],
  ['2075550142.0', 'US', '+12075550142'],
  ['2.0756E+09', 'US', 'no'],
  ['20755501.42', 'US', 'no'],
  ['1207555014.2', 'US', 'no'],
  ['207-555-0142 ext. 7', 'US', 'asks'],
  ['207-555-0142 / 207-555-0143', 'US', 'asks'],
  ['2075550142,2075550143', 'US', 'asks'],
  ['207-555-0142\n207-555-0143', 'US', 'asks'],
  ['2O7-555-O142', 'US', 'asks'],
  ['0171 1234567 (2)', 'DE', 'asks'],
  ['0171 1234567²', 'DE', 'asks'],
  ['0664 1234567/8', 'AT', 'asks'],
  ['21-12-2027', 'DK', 'no'],
  ['3/9/2027', 'US', 'no'],
  ['044 55 1234 5678', 'MX', 'no'],
  ['5550142', 'US', 'no'],
  ['=1+1', 'US', 'no'],
  ['#N/A', 'US', 'no'],
  ['ask him', 'US', 'no'],
  ['207-555-0142 (Mom)', 'US', 'no'],
  [`207-555-0142${' '.repeat(20_000)}x`, 'US', 'no'],
  [`${'1'.repeat(20_000)}E`, 'US', 'no'],
];

const utf16 = (text: string, big: boolean) => {
  const bytes = Buffer.from(text, 'utf16le');
  return big ? bytes.swap16() : bytes;
};
const quoted = (delimiter: string, rows: readonly (readonly string[])[]) =>
  rows
    .map((row) => row.map((cell) => (/["\n]/.test(cell) || cell.includes(delimiter) ? `"${cell.replace(/"/g, '""')}"` : cell)))
    .map((row) => `${row.join(delimiter)}\n`)
    .join('');
type Rows = readonly (readonly string[])[];

/** Ways in which the same three rows come; undefined where a container cannot hold the cell. */
export const CONTAINERS: readonly [
  name: string,
  make: (rows: Rows) => Promise<Uint8Array | string | undefined> | Uint8Array | string | undefined,
][] = [
  ['CSV as we write it', (rows) => writeCsv(rows).replace(/'(?==)/g, '')],
  ['semicolons', (rows) => quoted(';', rows)],
  ['tabs', (rows) => quoted('\t', rows)],
  ['upright bars', (rows) => quoted('|', rows)],
  ['sep= in quotes', (rows) => `"sep=;"\n${quoted(';', rows)}`],
  ['UTF-16', (rows) => utf16(`\ufeff${quoted('\t', rows)}`, false)],
  ['UTF-16, big end first, without a mark', (rows) => utf16(quoted(',', rows), true)],
  [
    'Windows-1252',
    (rows) => (/[^\u0000-\u007f\u00a0-\u00ff]/.test(rows.flat().join('')) ? undefined : Buffer.from(quoted(',', rows), 'latin1')),
  ],
  ['XLSX by hucre', async (rows) => writeXlsx({ sheets: [{ name: 'One', rows: rows.map((row) => [...row]) }] })],
  ['XLSX as we write it', (rows) => xlsxOf(rows.map((row) => [...row]))],
  ['ODS by hucre', async (rows) => writeOds({ sheets: [{ name: 'One', rows: rows.map((row) => [...row]) }] })],
];

const big = 'x'.repeat(1 << 20);
/** Hostile files, each with what is said of it; `read` when there is nothing to say. */
export const HOSTILE: readonly [name: string, content: Uint8Array | string, says: RegExp][] = [
  ['ten thousand columns', Array.from({ length: 10_000 }, (_, i) => i).join(','), /10,000 columns/],
  [
    'ten thousand columns in a workbook',
    workbook(`<row r="1">${Array.from({ length: 10_000 }, () => '<c><v>1</v></c>').join('')}</row>`),
    /201 columns/,
  ],
  ['a column beyond the sheet', workbook('<row r="1"><c r="XFD1"><v>1</v></c></row>'), /16,384 columns/],
  ['a cell of a million characters', `Mobile,Note\n2075550142,${big}`, /^read$/],
  ['a cell of five million characters', `Mobile,Note\n2075550142,"${big.repeat(5)}`, /does not end|never closed/],
  ['an unclosed quote at the end', 'a,b\n1,"2', /never closed/],
  ['a quote in the middle', 'a,b\n"x"y,2', /quote/],
  ['only a byte order mark', '\ufeff', /no rows/],
  ['only sep=', 'sep=;\n', /no rows/],
  ['nothing but delimiters', ',,,\n,,\n', /no rows/],
  ['binary', Uint8Array.from({ length: 3000 }, (_, i) => (i * 7919) % 256), /binary/],
  ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48]), /binary/],
  ['a PDF', '%PDF-1.7\n1 0 obj', /PDF/],
  ['an old workbook', Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]), /old or a locked/],
  ['a binary workbook', zipOf({ 'xl/workbook.bin': 'x' }), /xlsb/],
  ['a zip of something else', zipOf({ 'letter.txt': 'hello' }), /not a workbook/],
  ['an empty zip', zipOf({}), /not a workbook/],
  ['a workbook without a sheet', zipOf({ 'xl/workbook.xml': '<workbook/>' }), /no sheet/],
  ['an empty sheet', workbook(''), /no rows/],
  [
    'a row numbered abc',
    workbook('<row r="1"><c><v>1</v></c></row><row r="abc"><c><v>1</v></c></row>'),
    /^After row 1 a row is numbered “abc”/,
  ],
  ['a row numbered 2.5', workbook('<row r="2.5"><c><v>1</v></c></row>'), /numbered “2.5”/],
  ['a row numbered -5', workbook('<row r="-5"><c><v>1</v></c></row>'), /numbered “-5”/],
  ['a row numbered beyond the sheet', workbook('<row r="9999999"><c><v>1</v></c></row>'), /numbered “9999999”/],
  [
    'a row that stands twice',
    workbook('<row r="3"><c><v>1</v></c></row><row r="3"><c><v>2</v></c></row>'),
    /^Row 3 stands twice/,
  ],
  ['a cell without a column', workbook('<row r="1"><c r="12"><v>1</v></c></row>'), /^In row 1 a cell is called “12”/],
  ['half a row repeated', spreadsheet('<table:table-row table:number-rows-repeated="1.5"/>'), /repeated “1.5” times/],
  ['nested without end', workbook('<a>'.repeat(90_000)), /nested without end|damaged/],
  [
    'one shared text of millions in every cell',
    workbook(
      Array.from({ length: 600 }, (_, i) => `<row r="${i + 1}"><c t="s"><v>0</v></c><c t="s"><v>0</v></c></row>`).join(''),
      {
        'xl/sharedStrings.xml': `<sst><si><t>${'x'.repeat(3_900_000)}</t></si></sst>`,
        'xl/_rels/workbook.xml.rels':
          '<Relationships><Relationship Id="r1" Type="t/worksheet" Target="worksheets/s.xml"/><Relationship Id="r2" Type="t/sharedStrings" Target="sharedStrings.xml"/></Relationships>',
      },
    ),
    /^read$|far more than any sheet/,
  ],
  [
    'a few rows written for hundreds of thousands',
    spreadsheet(
      '<table:table-row table:number-rows-repeated="1999"><table:table-cell table:number-columns-repeated="199" office:value-type="string"><text:p>x</text:p></table:table-cell></table:table-row>'.repeat(
        300,
      ),
    ),
    /more than 40 million cells|more than 1,048,576 rows/,
  ],
  ['a sheet that is not XML', workbook('<row><c></row>'), /damaged/],
  [
    'entities that grow',
    workbook('', {
      'xl/worksheets/s.xml':
        '<!DOCTYPE a [<!ENTITY b "bbbbbbbbbb"><!ENTITY c "&b;&b;&b;">]><worksheet><sheetData><row><c t="str"><v>&c;</v></c></row></sheetData></worksheet>',
    }),
    /damaged/,
  ],
  [
    'an external entity',
    workbook('', {
      'xl/worksheets/s.xml':
        '<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]><worksheet><sheetData><row><c t="str"><v>&x;</v></c></row></sheetData></worksheet>',
    }),
    /damaged/,
  ],
  [
    'a part outside the workbook',
    workbook('', {
      'xl/_rels/workbook.xml.rels':
        '<Relationships><Relationship Id="r1" Type="t/worksheet" Target="../../../etc/passwd"/></Relationships>',
    }),
    /no sheet/,
  ],
  ['a shared string that is not there', workbook('<row><c t="s"><v>99</v></c><c><v>1</v></c></row>'), /^read$/],
  [
    'a million rows written once',
    spreadsheet(
      '<table:table-row table:number-rows-repeated="1048576"><table:table-cell><text:p>2075550142</text:p></table:table-cell></table:table-row>',
    ),
    /pattern, not people/,
  ],
  [
    'a million blank rows',
    spreadsheet('<table:table-row table:number-rows-repeated="1048576"><table:table-cell/></table:table-row>'),
    /no rows/,
  ],
  [
    'a cell repeated to the end',
    spreadsheet(
      '<table:table-row><table:table-cell table:number-columns-repeated="16384"><text:p>x</text:p></table:table-cell></table:table-row>',
    ),
    /16,384 columns/,
  ],
  [
    'a negative repeat',
    spreadsheet(
      '<table:table-row table:number-rows-repeated="-5"><table:table-cell table:number-columns-repeated="-9"><text:p>x</text:p></table:table-cell></table:table-row>',
    ),
    /^Row 1 says that something is repeated “-5” times/,
  ],
  ['a spreadsheet without content', zipOf({ mimetype: 'x', 'content.xml': '' }), /damaged|no sheet/],
  ['a card without an end', 'BEGIN:VCARD\nFN:Ana', /^read$/],
  ['a card that never ends', `BEGIN:VCARD\nNOTE:${big.repeat(5)}`, /does not end/],
  [
    'a card of soft line breaks',
    `BEGIN:VCARD\nVERSION:2.1\nN:A;B\nTEL:2075550142\nNOTE;ENCODING=QUOTED-PRINTABLE:${'=C3=A9=\n'.repeat(400_000)}x\nEND:VCARD`,
    /^read$/,
  ],
  [
    'a card of folded lines',
    `BEGIN:VCARD\nVERSION:3.0\nN:A;B\nTEL:2075550142\nNOTE:a\n${' b\n'.repeat(900_000)}END:VCARD`,
    /^read$/,
  ],
  [
    'a number of a hundred thousand kinds',
    `BEGIN:VCARD\nN:A;B\nTEL${';TYPE=CELL'.repeat(390_000)}:2075550142\nEND:VCARD`,
    /^read$/,
  ],
  ['a card of components', `BEGIN:VCARD\n${'BEGIN:X\n'.repeat(400_000)}END:VCARD`, /^read$/],
  ['a card of two hundred thousand numbers', `BEGIN:VCARD\nN:A;B\n${'TEL:2075550142\n'.repeat(200_000)}END:VCARD`, /^read$/],
  ['twenty thousand cards that begin', 'BEGIN:VCARD\n'.repeat(20_000), /^read$/],
  ['a quote of nothing but quotes', `Mobile,Note\n"${'""'.repeat(2_000_000)}`, /never closed/],
  ['a cell of nothing but quotes', `Mobile,Note\n2075550142,"${'""'.repeat(2_000_000)}"`, /^read$/],
  ['a row of a million cells', `Mobile,Note\n${'"x",'.repeat(1_000_000)}`, /1,000,000 columns|1,000,001 columns/],
  ['a million blank lines', `Mobile\n${'\n'.repeat(1_000_000)}2075550142`, /^read$/],
  ['cards within cards', 'BEGIN:VCARD\nBEGIN:VCARD\nFN:A\nTEL:1\nEND:VCARD\nEND:VCARD', /^read$/],
];
