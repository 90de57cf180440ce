import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { queueText } from '../../engine/queue-text';
import { openDesk } from '../../http/testing/desk';
import { refuseTooManyTests } from './test-limit';

const NOW = Date.parse('2026-12-02T20:50:00Z');
const DAY = 86_400_000;

describe.each(ENGINES)('tests of a day, on %s', (engine) => {
  test('so many of one account, and so much of all; what is refused was not queued', async () => {
    const desk = await openDesk(await emptyDb(engine));
    const { db } = desk.app;
    await db.query(`UPDATE workspace SET tests_a_day = 3, tests_a_day_micro = 37500`); // a part costs 7500: five of all
    const tests = (accountId: number, n: number, now = NOW) =>
      db.transaction(async (tx) => {
        for (let i = 0; i < n; i += 1)
          await queueText(
            tx,
            { kind: 'test', personId: null, number: '+12075550190', senderId: 1, body: 'x', accountId, usefulFor: DAY },
            now,
          );
        await refuseTooManyTests(tx, accountId, now);
      });
    const queued = async () => (await db.query(`SELECT 1 FROM outbound WHERE kind = 'test'`)).rowCount;
    await tests(2, 2);
    await expect(tests(2, 2)).rejects.toMatchObject({
      why: 'too often',
      title: expect.stringContaining('more than 3 tests of yours') as string,
    });
    expect(await queued()).toBe(2);
    await tests(2, 1);
    await tests(3, 2);
    await expect(tests(3, 1)).rejects.toMatchObject({
      why: 'too often',
      title: expect.stringContaining('all tests may cost') as string,
    });
    expect(await queued()).toBe(5);
    // two at once are counted together; and a day later it is another day
    const both = await Promise.allSettled([tests(2, 2, NOW + DAY + 1), tests(2, 2, NOW + DAY + 1)]);
    expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
    await desk.close();
  });
});
