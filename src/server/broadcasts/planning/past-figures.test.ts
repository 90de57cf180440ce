import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { makeRun, makeWorkspace, NOW } from '../../engine/testing/world';
import { pastFigures } from './past-figures';

describe.each(ENGINES)('how texts fared lately, on %s', (engine) => {
  test('is not known where few have gone, and a month where the last day had few', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const WEEK = 7 * 86_400_000;
    await makeRun(db, 200, { state: 'finished', now: NOW - WEEK });
    expect(await pastFigures(db, NOW)).toBeNull();
    const at = iso(NOW - WEEK);
    await db.query(`UPDATE run SET started_at = $1::timestamptz`, [at]);
    // after 1 to 190 seconds, and ten that never came
    await db.query(
      `UPDATE outbound SET handed_at = $1::timestamptz, state = CASE WHEN n <= 190 THEN 'delivered' ELSE 'not_delivered' END, final_at = $1::timestamptz + n * interval '1 second'
       FROM (SELECT id, row_number() OVER (ORDER BY id) AS n FROM outbound) AS each WHERE each.id = outbound.id`,
      [at],
    );
    // nineteen answers, one of them twice: after 1 to 19 minutes; one who said stop answers nothing
    await db.query(
      `INSERT INTO inbound (number, to_address, body, received_at, kind, run_id, applied)
       SELECT number, '72345', 'yes', $1::timestamptz + n * interval '1 minute', 'reply', 1, true FROM (SELECT number, row_number() OVER (ORDER BY id) AS n FROM outbound ORDER BY id LIMIT 19) AS each
       UNION ALL SELECT min(number), '72345', 'and me', $1::timestamptz + interval '9 hours', 'reply', 1, true FROM outbound
       UNION ALL SELECT max(number), '72345', 'STOP', $1::timestamptz + interval '1 hour', 'stop', 1, true FROM outbound`,
      [at],
    );
    const past = await pastFigures(db, NOW);
    expect(past).toMatchObject({ texts: 200, hours: 720, failed: 0.05, answered: 0.1 });
    expect(past?.delays).toHaveLength(11);
    expect([past?.delays[0], past?.delays[5], past?.delays[10]]).toEqual([1, 95.5, 190]);
    expect([past?.lags[0], past?.lags[5], past?.lags[10]]).toEqual([1, 10, 19]);
  });
});
