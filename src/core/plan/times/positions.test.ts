import fc from 'fast-check';
import { expect, test } from 'vitest';
import { positionsBy } from './positions';

test('positions by their keys, the earlier first of equal ones (property, against a plain sort)', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(30)), (keys) => {
      const plain = keys.map((_, i) => i).sort((a, b) => keys[a] - keys[b] || a - b);
      expect([...positionsBy((i) => keys[i], keys.length)]).toEqual(plain);
    }),
  );
});

test('2,500,000 are put in order rightly: everyone once, and none before a smaller key', () => {
  const COUNT = 2_500_000;
  const keyOf = (i: number) => Math.imul(i, 0x9e3779b1) >>> 0;
  const order = positionsBy(keyOf, COUNT);
  const seen = new Uint8Array(COUNT);
  let wrong = 0;
  order.forEach((at, i) => {
    seen[at] += 1;
    if (i > 0 && keyOf(order[i - 1]) > keyOf(at)) wrong += 1;
  });
  expect(wrong).toBe(0);
  expect(seen.every((times) => times === 1)).toBe(true);
});
