import { expect, test } from 'vitest';
import { Rounds } from './rounds';
import { testClock } from './testing/world';

test('round after round, also when one fails; started twice is once; ended, it waits for the round that is going', async () => {
  const told: unknown[] = [];
  let rounds = 0;
  let going = false;
  let reached: (() => void) | undefined;
  const fifth = new Promise<void>((resolve) => (reached = resolve));
  const loop = new Rounds(
    testClock(),
    1000,
    async () => {
      expect(going).toBe(false);
      going = true;
      rounds += 1;
      await new Promise((resolve) => setImmediate(resolve));
      going = false;
      if (rounds === 2) throw new Error('once');
      if (rounds === 5) reached?.();
    },
    (error) => told.push(error),
  );
  loop.start();
  loop.start();
  await fifth;
  await loop.end();
  expect([going, loop.over, told.length]).toEqual([false, true, 1]);
  const after = rounds;
  await new Promise((resolve) => setImmediate(resolve));
  expect(rounds).toBe(after);
});
