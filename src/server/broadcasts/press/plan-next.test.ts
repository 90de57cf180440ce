import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Repeats } from '../../../core/plan/times/repeats';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { want } from '../../desk/job-queries';
import { balanceMicro } from '../../engine/money';
import { callOff, moveRun } from '../../engine/runs/run-life';
import { NOW } from '../../engine/testing/world';
import type { Working } from '../../desk/job-runner';
import { planNextWork } from './plan-next';
import { press } from './press';
import { presserBy } from '../testing';
import { broadcast, desk, runs } from './testing';

const MINUTE = 60_000;
const DAY = 86_400_000;
/** Every weekday at nine; the first is Thu, Dec 3. */
const WEEKDAYS: Repeats = { every: 'week', n: 1, days: [1, 2, 3, 4, 5] };
const nine = (repeats: Repeats, more: object = {}): Partial<Draft> => ({
  when: { kind: 'at', date: '2026-12-03', time: '09:00', repeats, ...more },
});
const NINE = Date.parse('2026-12-03T14:00:00Z');

/** Another person comes to the list. */
const join = async (db: Db, id: number) => {
  await db.query(
    `INSERT INTO person (id, given_name, number, number_kind, zone, created_at, updated_at) VALUES ($1, 'Noa', $2, 'either', 'America/New_York', $3::timestamptz, $3::timestamptz)`,
    [id, `+120755501${id}`, iso(NOW)],
  );
  await db.query(`INSERT INTO list_member VALUES (1, $1)`, [id]);
};
/** A job as its work is given it, without a runner. */
const workingOn = (clock: { at: number }): Working => ({
  job: { id: 0, kind: 'plan next', key: '1', lease: 0, until: Infinity, wanted: 0, attempts: 0, failingSince: null },
  now: () => clock.at,
  over: () => false,
  stillMine: () => Promise.resolve(),
  inOne: () => Promise.reject(new Error('not asked for')),
});
const finish = (db: Db, id: number) =>
  db.query(`UPDATE run SET state = 'finished', started_at = due_at, ended_at = due_at WHERE id = $1`, [id]);

describe.each(ENGINES)('again and again on %s', (engine) => {
  test('the first run is the one that was shown; the next is planned ten minutes before, for whoever is there, once', async () => {
    const { db, send, at } = await desk(engine, nine(WEEKDAYS));
    await send();
    expect(await runs(db)).toMatchObject([{ state: 'waiting', origin: 'press', people: 3, due_at: iso(NINE) }]);
    expect(await broadcast(db)).toEqual({
      state: 'scheduled',
      goes_on: true,
      next_date: '2026-12-04',
      next_at: iso(NINE + DAY),
      plan_at: iso(NINE + DAY - 10 * MINUTE),
    });
    await join(db, 26);
    await at(NINE + DAY - 11 * MINUTE);
    expect(await runs(db)).toHaveLength(1);
    await finish(db, 1);
    await at(NINE + DAY - 10 * MINUTE);
    await at(NINE + DAY - 9 * MINUTE);
    // after Friday comes Monday
    expect(await runs(db)).toMatchObject([
      { state: 'finished' },
      { state: 'waiting', origin: 'repeat', on_date: '2026-12-04', due_at: iso(NINE + DAY), people: 4, asks: null },
    ]);
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', next_date: '2026-12-07' });
    expect((await db.query(`SELECT 1 FROM outbound WHERE run_id = 2`)).rowCount).toBe(4);
  });

  test('two processes plan a date at the same moment: one run, one hold, and the next date once', async () => {
    const { db, send, presser, clock } = await desk(engine, nine(WEEKDAYS));
    await send();
    await finish(db, 1);
    clock.at = NINE + DAY - 5 * MINUTE;
    const before = await balanceMicro(db);
    // the first one's lease has run out while it plans, and another has taken it over
    const two = [presser, presserBy(db, clock)].map((each) => planNextWork(each)(workingOn(clock)));
    await Promise.all(two);
    await presser.jobs.settle();
    expect(await runs(db)).toHaveLength(2);
    expect(await balanceMicro(db)).toBe(before - 22_500);
    expect(await broadcast(db)).toMatchObject({ next_date: '2026-12-07' });
  });

  test('what differs much waits for a person; agreed to, it goes; skipped, only it does not', async () => {
    const { db, clock, send, at } = await desk(engine, nine({ ...WEEKDAYS, wait: 20 }));
    await send();
    await join(db, 26);
    await at(NINE + DAY - 5 * MINUTE);
    const [, run] = await runs(db);
    expect(run).toMatchObject({ state: 'waiting', asks: '4 people instead of 3, $0.03 instead of $0.0225' });
    await at(NINE + DAY + MINUTE);
    expect((await runs(db))[1].state).toBe('waiting');
    await db.transaction((tx) => moveRun(tx, run.id, { is: 'agreed' }, clock.at));
    await at(clock.at);
    expect((await runs(db))[1].state).toBe('sending');
  });

  test('what nobody agrees to in time is missed and says so; one that is skipped leaves nothing, and the next comes', async () => {
    const { db, clock, send, at } = await desk(engine, nine({ ...WEEKDAYS, wait: 20 }));
    await send();
    await finish(db, 1);
    const before = await balanceMicro(db);
    await join(db, 26);
    await at(NINE + DAY - 5 * MINUTE);
    await at(NINE + DAY + 31 * MINUTE);
    expect((await runs(db))[1]).toMatchObject({ state: 'missed', note: /^Nobody agreed to it in time \(4 people instead of 3/ });
    await at(NINE + 4 * DAY - 5 * MINUTE);
    await db.transaction((tx) => callOff(tx, 3, 'skipped', clock.at));
    await at(clock.at);
    expect(await runs(db)).toHaveLength(2);
    expect(await balanceMicro(db)).toBe(before);
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', next_date: '2026-12-08' });
  });

  test('a date that comes while the server is away is missed, and says so; a little late is now', async () => {
    const { db, send, at } = await desk(engine, nine(WEEKDAYS));
    await send();
    await at(NINE + DAY + 10 * MINUTE);
    expect((await runs(db))[1]).toMatchObject({ state: 'waiting', on_date: '2026-12-04' });
    expect(Date.parse((await runs(db))[1].due_at)).toBeGreaterThan(NINE + DAY + 10 * MINUTE);
    await at(NINE + 4 * DAY + 31 * MINUTE);
    expect((await runs(db))[2]).toMatchObject({ state: 'missed', on_date: '2026-12-07', people: 0, note: /in time/ });
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', next_date: '2026-12-08' });
  });

  test('a date whose plan must be fixed is missed with its reason, and the series goes on', async () => {
    const { db, send, at } = await desk(engine, nine(WEEKDAYS));
    await send();
    await db.query(`DELETE FROM list_member`);
    await at(NINE + DAY - 5 * MINUTE);
    expect((await runs(db))[1]).toMatchObject({
      state: 'missed',
      note: 'It could not be planned: Of 0 chosen, nobody can get it. Nothing was sent.',
    });
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', next_date: '2026-12-07' });
  });

  test('a list that is being filled is waited for, as long as the run could still start in time', async () => {
    const { db, send, at } = await desk(engine, nine(WEEKDAYS));
    await send();
    await db.query(`UPDATE list SET filling_import = 9 WHERE id = 1`);
    await at(NINE + DAY - 5 * MINUTE);
    expect(await runs(db)).toHaveLength(1);
    await db.query(`UPDATE list SET filling_import = NULL WHERE id = 1`);
    await at(NINE + DAY - 4 * MINUTE);
    expect((await runs(db))[1]).toMatchObject({ state: 'waiting' });
  });

  test('one that cannot be planned for trouble of ours holds up no other, and is tried again a moment later', async () => {
    const { db, draft, send, presser, at, failures } = await desk(engine, nine(WEEKDAYS));
    await send();
    await want(db, [{ kind: 'plan next', key: '2', due: NOW }]);
    await db.query(
      `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at, goes_on, next_date, next_at, plan_at)
       SELECT 2, 'Second', 'scheduled', $1::jsonb, created_at, updated_at, true, next_date, next_at, plan_at FROM broadcast WHERE id = 1`,
      [JSON.stringify(draft)],
    );
    const open = presser.plans.open.bind(presser.plans);
    let broken = true;
    presser.plans.open = (...args) =>
      broken && args[3] === 'broadcast-1' ? Promise.reject(new Error('The thread has ended.')) : open(...args);
    await at(NINE + DAY - 9 * MINUTE);
    expect((await runs(db)).map(({ origin }) => origin)).toEqual(['press', 'repeat']);
    expect(failures.length).toBeGreaterThan(0);
    broken = false;
    await at(NINE + DAY - 8 * MINUTE);
    expect(await runs(db)).toHaveLength(3);
  });

  test('after its last date the broadcast has ended with its last run', async () => {
    const { db, send, at } = await desk(engine, nine({ ...WEEKDAYS, times: 2 }));
    await send();
    await finish(db, 1);
    await at(NINE + DAY - 5 * MINUTE);
    expect(await broadcast(db)).toEqual({ state: 'scheduled', goes_on: false, next_date: null, next_at: null, plan_at: null });
    await at(NINE + 5 * DAY);
    expect(await runs(db)).toHaveLength(2);
  });

  test('what is of no use after a time, and evenly until one, moves with each run', async () => {
    const { db, send, at } = await desk(engine, {
      ...nine(WEEKDAYS),
      no_use_after: { date: '2026-12-03', time: '12:00' },
      pace: { kind: 'until', date: '2026-12-03', time: '10:00' },
    });
    await send();
    await at(NINE + DAY - 5 * MINUTE);
    const { rows } = await db.query<{ not_after: string; last: string }>(
      `SELECT not_after, (SELECT max(due_at) FROM outbound WHERE run_id = 2) AS last FROM run WHERE id = 2`,
    );
    expect(rows[0].not_after).toBe(iso(NINE + DAY + 180 * MINUTE));
    expect(Date.parse(rows[0].last)).toBeGreaterThan(NINE + DAY + 30 * MINUTE);
  });

  test('a run whose process ended while it was stored is planned again, a moment later', async () => {
    const { db, send, at } = await desk(engine, nine(WEEKDAYS));
    await send();
    await finish(db, 1);
    await at(NINE + DAY - 9 * MINUTE);
    // with a plan that is not that of now
    await db.query(`UPDATE run SET state = 'planning', digest = 'another' WHERE id = 2`);
    await want(db, [{ kind: 'store run', key: '2', due: NINE + DAY - 8 * MINUTE }]);
    await at(NINE + DAY - 8 * MINUTE);
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', goes_on: true, next_date: '2026-12-04' });
    await at(NINE + DAY - 6 * MINUTE);
    expect((await runs(db)).map(({ state, on_date }) => [state, on_date])).toEqual([
      ['finished', null],
      ['waiting', '2026-12-04'],
    ]);
    expect(await broadcast(db)).toMatchObject({ next_date: '2026-12-07' });
  });

  test('kept current until it goes: planned once more before it, in place of the run that was agreed to', async () => {
    const { db, send, at } = await desk(engine, {
      when: { kind: 'at', date: '2026-12-03', time: '09:00', current: { most: 4 } },
    });
    await send();
    const before = await balanceMicro(db);
    await join(db, 26);
    await at(NINE - 10 * MINUTE);
    expect((await runs(db)).map(({ origin, state, people }) => [origin, state, people])).toEqual([['current', 'waiting', 4]]);
    expect(await balanceMicro(db)).toBe(before - 7_500);
    expect((await db.query(`SELECT 1 FROM outbound`)).rowCount).toBe(4);
    expect(await broadcast(db)).toMatchObject({ state: 'scheduled', plan_at: null });
    await at(NINE - 5 * MINUTE);
    expect(await runs(db)).toHaveLength(1);
  });

  test('more than were agreed to: those who were agreed to get it, and the run says why', async () => {
    const { db, send, at } = await desk(engine, {
      when: { kind: 'at', date: '2026-12-03', time: '09:00', current: { most: 3 } },
    });
    await send();
    await join(db, 26);
    await at(NINE - 10 * MINUTE);
    expect((await runs(db)).map(({ origin, people }) => [origin, people])).toEqual([['press', 3]]);
    const { rows } = await db.query<{ what: string }>(`SELECT what FROM run_event ORDER BY id DESC LIMIT 1`);
    expect(rows[0].what).toBe('goes to those who were agreed to: 4 people would get it now, more than the 3 agreed to.');
  });

  test('a date whose run was undone, and is still being cleared away, is planned again: it does not vanish', async () => {
    const { db, clock, send, at } = await desk(engine, nine(WEEKDAYS));
    await send();
    await finish(db, 1);
    await at(NINE + DAY - 9 * MINUTE);
    await db.query(`UPDATE run SET state = 'planning' WHERE id = 2`);
    await db.transaction((tx) => callOff(tx, 2, 'undone', clock.at));
    // nobody comes to clearing it away
    await db.query(`DELETE FROM job WHERE kind = 'clear run'`);
    await at(NINE + DAY - 7 * MINUTE);
    expect((await runs(db)).map(({ id, state, on_date }) => [id, state, on_date])).toEqual([
      [1, 'finished', null],
      [2, 'stopped', '2026-12-04'],
      [3, 'waiting', '2026-12-04'],
    ]);
    expect(await broadcast(db)).toMatchObject({ next_date: '2026-12-07' });
  });

  test('in each one’s own time, planned late: whose hour is still ahead get it, whose hour was long past do not, and are told apart', async () => {
    const { db, send, at } = await desk(engine, nine(WEEKDAYS, { own: true }));
    await send();
    // half past nine in New York is half past eight in Chicago
    await at(NINE + DAY + 40 * MINUTE);
    const [, run] = await runs(db);
    expect(run).toMatchObject({ state: 'waiting', on_date: '2026-12-04', people: 1, due_at: iso(NINE + DAY + 60 * MINUTE) });
    expect((await db.query(`SELECT number FROM outbound WHERE run_id = 2`)).rows).toEqual([{ number: '+16125550103' }]);
    const { rows } = await db.query<{ late: number }>(
      `SELECT (SELECT people FROM run_dropped d WHERE d.run_id = run.id AND d.reason = 'too_late') AS late FROM run WHERE id = 2`,
    );
    expect(rows).toEqual([{ late: 2 }]);
  });

  test('in each one’s own time, started late: whose hour is still ahead get it', async () => {
    const { db, send, at } = await desk(engine, nine(WEEKDAYS, { own: true }));
    await send();
    await at(NINE + 40 * MINUTE);
    expect((await runs(db))[0]).toMatchObject({ state: 'sending', people: 3 });
    const { rows } = await db.query(`SELECT number, state, reason FROM outbound WHERE run_id = 1 ORDER BY number`);
    expect(rows).toEqual([
      { number: '+12075550101', state: 'not_sent', reason: 'too late: its hour had passed' },
      { number: '+12075550104', state: 'not_sent', reason: 'too late: its hour had passed' },
      { number: '+16125550103', state: 'planned', reason: null },
    ]);
    // when everybody's was past it is missed
    await at(NINE + DAY + 120 * MINUTE);
    expect((await runs(db))[1]).toMatchObject({ state: 'missed', on_date: '2026-12-04' });
  });

  test('taken back, written anew and pressed while it was being planned once more: only what was pressed last goes', async () => {
    const { db, draft, clock, presser, send, at } = await desk(engine, {
      when: { kind: 'at', date: '2026-12-03', time: '09:00', current: { most: 4 } },
    });
    await send();
    const open = presser.plans.open.bind(presser.plans);
    let meanwhile = async () => {
      meanwhile = () => Promise.resolve();
      await db.transaction((tx) => callOff(tx, 1, 'draft', clock.at));
      await db.query(`UPDATE broadcast SET draft = $1::jsonb, version = version + 1`, [
        JSON.stringify({ ...draft, words: 'Kittiwake instead. Ottermere Ferry' }),
      ]);
      const version = (await db.query<{ version: number }>(`SELECT version FROM broadcast`)).rows[0].version;
      const { digest } = await presser.plans.summary({ ...draft, words: 'Kittiwake instead. Ottermere Ferry' }, clock.at);
      await (
        await press(
          presser,
          { broadcastId: 1, version, digest, pressId: 'press-two' },
          { account: undefined, now: clock.at, at: iso(clock.at) },
        )
      ).stored;
    };
    presser.plans.open = async (...args) => {
      const opened = await open(...args);
      await meanwhile();
      return opened;
    };
    await at(NINE - 10 * MINUTE);
    const { rows } = await db.query<{ body: string }>(`SELECT DISTINCT body FROM outbound WHERE state = 'planned'`);
    expect(rows.map(({ body }) => body)).toEqual(['Kittiwake instead. Ottermere Ferry\nSTOP to opt out']);
    expect((await runs(db)).filter(({ state }) => state === 'waiting')).toHaveLength(1);
  });
});
