import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { makeWorkspace } from '../engine/testing/world';
import { keptClock } from './demo-clock';

const failed = (error: unknown) => {
  throw error;
};

describe.each(ENGINES)('the clock of a demo, on %s', (engine) => {
  test('killed, it goes on later than it stood, never earlier; ended kindly, where it stood', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    await db.query(`UPDATE workspace SET demo_clock = '2030-01-01T12:00:00Z'`);
    const noon = Date.parse('2030-01-01T12:00:00Z');
    // never ended, as by a kill
    const first = await keptClock(db, failed);
    expect(first.demo).toBe(true);
    await first.move(3_600_000);
    const stood = first.clock.now();
    expect(stood).toBeGreaterThanOrEqual(noon + 3_600_000);
    const second = await keptClock(db, failed);
    const then = second.clock.now();
    expect(then).toBeGreaterThanOrEqual(stood);
    // killed again at once
    const third = await keptClock(db, failed);
    expect(third.clock.now()).toBeGreaterThanOrEqual(then);
    await second.end();
    await first.end();
    const ended = third.clock.now();
    await third.end();
    const fourth = await keptClock(db, failed);
    expect(fourth.clock.offset()).toBeLessThanOrEqual(third.clock.offset());
    expect(fourth.clock.now()).toBeGreaterThanOrEqual(ended);
    await fourth.end();
  });

  test('where there is no demo it is the machine’s, and nothing is kept', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const real = await keptClock(db, failed);
    await real.end();
    expect([real.demo, real.clock.offset()]).toEqual([false, 0]);
    expect((await db.query(`SELECT demo_clock FROM workspace`)).rows).toEqual([{ demo_clock: null }]);
  });
});
