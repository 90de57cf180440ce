import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Draft } from '../../../core/plan/draft/draft';
import { NOW } from '../../engine/testing/world';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { planThread, PlanTooLong, type Plans } from './plan-thread';
import { world } from '../testing';

describe.each(ENGINES)('the thread that plans, on %s', (engine) => {
  let db: Db;
  let draft: Draft;
  let plans: Plans;
  const budget = { ms: 120_000 };
  const failures: unknown[] = [];
  beforeAll(async () => {
    ({ db, draft } = await world(engine, { words: 'Ottermere: the Heron is late.' }));
    // a plan of somebody's words that takes a while, whatever the machine
    await db.exec(`INSERT INTO person (id, given_name, number, created_at, updated_at)
      SELECT 1000 + n, 'P' || n, '+1207555' || (1000 + n), '2026-01-01', '2026-01-01' FROM generate_series(1, 4000) AS n`);
    plans = planThread(db, (error) => failures.push(error), budget);
  });
  afterAll(() => plans.end());

  const long = (): Draft => ({ ...draft, to: [{ kind: 'everyone' }], words: '{given_name} '.repeat(300) });
  const asked = (each: Draft) =>
    plans.summary(each, NOW).then(
      ({ plan }) => plan.chosen,
      (error: unknown) => error,
    );

  test('what takes more than it may is given up and says so; what waits behind it is answered by a new one', async () => {
    const whole = await asked(draft);
    budget.ms = 1;
    const first = asked(long());
    const behind = asked({ ...draft, words: 'Another' });
    expect(await first).toBeInstanceOf(PlanTooLong);
    budget.ms = 120_000;
    // its own budget was set while the small one held
    expect([whole, expect.any(PlanTooLong)]).toContainEqual(await behind);
    expect(await asked({ ...draft, words: 'A third' })).toBe(whole);
    expect(await asked(long())).toBe(4005);
    expect(failures).toEqual([]);
  });
});
