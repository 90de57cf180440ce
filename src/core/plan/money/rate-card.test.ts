import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readRates, STARTER_CARD } from './rate-card';

describe('a price list', () => {
  test.each([
    ['prefix,destination,price\n+1,United States,0.0075', [['+1', 'United States', 7500]]],
    ['0044;Vereinigtes Königreich;0,031', [['+44', 'Vereinigtes Königreich', 31_000]]],
    [
      '33\tFrance\t0.048\r\n34\tSpain\t0.042',
      [
        ['+33', 'France', 48_000],
        ['+34', 'Spain', 42_000],
      ],
    ],
    ['\uFEFF"+49","Germany","0.061"', [['+49', 'Germany', 61_000]]],
  ])('%j', (text, rates) => {
    const read = readRates(text);
    expect(read.wrong).toEqual([]);
    expect(read.rates.map((rate) => [rate.prefix, rate.destination, rate.price_micro])).toEqual(rates);
  });

  test.each([
    ['+1,United States,free', 'Line 1 is no price: “+1,United States,free”.'],
    ['+1,,0.01', 'Line 1 is no price'],
    ['+1,Dear,99', 'Line 1 is no price'],
    ['prefix,destination,price\nabc,Nowhere,0.01', 'Line 2 is no price'],
    ['+1,Negative,-0.01', 'Line 1 is no price'],
  ])('%j is named with its line', (text, says) => {
    const read = readRates(text);
    expect(read.rates).toEqual([]);
    expect(read.wrong[0]).toContain(says);
  });

  test('a card written out is read back as it was', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            prefix: fc.integer({ min: 1, max: 9_999_999 }).map((digits) => `+${digits}`),
            destination: fc.stringMatching(/^[A-Za-z][A-Za-z ]{0,30}[a-z]$/),
            price_micro: fc.integer({ min: 0, max: 9_999_999 }),
          }),
        ),
        (rates) => {
          const text = rates.map((r) => `${r.prefix};${r.destination};${(r.price_micro / 1e6).toFixed(6)}`).join('\n');
          expect(readRates(text)).toEqual({ rates, wrong: [] });
        },
      ),
    );
  });

  test('the starter card is within what a card may hold', () => {
    for (const rate of STARTER_CARD) {
      expect(rate.prefix).toMatch(/^\+[1-9]\d{0,6}$/);
      expect(rate.price_micro).toBeLessThan(1_000_000);
    }
  });
});
