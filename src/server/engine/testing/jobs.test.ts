import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { Bus } from '../../desk/bus';
import { want } from '../../desk/job-queries';
import { jobsOf } from './jobs';
import { makeWorkspace, NOW, testClock } from './world';

describe.each(ENGINES)('tests that share a database, on %s', (engine) => {
  test('what goes on by itself in one does none of the next one’s work', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    // it sleeps until this is due, by a clock that hurries
    await want(db, [{ kind: 'trim', due: NOW + 50 }]);
    const clock = testClock(NOW);
    await jobsOf(db, clock, new Bus(), () => undefined).settle();
    await emptyDb(engine);
    await makeWorkspace(db);
    await want(db, [{ kind: 'trim', due: NOW }]);
    clock.at += 60_000;
    // what a runner does that is awake: it has had its turn by then
    const other = testClock(NOW + 60_000);
    await other.sleep(200);
    expect((await db.query<{ lease: number }>(`SELECT lease FROM job`)).rows).toEqual([{ lease: 0 }]);
  });
});
