import { writeFileSync } from 'node:fs';
import ExcelJS from 'exceljs';
import { writeOds } from 'hucre';

/**
 * Makes demo/files/junior-families.xlsx, berths.ods and crew.vcf: invented people, numbers only from ranges reserved for
 * fiction, each broken as files from elsewhere are. What should come of each row is counted by hand in demo/files/*.expected.json.
 * Run once by hand (npx tsx scripts/make-demo-files.ts); the files are kept.
 */
async function families(): Promise<void> {
  const book = new ExcelJS.Workbook();
  book.addWorksheet('About', { state: 'hidden' }).addRow(['Ottermere Boathouse, juniors']);
  const sheet = book.addWorksheet('Juniors 2026');
  sheet.addRow(['Juniors of the boathouse, as of November']);
  sheet.addRow([]);
  sheet.addRow([
    'Junior',
    'Class',
    'Parent',
    'Mobile',
    'Second parent',
    'Second parent mobile',
    'Junior birth date',
    'OK to text?',
  ]);
  const born = (text: string) => new Date(`${text}T00:00:00Z`);
  const rows: unknown[][] = [
    ['Noor', 'Pike', 'Adaeze Lindqvist', 14015550101, 'Sami Lindqvist', '401-555-0102', born('2013-04-02'), 'yes'],
    ['Otto', 'Otters', 'Adaeze Lindqvist', '(401) 555-0101', '', '', born('2016-01-19'), 'yes'],
    ['Pia', 'Tadpoles', 'Holm, Edda', '1.4015550103E+10', '', '', born('2019-06-30'), 'yes'],
    ['Leo', 'Pike', 'Kofi Strand', '14015550104.0', '', '', born('2012-09-12'), 'no'],
    ['Mika', 'Otters', 'Calla Finch', '4O1-555-O1O5', '', '', born('2015-11-03'), 'yes'],
    ['Ravi', 'Pike', 'Emil Dale', '1.40156E+10', '', '', born('2013-02-27'), 'yes'],
    ['Tess', 'Tadpoles', 'Juno Bell', new Date(Date.UTC(2021, 0, 5)), '', '', born('2018-08-08'), 'yes'],
    ['Bo', 'Otters', 'Nadia Voss', '401 555 0106 / 401 555 0107', '', '', born('2016-05-21'), 'yes'],
    ['Ida', 'Pike', 'Lior Rao', '+1 401 555 0108', 'Priya Rao', '12', born('2013-12-01'), 'yes'],
    ['Kit', 'Otters', 'Hana Mori', '401-555-0109', '', '', born('2015-07-17'), 'yes'],
    ['Mae', 'Tadpoles', 'Rosalind Abara', { formula: '14015550000+110', result: 14015550110 }, '', '', born('2019-03-25'), 'yes'],
    ['Sol', 'Pike', 'Greta Osei', '+44 20 7946 0123', '', '', born('2012-10-10'), 'yes'],
    ['Jo', 'Pike', 'Viggo Kaur', '', '', '', born('2013-05-05'), ''],
    ['', '', '', '401-555-0111', '', '', '', 'yes'],
  ];
  for (const row of rows) sheet.addRow(row.map((cell) => (cell === '' ? null : cell)));
  sheet.getColumn(7).numFmt = 'dd/mm/yyyy';
  sheet.getCell('D10').numFmt = 'm/d/yyyy';
  sheet.getRow(13).hidden = true;
  writeFileSync('demo/files/junior-families.xlsx', new Uint8Array(await book.xlsx.writeBuffer()));
}

async function berths(): Promise<void> {
  const day = (text: string) => new Date(`${text}T00:00:00Z`);
  const rows = [
    ['Name', 'Tel.', 'Line type', 'Berth', 'Pass ends'],
    ['Saskia Ngata', 8605550101, 'mobile', 'B-12', day('2027-03-09')],
    ['Rufus Haddad', '860-555-0102', 'landline', 'B-13', 'soon'],
    ['Ulla Brandt', '+44 20 7946 0222', 'mobile', 'B-14', day('2027-01-31')],
    ['Wren Mensah', 442079460333, '', 'B-15', null],
    ['Yara Nakata', '860-555-0103 ext. 4', '', 'B-16', null],
    ['Zelda Kaur', null, '', 'B-17', day('2027-06-30')],
    ['Zelda Kaur', null, '', 'B-17', null],
    [null, null, null, null, null],
    ['Perrin Rao', '555-0104', '', 'B-18', null],
  ];
  writeFileSync('demo/files/berths.ods', await writeOds({ sheets: [{ name: 'Berths', rows }] }));
}

function crew(): void {
  const cards = [
    ['VERSION:3.0', 'N:Voss;Ottoline;;;', 'FN:Ottoline Voss', 'TEL;TYPE=CELL:+1 412 555 0101', 'CATEGORIES:crew'],
    [
      'VERSION:2.1',
      'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:B=C3=A9langer;Zo=C3=',
      '=A9;;;',
      'TEL;HOME:412 555 0190',
      'TEL;CELL;VOICE:412 555 0102',
    ],
    ['VERSION:4.0', 'FN:Nils Ashdown', 'TEL;VALUE=uri;TYPE="voice,cell":tel:+1-412-555-0103'],
    ['VERSION:3.0', 'FN:Broken Card', 'this line is no property', 'TEL:+14125550104'],
    ['VERSION:3.0', 'N:Osei;Petra;;;', 'FN:Petra Osei', 'TEL;TYPE=CELL:(412) 555-0101'],
    ['VERSION:3.0', 'N:Dale;Idris;;;', 'FN:Idris Dale', 'TEL;TYPE=HOME:+44 20 7946 0444'],
  ];
  const text = cards.map((lines) => ['BEGIN:VCARD', ...lines, 'END:VCARD', ''].join('\r\n')).join('');
  writeFileSync('demo/files/crew.vcf', `${text}BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Cut In`);
}

await families();
await berths();
crew();
