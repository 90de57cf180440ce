import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { differ, differenceInterval, shareInterval } from './proportions';

describe('intervals of shares', () => {
  // R. G. Newcombe 1998, Statistics in Medicine 17:857–872, table I, method 3 (score, without continuity correction); values from
  // memory, and held against the definition below
  test.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('%i of %i', (k, n, from, to) => {
    const found = shareInterval(k, n);
    expect(found.from).toBeCloseTo(from, 4);
    expect(found.to).toBeCloseTo(to, 4);
  });

  // the same, 17:873–890, table II, method 10; values from memory
  test.each([
    [56, 70, 48, 80, 0.0524, 0.3339],
    [9, 10, 3, 10, 0.1705, 0.809],
    [10, 10, 0, 20, 0.6791, 1],
  ])('%i of %i less %i of %i', (ka, na, kb, nb, from, to) => {
    const found = differenceInterval({ k: ka, n: na }, { k: kb, n: nb });
    expect(found.from).toBeCloseTo(from, 4);
    expect(found.to).toBeCloseTo(to, 4);
  });

  const counted = fc
    .tuple(fc.integer({ min: 1, max: 5000 }), fc.double({ min: 0, max: 1, noNaN: true }))
    .map(([n, share]) => ({ n, k: Math.round(n * share) }));

  test('each end is where the share is 1.96 of its own standard errors away (the definition), and the share is within', () => {
    fc.assert(
      fc.property(counted, ({ k, n }) => {
        const p = k / n;
        for (const end of Object.values(shareInterval(k, n)) as number[]) {
          if (end <= 0 || end >= 1) continue;
          expect((p - end) ** 2).toBeCloseTo((1.959963984540054 ** 2 * end * (1 - end)) / n, 9);
        }
        const { from, to } = shareInterval(k, n);
        expect(from).toBeLessThanOrEqual(p + 1e-12);
        expect(to).toBeGreaterThanOrEqual(p - 1e-12);
      }),
    );
  });

  test('turned round, a difference is its opposite; equal shares never differ, and nothing is known from nobody', () => {
    fc.assert(
      fc.property(counted, counted, (a, b) => {
        const [there, back] = [differenceInterval(a, b), differenceInterval(b, a)];
        expect(there.from).toBeCloseTo(-back.to, 10);
        expect(there.to).toBeCloseTo(-back.from, 10);
        expect(differ(a, b)).toBe(differ(b, a));
        expect(differ(a, a)).toBe(false);
      }),
    );
    expect(differ({ k: 0, n: 0 }, { k: 50, n: 50 })).toBe(false);
    expect(shareInterval(0, 0)).toEqual({ from: 0, to: 1 });
  });

  test('small numbers are doubted, large ones are not', () => {
    expect(differ({ k: 3, n: 10 }, { k: 1, n: 10 })).toBe(false);
    expect(differ({ k: 300, n: 1000 }, { k: 100, n: 1000 })).toBe(true);
  });
});
