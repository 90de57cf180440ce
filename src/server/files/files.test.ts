import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { guessEncoding } from './charset';
import { readDelimited, readNumberList, readText, UnreadableFile, writeCsv } from './delimited';

const bytes = (text: string) => new TextEncoder().encode(text);
const utf16 = (text: string) =>
  Uint8Array.from([0xff, 0xfe, ...[...text].flatMap((c) => [c.charCodeAt(0) & 0xff, c.charCodeAt(0) >> 8])]);

describe('reading', () => {
  test('RFC 4180: quotes, doubled quotes, breaks inside quotes, CRLF', () => {
    expect(readText('a,"b ""c""","d\r\ne"\r\n1,2,3\r\n').rows).toEqual([
      ['a', 'b "c"', 'd\ne'],
      ['1', '2', '3'],
    ]);
  });
  test('what spreadsheets really write', () => {
    expect(readText('sep=;\na;b\n1;2').rows).toEqual([
      ['a', 'b'],
      ['1', '2'],
    ]);
    expect(readText('a\tb\n1\t2').delimiter).toBe('\t');
    expect(readDelimited(bytes('\ufeffné;b\n1;2')).rows[0][0]).toBe('né');
    expect(readDelimited(utf16('Prénom,Tél\nInès,1'))).toMatchObject({
      encoding: 'utf-16le',
      rows: [
        ['Prénom', 'Tél'],
        ['Inès', '1'],
      ],
    });
    expect(readDelimited(Uint8Array.from([0x49, 0x6e, 0xe8, 0x73, 0x2c, 0x31]))).toMatchObject({
      encoding: 'windows-1252',
      rows: [['Inès', '1']],
    });
    expect(readText('a,b\r1,2\n3,4\r\n5,6').rows).toHaveLength(4);
  });
  test('one clear sentence for what cannot be read', () => {
    const why = (content: Uint8Array) => {
      try {
        readDelimited(content);
        return 'read';
      } catch (error) {
        return (error as UnreadableFile).message;
      }
    };
    expect(why(bytes(''))).toBe('The file is empty.');
    expect(why(bytes(' \n\n'))).toBe('The file holds no rows.');
    expect(why(bytes('PK\u0003\u0004abc'))).toContain('workbook');
    expect(why(bytes('a,b\nc,"d\ne,f\n'))).toBe(
      'Row 2 opens a quote (") that is never closed, so nothing after it can be told apart.',
    );
    expect(why(bytes(Array.from({ length: 1000 }, (_, i) => i).join(',')))).toContain('1000 columns');
    expect(why(Uint8Array.from([1, 2, 0, 0, 3, 0, 0, 7, 0, 9, 0, 0]))).toContain('not a text file');
  });
  test('any bytes are read or refused, never anything else', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (content) => {
        guessEncoding(content);
        try {
          readDelimited(content);
        } catch (error) {
          expect(error).toBeInstanceOf(UnreadableFile);
        }
      }),
      { numRuns: 800 },
    );
  });
  test('pasted numbers', () => {
    expect(readNumberList('+1 207 555 0142\n207-555-0143, (207) 555-0144;2075550145')).toHaveLength(4);
    expect(readNumberList('Ana,207-555-0142')).toBeUndefined();
  });
});

describe('writing', () => {
  test('what is written reads back, and no cell starts a formula', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.string({ unit: fc.constantFrom(...'ab,"\n=+-@ 1é') }), { minLength: 2, maxLength: 4 }), {
          minLength: 1,
          maxLength: 5,
        }),
        (rows) => {
          fc.pre(rows.some((row) => row.some((cell) => cell.trim() !== '')));
          const written = writeCsv([['head', 'er'], ...rows]);
          for (const line of readText(written.replace(/^\ufeff/, '')).rows)
            for (const cell of line) expect(cell).not.toMatch(/^[=@]/);
        },
      ),
    );
    expect(writeCsv([['+12075550142', '=1+1', '-cmd']])).toBe("\ufeff+12075550142,'=1+1,'-cmd\r\n");
  });
});
