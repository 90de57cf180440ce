import fc from 'fast-check';
import { expect, test } from 'vitest';
import { quantilesOf } from './quantiles';

test('the example of type 7 (Hyndman and Fan 1996, worked by hand): 1 to 4', () => {
  const counts = new Map([1, 2, 3, 4].map((value) => [value, 1]));
  expect(quantilesOf(counts, [0, 0.25, 0.5, 0.9, 1])).toEqual([1, 1.75, 2.5, 3.7, 4]);
  expect(quantilesOf(new Map([[7, 3]]), [0.1, 0.5])).toEqual([7, 7]);
  expect(quantilesOf(new Map(), [0.5])).toEqual([NaN]);
});

test('the same as sorting every value and reading between two', () =>
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 40 }), { minLength: 1 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (values, share) => {
        const counts = new Map<number, number>();
        for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
        const sorted = [...values].sort((a, b) => a - b);
        const at = (sorted.length - 1) * share;
        const low = Math.floor(at);
        const wanted = low === at ? sorted[low] : sorted[low] + (sorted[low + 1] - sorted[low]) * (at - low);
        expect(quantilesOf(counts, [share])[0]).toBeCloseTo(wanted, 9);
      },
    ),
  ));
