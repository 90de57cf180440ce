import fc from 'fast-check';
import { writeXlsx as byHucre } from 'hucre';
import Papa from 'papaparse';
import { describe, expect, test, vi } from 'vitest';
import { OFFERED_FIXES, SAFE_FIXES } from '../../core/people/mend-number';
import { prepareRow, type PrepareRules } from '../../core/people/prepare';
import { guessHeadingRow, guessMatch } from '../../core/people/match';
import { readPhone } from '../../core/phone/read';
import { HOSTILE } from './many-files';
import { readWhole, refusal, workbook, zipOf } from './testing';

/**
 * Hostile files and pastes: a fixed collection and generated ones, some seven hundred in all. Each is read or refused with
 * one sentence; never a crash, a hang, or a number silently taken wrong.
 */
const bytes = (text: string) => new TextEncoder().encode(text);

/** One sentence a person can read: no code, no stack. */
function isSentence(text: string): void {
  expect(text).toMatch(/^[A-Z“].*[.?]$/s);
  expect(text).not.toMatch(/undefined|null|Error:|at .*:\d+:\d+|\[object/);
  expect(text.length).toBeLessThan(240);
}

async function readOrRefused(content: Uint8Array | string): Promise<'read' | 'refused'> {
  const said = await refusal(content);
  if (said === 'read') return 'read';
  isSentence(said);
  return 'refused';
}

describe('a fixed collection', () => {
  test.each(HOSTILE)('%s', async (_name, content, says) => {
    const said = await refusal(content);
    if (said !== 'read') isSentence(said);
    expect(said).toMatch(says);
  });

  test('a row of megabytes is looked at a few times, not once for each piece that is read of it', async () => {
    let looked = 0;
    const { Parser } = Papa;
    const made = vi.spyOn(Papa, 'Parser').mockImplementation(function (config) {
      const own = new Parser(config);
      const parse = own.parse.bind(own);
      own.parse = (text: string, ...rest: unknown[]): unknown => {
        looked += text.length;
        return (parse as (...all: unknown[]) => unknown)(text, ...rest);
      };
      return own;
    });
    const text = `a,b\n"${'""'.repeat(1_500_000)}"`;
    expect(await refusal(text)).toBe('read');
    made.mockRestore();
    expect(looked).toBeLessThan(6 * text.length);
  });

  test('a bomb is refused quickly, and so is one among honest parts', async () => {
    const began = performance.now();
    const said = await refusal(
      zipOf({
        '_rels/.rels': '<Relationships/>',
        'xl/workbook.xml': '<workbook xmlns:r="r"><sheets><sheet name="One" r:id="r1"/></sheets></workbook>',
        'xl/_rels/workbook.xml.rels': '<Relationships><Relationship Id="r1" Type="t/worksheet" Target="s.xml"/></Relationships>',
        'xl/s.xml': Buffer.alloc(80 << 20, 32),
      }),
    );
    expect(said).toMatch(/unpacks to far more/);
    // generous, so that a slow machine does not fail it; the bench has the figure
    expect(performance.now() - began).toBeLessThan(20_000);
  });

  test('formulas, merged cells and hidden things are read as what they show, and said', async () => {
    const read = await readWhole(
      workbook(
        '<row r="1"><c r="A1" t="str"><f>HYPERLINK("x")</f><v>Mobile</v></c></row><row r="2" hidden="1"><c r="A2"><v>12075550142</v></c></row>',
      ),
    );
    expect(read.rows).toEqual([['Mobile'], ['12075550142']]);
    expect(read.notes.join(' ')).toMatch(/hidden.*formula/);
  });

  test('duplicate headings and no headings', async () => {
    const twice = await readWhole('Phone,Phone,Name,Name\n207-555-0142,207-555-0143,A,B');
    const match = guessMatch(twice.rows[0], twice.rows.slice(1), { person: new Set(), dependant: new Set() }, 'US');
    expect(match.filter((target) => target === 'number')).toHaveLength(1);
    expect(match.filter((target) => target === 'full_name')).toHaveLength(1);
    expect(guessHeadingRow([['207-555-0142', 'Ana']], 'US')).toBe(-1);
  });

  test('mixed encodings, control and bidi characters never hide in a number', async () => {
    const read = await readWhole(
      Uint8Array.from([...bytes('Mobile,Name\n\u202a+1 207 555 0142\u202c,In'), 0xe8, ...bytes('s\n')]),
    );
    expect(read.encoding).toBe('windows-1252');
    expect(readPhone('\u202a+1\u00a0207\u2011555\u20110142\u202c')).toMatchObject({ ok: true, number: '+12075550142' });
  });
});

describe('generated', () => {
  test('random bytes behind every kind of beginning (200)', async () => {
    const starts = ['', 'PK\u0003\u0004', 'BEGIN:VCARD\r\n', '\ufeff', 'Mobile,Name\n', '%PDF', 'sep=\t\n', '\xff\xfe'];
    let refused = 0;
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...starts), fc.uint8Array({ maxLength: 600 }), async (start, tail) => {
        if ((await readOrRefused(Buffer.concat([Buffer.from(start, 'latin1'), tail]))) === 'refused') refused += 1;
      }),
      { numRuns: 200, seed: 11 },
    );
    expect(refused).toBeGreaterThan(20);
  });

  test('whole workbooks cut short or with bytes turned over (150)', async () => {
    const whole = Buffer.from(
      await byHucre({
        sheets: [{ name: 'One', rows: Array.from({ length: 60 }, (_, i) => [`207555${String(i).padStart(4, '0')}`, 'Ana', i]) }],
      }),
    );
    const outcomes = { read: 0, refused: 0 };
    await fc.assert(
      fc.asyncProperty(
        fc.nat(whole.length),
        fc.array(fc.tuple(fc.nat(whole.length - 1), fc.integer({ min: 1, max: 255 })), { maxLength: 4 }),
        fc.boolean(),
        async (cut, flips, cutting) => {
          const broken = Buffer.from(cutting ? whole.subarray(0, cut) : whole);
          if (!cutting) for (const [at, by] of flips) broken[at] ^= by;
          outcomes[await readOrRefused(broken)] += 1;
        },
      ),
      { numRuns: 150, seed: 12 },
    );
    expect(outcomes.refused).toBeGreaterThan(40);
  });

  test('sheets of random XML (120)', async () => {
    const piece = fc.constantFrom(
      '<row>',
      '</row>',
      '<c>',
      '</c>',
      '<c r="A1" t="s">',
      '<c r="ZZZZ9">',
      '<v>',
      '</v>',
      '1',
      '2075550142',
      '<is><t>',
      '</t></is>',
      '&amp;',
      '&bogus;',
      '<f/>',
      '<row r="-1">',
      '<row r="99999999">',
      '\u0001',
      ']]>',
    );
    await fc.assert(
      fc.asyncProperty(fc.array(piece, { maxLength: 25 }), async (pieces) => {
        await readOrRefused(workbook(pieces.join('')));
      }),
      { numRuns: 120, seed: 13 },
    );
  });

  test('cards of random lines (120)', async () => {
    const line = fc.constantFrom(
      'BEGIN:VCARD',
      'END:VCARD',
      'N:Reyes;Ana',
      'FN:Ana',
      'TEL:+12075550142',
      'TEL;TYPE=CELL',
      'TEL;;;:::',
      'item1.TEL;X="a:b":1',
      ' folded',
      'N;ENCODING=QUOTED-PRINTABLE:=C3=',
      '=A8',
      'BDAY:0000-00-00',
      'CATEGORIES:,,,',
      '\u0000',
      'X-\ud800:1',
      ':',
    );
    await fc.assert(
      fc.asyncProperty(fc.array(line, { maxLength: 20 }), async (lines) => {
        await readOrRefused(`BEGIN:VCARD\r\n${lines.join('\r\n')}`);
      }),
      { numRuns: 120, seed: 14 },
    );
  });

  const rules = (fixes: PrepareRules['fixes']): PrepareRules => ({
    match: ['number', 'given_name', 'tags', 'born', 'zone', 'consent', 'field:a', 'second:number', 'dependant:full_name'],
    country: 'US',
    fixes,
    twoNumbers: 'first',
    dayFirst: false,
    types: new Map([['a', 'number']]),
    dependantTypes: new Map(),
  });
  const phone = fc.oneof(
    fc.string({ unit: 'binary', maxLength: 24 }),
    fc.stringMatching(/^[0-9+(). Ee/x-]{0,24}$/),
    fc.constantFrom(
      '4.91761E+11',
      '1,23E+9',
      '12075550142.0',
      '2O7-555-O142',
      '207 555 0142 / 207 555 0143',
      '3/9/2027',
      '=1+1',
      '00000000000',
      '+',
      '١٢٠٧٥٥٥٠١٤٢',
      '1e400',
      '-12075550142',
      '2075550142x',
      '#N/A',
      'TRUE',
    ),
  );
  test('no row crashes, and no number is taken whose digits are not all in its cell (400)', () => {
    fc.assert(
      fc.property(
        phone,
        fc.array(fc.string({ unit: 'binary', maxLength: 30 }), { maxLength: 8 }),
        fc.boolean(),
        (number, others, all) => {
          const read = prepareRow([number, ...others], rules(new Set(all ? [...SAFE_FIXES, ...OFFERED_FIXES] : SAFE_FIXES)));
          if (!read.ok) {
            expect(read.reason.length).toBeGreaterThan(3);
            return;
          }
          const taken = read.row.person.number;
          if (taken === null) return;
          expect(taken).toMatch(/^\+[1-9]\d{6,14}$/);
          // the national number stands in the cell, digit by digit; only a country code may have been added
          const digits = number
            .normalize('NFKC')
            .replace(/[Oo]/g, '0')
            .replace(/[Il]/g, '1')
            .replace(/S/g, '5')
            .replace(/B/g, '8')
            .replace(/\D/g, '');
          if (!/e/i.test(number)) expect(digits).toContain(taken.slice(-7));
        },
      ),
      { numRuns: 400, seed: 15 },
    );
  });
});
