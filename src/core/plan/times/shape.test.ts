import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { laterThanShown, type Shape } from './shape';

const shape = (base: number, due: readonly number[], spilled = 0): Shape => ({
  at: base,
  base,
  due: Float64Array.from(due),
  count: due.length,
  spilled,
});

describe('a start at once held against what was shown', () => {
  test('the same, so many seconds later, is the same (property)', () =>
    fc.assert(
      fc.property(
        fc.array(fc.nat(3_600_000), { maxLength: 50 }),
        fc.nat(600_000),
        fc.integer({ min: 1, max: 1000 }),
        (offsets, gone, rate) => {
          const at = (base: number) =>
            shape(
              base,
              offsets.map((offset) => base + offset),
            );
          expect(laterThanShown(at(0), at(gone), rate)).toBe(0);
        },
      ),
    ));
  test('whoever gets it later than the time gone by explains is counted', () => {
    const shown = shape(0, [0, 1000, 2000, 3000]);
    expect(laterThanShown(shown, shape(0, [0, 600_000, 700_000, 800_000]), 1)).toBe(2);
    // as many as the sender would have taken meanwhile may have come to wait, and one for the second that is begun
    expect(laterThanShown(shown, shape(1000, [1000, 600_000, 700_000, 800_000]), 1)).toBe(1);
    expect(laterThanShown(shown, shape(0, [0, 1000, 2000, 50_000_000]), 1)).toBe(0);
  });
});
