import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import { ENGINES } from '../../db/testing/engines';
import { want } from '../../desk/job-queries';
import { closeAfterEach, sendingWorld, until } from '../testing/sending';
import { makeRun, NOW } from '../testing/world';
import { goOnOtherDay, otherDayOf } from './other-day';

closeAfterEach();
const DAY = 86_400_000;

describe.each(ENGINES)('texts that name a day counted from another than today, on %s', (kind) => {
  test('wait for a person, who is told of both days; then they go at once', async () => {
    const { db, center, clock, bus, engine } = await sendingWorld(kind);
    // pressed for yesterday; as many as come in two rows of the queue
    await makeRun(db, 60, { now: NOW - DAY, notAfter: NOW + DAY, state: 'sending' });
    await db.query(`UPDATE run SET started_at = due_at`);
    await db.query(`UPDATE outbound SET names_day = '2026-12-01'`);
    bus.work();
    await until(
      async () => (await db.query(`SELECT 1 FROM outbound WHERE due_at <= $1::timestamptz`, [iso(NOW)])).rowCount === 0,
    );
    expect(center.accepted).toBe(0);
    expect(await otherDayOf(db, 1, clock.now())).toEqual({ n: 60, day: '2026-12-01' });
    // due with the start of a run
    await want(db, [{ kind: 'watch', due: clock.now() }]);
    await engine.jobs.settle();
    await until(async () => (await db.query(`SELECT 1 FROM alarm WHERE kind = 'other_day'`)).rowCount === 1);
    expect((await db.query<{ words: string }>(`SELECT words FROM alarm`)).rows[0].words).toContain(
      '60 texts were written to go on Tue, Dec 1 and say so; it is Wed, Dec 2.',
    );

    const at = clock.now();
    expect(await db.transaction((tx) => goOnOtherDay(tx, 1, at))).toBe(true);
    // nobody waits for the next time at which they would have been asked about again
    const { rows } = await db.query<{ n: number }>(
      `SELECT count(*) AS n FROM outbound o WHERE o.due_at > $1::timestamptz AND NOT EXISTS (SELECT 1 FROM line_queue q WHERE q.id = o.queue AND q.leased_by IS NOT NULL)`,
      [iso(at)],
    );
    expect(rows).toEqual([{ n: 0 }]);
    bus.work();
    await until(async () => center.accepted === 60);
    expect(await db.transaction((tx) => goOnOtherDay(tx, 1, clock.now()))).toBe(false);
  });

  test('on the day that they name they go', async () => {
    const { db, center, bus } = await sendingWorld(kind);
    await makeRun(db, 5, { state: 'sending' });
    await db.query(`UPDATE outbound SET names_day = '2026-12-02'`);
    bus.work();
    await until(async () => center.accepted === 5);
    expect(await otherDayOf(db, 1, NOW)).toBeNull();
  });
});
