import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { writeCsv } from './delimited';
import { readWhole, refusal, xlsxOf } from './testing';
import { CARD_HEADINGS } from './vcard';
import { writeVcards } from './write-vcard';

const utf16 = (text: string) => Buffer.from(`\ufeff${text}`, 'utf16le');
const rowsOf = async (content: Uint8Array | string) => (await readWhole(content)).rows;

describe('reading CSV and TSV', () => {
  test('RFC 4180: quotes, doubled quotes, breaks inside quotes, CRLF', async () => {
    expect(await rowsOf('a,"b ""c""","d\r\ne"\r\n1,2,3\r\n')).toEqual([
      ['a', 'b "c"', 'd\ne'],
      ['1', '2', '3'],
    ]);
  });
  test('what spreadsheets really write', async () => {
    expect(await rowsOf('sep=;\na;b\n1;2')).toEqual([
      ['a', 'b'],
      ['1', '2'],
    ]);
    expect((await readWhole('a\tb\n1\t2')).delimiter).toBe('\t');
    expect((await rowsOf('\ufeffné;b\n1;2'))[0][0]).toBe('né');
    expect(await readWhole(utf16('Prénom,Tél\nInès,1'))).toMatchObject({
      encoding: 'utf-16le',
      rows: [
        ['Prénom', 'Tél'],
        ['Inès', '1'],
      ],
    });
    expect(await readWhole(Buffer.from('Prenom,Tel\nInes,1', 'utf16le'))).toMatchObject({ encoding: 'utf-16le' });
    expect(await readWhole(Uint8Array.from([0x49, 0x6e, 0xe8, 0x73, 0x2c, 0x31]))).toMatchObject({
      encoding: 'windows-1252',
      rows: [['Inès', '1']],
    });
    expect(await rowsOf('a,b\r1,2\n3,4\r\n5,6')).toHaveLength(4);
  });
  test('ragged rows, blank rows, and the numbers of the rows as the file counts them', async () => {
    const read = await readWhole('a,b,c\n\n1\n2,3,4,5\n,,\n');
    expect(read.rows).toEqual([['a', 'b', 'c'], ['1'], ['2', '3', '4', '5']]);
    expect(read.numbers).toEqual([0, 2, 3]);
  });
  test('an encoding that is chosen goes before the one that is guessed', async () => {
    const bytes = Buffer.from('Name,Tel\nZoë,1', 'utf8');
    expect((await readWhole(bytes)).rows[1][0]).toBe('Zoë');
    expect((await readWhole(bytes, { encoding: 'windows-1252' })).rows[1][0]).toBe('ZoÃ«');
  });
  test('one clear sentence for what cannot be read', async () => {
    expect(await refusal('')).toBe('The file is empty.');
    expect(await refusal(' \n\n')).toBe('The file holds no rows.');
    expect(await refusal('PK\u0003\u0004abc')).toContain('workbook is damaged');
    expect(await refusal('%PDF-1.7')).toContain('PDF');
    expect(await refusal('a,b\nc,"d\ne,f\n')).toBe(
      'Row 2 opens a quote (") that is never closed, so nothing after it can be told apart.',
    );
    expect(await refusal(Array.from({ length: 1000 }, (_, i) => i).join(','))).toContain('1,000 columns');
    expect(await refusal(Uint8Array.from([1, 2, 0, 0, 3, 0, 0, 7, 0, 9, 0, 0]))).toContain('not a text file');
  });
  test('any table written by us reads back the same (property)', async () => {
    const cell = fc
      .string({ unit: 'grapheme', maxLength: 12 })
      .map((text) => text.replace(/[\r\0\ufeff]/g, '').replace(/^[=@\t+-]+/, ''));
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 6 }), async (rows) => {
        const body = [['Mobile', 'First'], ...rows].filter((row) => row.some((each) => each.trim() !== ''));
        expect(await rowsOf(writeCsv(body))).toEqual(body);
      }),
      { numRuns: 60 },
    );
  });
});

describe('writing', () => {
  test('nothing a spreadsheet would run, and numbers unharmed (OWASP, CSV injection)', async () => {
    expect(writeCsv([['+12075550142', '=1+1', '-cmd', '@x']])).toBe("\ufeff+12075550142,'=1+1,'-cmd,'@x\r\n");
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(fc.string({ maxLength: 8 }), { minLength: 1, maxLength: 3 }), { maxLength: 4 }),
        async (rows) => {
          const written = writeCsv([['head', 'er'], ...rows.map((row) => row.map((cell) => cell.replace(/\0/g, '')))]);
          const { rows: read } = await readWhole(written, { delimiter: ',' });
          for (const line of read) for (const cell of line) expect(cell).not.toMatch(/^[=@\t]/);
        },
      ),
      { numRuns: 60 },
    );
  });
  test.each([[[[',', '', ''], [';'], ['!']]], [[['', '', ';'], ['!'], ['!']]], [[['', ';', ';;']]]])(
    'what we write is cut where we cut it, also when another sign stands in quotes: %j',
    async (rows) => expect((await readWhole(writeCsv([['head', 'er'], ...rows]))).delimiter).toBe(','),
  );
  test('a workbook of ours reads back the same, and every cell is text', async () => {
    const rows = [
      ['text number', 'note'],
      ['+12075550142', '=1+1'],
      ['012', 'Zoë & <b>\n2'],
    ];
    expect(await rowsOf(await xlsxOf(rows))).toEqual(rows);
  });
  test('cards read back the same, long names and separators too (RFC 6350 §3.2, §3.4)', async () => {
    const long = 'Featherstonehaugh; née, Ésprit '.repeat(5).trim();
    const cards = writeVcards([
      {
        given_name: 'Inès',
        family_name: long,
        number: '+15145550163',
        language: 'fr',
        zone: 'America/Toronto',
        zone_guessed: false,
        born: '1984-02-29',
        tags: ['a, b', 'c'],
      },
    ]);
    for (const line of cards.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
    expect((await readWhole(cards)).rows[1]).toEqual([
      'Inès',
      long,
      '+15145550163',
      '',
      '',
      '1984-02-29',
      'fr',
      'America/Toronto',
      'a, b, c',
      '',
    ]);
  });
});

describe('vCards', () => {
  const card = (version: string, ...lines: string[]) =>
    `BEGIN:VCARD\r\nVERSION:${version}\r\n${lines.join('\r\n')}\r\nEND:VCARD\r\n`;
  test('3.0 (RFC 2426): folding, the cell before the others, groups, categories', async () => {
    const read = await readWhole(
      card(
        '3.0',
        'N:Okafor;Marisol;;;',
        'FN:Marisol Okafor',
        'item1.TEL;TYPE=home:207-555-0100',
        'TEL;TYPE=CELL,VOICE:207-555-0142',
        'NOTE:a long',
        '  note\\, with a comma',
        'BDAY:1984-03-09',
        'CATEGORIES:bicycle,dog aboard',
      ),
    );
    expect(read.rows).toEqual([
      CARD_HEADINGS,
      [
        'Marisol',
        'Okafor',
        '207-555-0142',
        '207-555-0100',
        '',
        '1984-03-09',
        '',
        '',
        'bicycle, dog aboard',
        'a long note, with a comma',
      ],
    ]);
  });
  test('4.0 (RFC 6350): numbers as tel: addresses', async () => {
    const read = await readWhole(
      card('4.0', 'FN:Leo Holm', 'TEL;VALUE=uri;TYPE="voice,cell":tel:+1-207-555-0143;ext=5', 'LANG:fr', 'TZ:America/Chicago'),
    );
    expect(read.rows[1]).toEqual(['Leo', 'Holm', '+1-207-555-0143 ext. 5', '', '', '', 'fr', 'America/Chicago', '', '']);
    expect(read.notes.join(' ')).toContain('One name stood only as a whole');
  });
  test('2.1: bare types and quoted-printable over two lines', async () => {
    const read = await readWhole(
      card(
        '2.1',
        'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:S=C3=B8rensen;In=C3=',
        '=A8s;;;',
        'TEL;HOME:207 555 0100',
        'TEL;CELL;VOICE:207 555 0144',
      ),
    );
    expect(read.rows[1].slice(0, 4)).toEqual(['Inès', 'Sørensen', '207 555 0144', '207 555 0100']);
  });
  test('a broken card and one cut in half do not spoil the others', async () => {
    const whole = card('3.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'TEL:+12075550101');
    const read = await readWhole(`${card('3.0', 'FN:Broken', 'TEL;;=:::"')}${whole}BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Half`);
    expect(read.rows.map((row) => row[2])).toContain('+12075550101');
    expect(read.rows.filter((row) => row[9].includes('cannot be read')).length).toBeGreaterThanOrEqual(1);
    expect(read.notes.join(' ')).toMatch(/could not be read/);
  });
});
