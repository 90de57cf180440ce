import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { numberList, numberPieces } from './number-list';

const THREE = ['207-555-0101', '(207) 555-0102', '+1 207 555 0103'];

describe('pasted numbers', () => {
  it.each([
    ['one a line', '207-555-0101\n(207) 555-0102\r\n+1 207 555 0103'],
    ['by commas and by lines', '207-555-0101, (207) 555-0102\n+1 207 555 0103'],
    ['a comma at the end of each line', '207-555-0101,\n(207) 555-0102,\n+1 207 555 0103,\n'],
    ['under a heading', 'Mobile\n207-555-0101, (207) 555-0102\n+1 207 555 0103'],
    ['by semicolons, tabs, bars and slashes', '207-555-0101;(207) 555-0102 / +1 207 555 0103'],
  ])('%s', (_, text) => {
    expect(numberList(text)).toEqual(THREE);
  });

  it('with letters for digits, other hyphens and digits as they are typed elsewhere', () => {
    expect(numberList('2O7-555-0101, 207‑555‑0102')).toEqual(['2O7-555-0101', '207‑555‑0102']);
    expect(numberList('２０７-555-0101')).toEqual(['２０７-555-0101']);
  });

  it('is a table where other things stand beside the numbers', () => {
    expect(numberList('Ana,207-555-0142')).toBeUndefined();
    expect(numberList('Mobile,First\n207-555-0101,Ana\n207-555-0102,Bo')).toBeUndefined();
    expect(numberList('Meet at the quay')).toBeUndefined();
    expect(numberList('')).toBeUndefined();
  });

  it('loses no number, however they are set apart (property)', () => {
    const number = fc.integer({ min: 0, max: 9999 }).map((n) => `207-555-${String(n).padStart(4, '0')}`);
    const apart = fc.constantFrom('\n', ', ', ';', '\t', ',\n', ' / ', '|', '\r\n');
    fc.assert(
      fc.property(fc.array(fc.tuple(number, apart), { minLength: 1 }), (typed) => {
        const text = typed.map(([n, by]) => n + by).join('');
        expect(numberList(text)).toEqual(typed.map(([n]) => n));
        expect(numberPieces(text)).toEqual(typed.map(([n]) => n));
      }),
    );
  });

  it('takes any text (property)', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        for (const piece of numberList(text) ?? []) expect(text).toContain(piece);
      }),
    );
  });
});
