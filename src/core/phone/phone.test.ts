import fc from 'fast-check';
import google from 'google-libphonenumber';
import { describe, expect, test } from 'vitest';
import { readPhone, readWithLibrary, type LineKind } from './read';
import { findDamage } from './repair';
import { sourceNumber } from './source-number';
import { guessZone, zonesOfNumber } from './zone-guess';
import { ZONE_NAMES, ZONE_PREFIXES } from './zone-table';

const util = google.PhoneNumberUtil.getInstance();
const { E164, INTERNATIONAL, NATIONAL } = google.PhoneNumberFormat;
const KIND: Record<string, LineKind> = { MOBILE: 'mobile', FIXED_LINE: 'fixed', FIXED_LINE_OR_MOBILE: 'either' };

describe('reading numbers', () => {
  // Second opinion: google-libphonenumber 3.2.47 and its own example numbers, every country and kind.
  test("google-libphonenumber's examples of every country and kind, international and local", () => {
    let checked = 0;
    const kindDiffers: string[] = [];
    const unknown = new Set<string>();
    for (const region of util.getSupportedRegions()) {
      for (const [name, type] of Object.entries(google.PhoneNumberType)) {
        const example = type < 0 ? null : util.getExampleNumberForType(region, type);
        if (!example || !util.isValidNumber(example)) continue;
        const number = util.format(example, E164);
        for (const text of [number, util.format(example, INTERNATIONAL), number.replace('+', '00')]) {
          const read = readPhone(text, { country: region });
          if (read.ok) expect([region, name, text, read.number]).toEqual([region, name, text, number]);
          else unknown.add(number);
        }
        const home = util.getRegionCodeForNumber(example) ?? region;
        const local = readPhone(util.format(example, NATIONAL), { country: home });
        if (local.ok) expect([region, name, local.number]).toEqual([region, name, number]);
        const read = readPhone(number);
        const theirs =
          KIND[
            Object.keys(google.PhoneNumberType).find((key) => google.PhoneNumberType[key] === util.getNumberType(example)) ?? ''
          ] ?? 'other';
        if (read.ok && read.kind !== theirs) kindDiffers.push(`${number} ${read.kind} ${theirs}`);
        checked += 1;
      }
    }
    expect(checked).toBeGreaterThan(1000);
    // metadata of the two ports is of different dates; a handful of ranges has moved between kinds
    expect(unknown.size).toBeLessThanOrEqual(checked / 200);
    expect(kindDiffers.length).toBeLessThanOrEqual(checked / 200);
  });

  test('the three shapes, mixed', () => {
    const number = '+12075550142';
    for (const text of [
      '+1 207 555 0142',
      '001 207 555 0142',
      '(207) 555-0142',
      '207.555.0142',
      '12075550142',
      "'2075550142",
      '\u202a+1 (207) 555-0142\u202c',
      '２０７-555-0142',
    ]) {
      expect([text, readPhone(text, { country: 'US' })]).toEqual([text, { ok: true, number, country: 'US', kind: 'either' }]);
    }
    expect(readPhone('020 7946 0123', { callingCode: '44' })).toMatchObject({ number: '+442079460123', kind: 'fixed' });
    expect(readPhone('20 7946 0123', { callingCode: '+44' })).toMatchObject({ number: '+442079460123' });
    expect(readPhone('+1 207 555 0142', { callingCode: '44' })).toMatchObject({ number });
  });

  test('what is no number says why', () => {
    const why = (text: string, country?: string) => {
      const read = readPhone(text, { country });
      return read.ok ? read.number : read.problem;
    };
    expect([
      why(''),
      why('none', 'US'),
      why('12345', 'US'),
      why('2075550142'),
      why('207555014299999999', 'US'),
      why('(111) 555-0142', 'US'),
    ]).toEqual(['empty', 'not_a_number', 'too_short', 'no_country', 'too_long', 'not_valid']);
  });

  test('the fast road gives what the library gives', () => {
    const digits = fc.integer({ min: 2_000_000_000, max: 9_999_999_999 }).map(String);
    const shape = fc.constantFrom(
      (d: string) => d,
      (d: string) => `1${d}`,
      (d: string) => `+1${d}`,
      (d: string) => `(${d.slice(0, 3)}) ${d.slice(3, 6)}-${d.slice(6)}`,
      (d: string) => `+1 ${d.slice(0, 3)} ${d.slice(3, 6)} ${d.slice(6)}`,
      (d: string) => `${d.slice(0, 3)}.${d.slice(3, 6)}.${d.slice(6)}`,
      (d: string) => `1-${d.slice(0, 3)}-${d.slice(3)}`,
    );
    fc.assert(
      fc.property(digits, shape, fc.constantFrom('US', 'CA'), (d, write, country) => {
        expect(readPhone(write(d), { country })).toEqual(readWithLibrary(write(d), '', country));
      }),
      { numRuns: 3000 },
    );
  });

  test('never throws, whatever the text', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        const read = readPhone(text, { country: 'US' });
        if (read.ok) expect(read.number).toMatch(/^\+[1-9]\d{4,14}$/);
        findDamage(text);
      }),
      { numRuns: 1000 },
    );
  });
});

describe('damage', () => {
  test('scientific notation: complete digits are restored, lost ones are never guessed', () => {
    expect(findDamage('1.2075550117E+10')).toEqual({ kind: 'scientific', value: '12075550117', safe: true });
    expect(findDamage('4.91761E+11')).toEqual({ kind: 'digits_lost' });
    expect(findDamage('1.20756E+10')).toEqual({ kind: 'digits_lost' });
    expect(findDamage('1,2075550117e10')).toEqual({ kind: 'scientific', value: '12075550117', safe: true });
  });
  test('a spreadsheet can show any complete number so, and it comes back (IEEE 754: at most 15 digits)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1_000_000_000, max: 999_999_999_999_999 }), (n) => {
        const written = n.toExponential(String(n).length - 1).replace('e', 'E');
        expect(findDamage(written)).toEqual({ kind: 'scientific', value: String(n), safe: true });
        const short = n.toExponential(5).replace('e', 'E');
        expect(findDamage(short)?.kind).toBe('digits_lost');
      }),
    );
  });
  test('other damage', () => {
    expect(findDamage('12075550117.0')).toEqual({ kind: 'trailing_zero', value: '12075550117', safe: true });
    expect(findDamage('2O7-555-O142')).toEqual({ kind: 'letters', value: '207-555-0142', safe: false });
    expect(findDamage('218 555 0131 / 218 555 0156')).toEqual({
      kind: 'two_numbers',
      value: '218 555 0131',
      others: ['218 555 0156'],
      safe: false,
    });
    expect(findDamage('207-555-0142 ext. 5')).toEqual({ kind: 'extension', value: '207-555-0142', safe: false });
    expect(findDamage('12/25/2026')).toEqual({ kind: 'date' });
    for (const fine of ['(207) 555-0142', '+1 207 555 0142', '207.555.0142', '00 1 207 555 0142', ''])
      expect(findDamage(fine)).toBeUndefined();
  });
});

test('a zone from a number is a guess, and unknown where the number does not tell', () => {
  expect(guessZone('+12075550142')).toBe('America/New_York');
  expect(guessZone('+17155550142')).toBe('America/Chicago');
  expect(guessZone('+12085550142')).toBeUndefined(); // Idaho spans two zones
  expect(zonesOfNumber('+12085550142')).toEqual(['America/Boise', 'America/Los_Angeles']);
  // an area code that says nothing may be anywhere the country code reaches
  expect(zonesOfNumber('+15555550100')).toContain('Pacific/Honolulu');
});

test('a reply finds its person however the carrier writes its number: SMPP v3.4 §5.2.5 types of number', () => {
  const of = (address: string, ton: number, country = 'US') => sourceNumber(address, ton, country);
  for (const [address, ton] of [
    ['+12075550142', 1],
    ['0012075550142', 1],
    ['12075550142', 1],
    ['2075550142', 2],
    ['12075550142', 0],
    ['2075550142', 0],
    ['+12075550142', 0],
  ] as const)
    expect([address, ton, of(address, ton)]).toEqual([address, ton, '+12075550142']);
  expect(of('020 7946 0123', 2, 'GB')).toBe('+442079460123');
  expect(of('Ottermere', 5)).toBe('Ottermere');
});

test('the zones of a number are those of the longest prefix that the table has', () => {
  const table = new Map(
    ZONE_PREFIXES.flatMap((line) => {
      const [indexes, prefixes] = line.split(':');
      return prefixes.split(' ').map((prefix) => [prefix, indexes.split(',').map((index) => ZONE_NAMES[Number(index)])] as const);
    }),
  );
  const slowly = (digits: string) => {
    for (let length = digits.length; length > 0; length -= 1) {
      const zones = table.get(digits.slice(0, length));
      if (zones) return zones;
    }
    return [];
  };
  fc.assert(
    fc.property(
      fc.oneof(fc.constantFrom(...table.keys()), fc.stringMatching(/^\d{0,9}$/)),
      fc.stringMatching(/^\d{0,6}$/),
      (prefix, rest) => {
        expect(zonesOfNumber(`+${prefix}${rest}`)).toEqual(slowly(prefix + rest));
        expect(zonesOfNumber(prefix + rest)).toBe(zonesOfNumber(`+${prefix}${rest}`));
      },
    ),
    { numRuns: 2000 },
  );
});
