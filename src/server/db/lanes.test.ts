import { expect, test } from 'vitest';
import type { Lane } from './db';
import { LaneLock } from './lanes';

test('the more urgent lane goes first, and the least urgent still gets its turn', async () => {
  let now = 0;
  const lock = new LaneLock(() => now);
  const order: Lane[] = [];
  const take = async (lane: Lane) => {
    const release = await lock.acquire(lane);
    order.push(lane);
    now += 100;
    return release;
  };
  let release = await take('interface');
  const bulk = take('bulk');
  // interface and dispatch keep coming: each is asked for while the one before is held
  for (let i = 0; i < 12 && !order.includes('bulk'); i += 1) {
    const next = take(i % 2 === 0 ? 'dispatch' : 'interface');
    release();
    release = await Promise.race([next, bulk]);
  }
  expect(order.filter((lane) => lane !== 'bulk').length).toBeGreaterThan(5);
  expect(order).toContain('bulk');
  expect(now).toBeLessThanOrEqual(1000);
});
