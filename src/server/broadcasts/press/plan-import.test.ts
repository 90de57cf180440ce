import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import { ENGINES } from '../../db/testing/engines';
import { want } from '../../desk/job-queries';
import { NOW } from '../../engine/testing/world';
import { endRepeats } from '../draft/broadcast-queries';
import { makePlan } from '../testing';
import { press } from './press';
import { broadcast, desk, runs } from './testing';

const MINUTE = 60_000;

describe.each(ENGINES)('with each import, on %s', (engine) => {
  test('each import into the list brings one run, to whoever is there then; others bring none', async () => {
    const { db, send, at } = await desk(engine, { when: { kind: 'import', list_id: 1 } });
    const done = (id: number, list: string, moment: number, state = 'done') =>
      db.query(
        `INSERT INTO import (id, file_name, state, settings, facts, created_at, done_at) VALUES ($1, 'f.csv', $4, jsonb_build_object('list', $2::text), jsonb_build_object('list_id', (SELECT id FROM list WHERE name = $2)), $3::timestamptz, $3::timestamptz)`,
        [id, list, iso(moment), state],
      );
    await done(1, 'All', NOW - MINUTE);
    expect((await send()).run_id).toBe(0);
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', goes_on: true });
    await done(2, 'Others', NOW + MINUTE);
    await done(3, 'All', NOW + MINUTE, 'undone');
    await at(NOW + 2 * MINUTE);
    expect(await runs(db)).toEqual([]);
    // also where the clock was set back since it was agreed to
    await done(4, 'All', NOW - 3 * MINUTE);
    await done(5, 'All', NOW + 4 * MINUTE);
    for (const minute of [5, 6, 7]) await at(NOW + minute * MINUTE);
    expect((await runs(db)).map(({ origin, state }) => [origin, state])).toEqual([
      ['import', 'sending'],
      ['import', 'sending'],
    ]);
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', goes_on: true });
  });

  test('an import that is undone while its run is being planned brings none', async () => {
    const { db, send, at, presser } = await desk(engine, { when: { kind: 'import', list_id: 1 } });
    await send();
    await db.query(
      `INSERT INTO import (id, file_name, state, settings, facts, created_at, done_at) VALUES (1, 'f.csv', 'done', '{"list": "All"}', '{"list_id": 1}', $1::timestamptz, $1::timestamptz)`,
      [iso(NOW + MINUTE)],
    );
    const { plans } = presser;
    presser.plans = {
      ...plans,
      open: async (...asked) => {
        const plan = await plans.open(...asked);
        await db.query(`UPDATE import SET state = 'undone', undone_at = $1::timestamptz WHERE id = 1`, [iso(NOW + MINUTE)]);
        return plan;
      },
    };
    await want(db, [{ kind: 'plan next', key: '1', due: NOW + 2 * MINUTE }]);
    await at(NOW + 2 * MINUTE);
    expect(await runs(db)).toEqual([]);
    expect((await db.query(`SELECT 1 FROM broadcast_import`)).rowCount).toBe(0);
  });

  test('agreed to by a press whose answer was lost, the same press says that it is; taken back, that it was', async () => {
    const { db, draft, send, presser, clock } = await desk(engine, { when: { kind: 'import', list_id: 1 } });
    // both come to the broadcast at once
    const { digest } = await makePlan(db, draft, clock.now());
    const asked = { account: undefined, now: clock.now(), at: iso(clock.now()) };
    const once = () => press(presser, { broadcastId: 1, version: 1, digest, pressId: 'press-twice' }, asked);
    expect((await Promise.all([once(), once()])).map(({ run_id }) => run_id)).toEqual([null, null]);
    expect((await once()).run_id).toBeNull();
    expect(await db.query(`SELECT 1 FROM press_over`)).toMatchObject({ rowCount: 0 });
    await db.transaction((tx) => endRepeats(tx, 1, 'draft', asked.at));
    await expect(once()).rejects.toMatchObject({ title: 'What you pressed was taken back. Nothing was sent.' });
    expect(await broadcast(db)).toMatchObject({ state: 'draft', goes_on: false });
    // it may be agreed to anew
    expect((await send('press-anew', 2)).run_id).toBe(0);
  });

  test('what was imported into one list is nobody’s reason to text another that bears its name now', async () => {
    const { db, send, at } = await desk(engine, { when: { kind: 'import', list_id: 1 } });
    await send();
    await db.query(`INSERT INTO list (id, name, created_at) VALUES (2, 'Newcomers', $1::timestamptz)`, [iso(NOW)]);
    await db.query(
      `INSERT INTO import (id, file_name, state, settings, facts, created_at, done_at) VALUES (1, 'f.csv', 'done', '{"list": "Newcomers"}', '{"list_id": 2}', $1::timestamptz, $1::timestamptz)`,
      [iso(NOW + MINUTE)],
    );
    await db.query(`UPDATE list SET name = CASE id WHEN 1 THEN 'Newcomers' ELSE 'Newcomers of last year' END WHERE id = 2`);
    await db.query(`UPDATE list SET name = 'Newcomers' WHERE id = 1`);
    await at(NOW + 2 * MINUTE);
    expect(await runs(db)).toEqual([]);
  });
});
