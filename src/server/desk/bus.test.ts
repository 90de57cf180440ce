import fc from 'fast-check';
import { expect, test } from 'vitest';
import { Bus } from './bus';

test('what has changed after a moment is known for a while, and what is not known is said (property)', () => {
  fc.assert(
    fc.property(fc.nat(2500), fc.nat(2500), (before, after) => {
      const bus = new Bus();
      for (let i = 0; i < before; i += 1) bus.changed('run', i);
      const { moment } = bus;
      for (let i = 0; i < after; i += 1) bus.changed('replies', i);
      const since = bus.since(moment);
      if (after <= 1000) expect(since?.map(({ id }) => id)).toEqual(Array.from({ length: after }, (_, i) => i));
      else if (since !== undefined) expect(since).toHaveLength(after);
    }),
    { numRuns: 60 },
  );
});

test('moments of another process, and what is none, are not known', () => {
  const bus = new Bus();
  expect(bus.since(new Bus().moment)).toBeUndefined();
  for (const none of ['', '-', 'x-y', `${bus.moment}9`, '0', bus.moment.replace(/-.*/, '-Infinity')])
    expect(bus.since(none)).toBeUndefined();
});
