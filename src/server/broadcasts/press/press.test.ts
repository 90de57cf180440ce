import { describe, expect, test } from 'vitest';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { NOW } from '../../engine/testing/world';
import { balanceMicro } from '../../engine/money';
import type { Refusal } from '../../../core/api/refusal';
import { callOff } from '../../engine/runs/run-life';
import { localPlans } from '../planning/plan-thread';
import { makePlan, pressAndStore as press, presser, world } from '../testing';

const AT = new Date(NOW).toISOString();
const asked = { account: undefined, now: NOW, at: AT };
const TOP_UP = 100_000_000;

const pressing = (digest: string, pressId = 'press-one', version = 1) => ({ broadcastId: 1, version, digest, pressId });
const refused = (work: Promise<unknown>) =>
  work.then(
    () => undefined,
    (error: unknown) => error as Refusal,
  );
const app = (db: Db) => presser(db, NOW);
const off = (db: Db, run: number) => db.transaction((tx) => callOff(tx, run, 'draft', NOW));
const outbound = async (db: Db) =>
  (
    await db.query<{ number: string; body: string; due_at: string; state: string; reason: string | null }>(
      `SELECT number, body, due_at, state, reason FROM outbound ORDER BY number`,
    )
  ).rows;

describe.each(ENGINES)('plan and press on %s', (engine) => {
  test('the plan accounts for everyone, and the press stores exactly it', async () => {
    const { db, draft } = await world(engine);
    const plan = await makePlan(db, draft, NOW);
    expect(plan.summary).toMatchObject({ chosen: 5, people: 3, parts: 3, cost_micro: 22_500, fallback: 1, must_fix: [] });
    expect(plan.summary.dropped).toMatchObject({ same_number: 1, opted_out: 1, left_out: 0 });
    await press(app(db), pressing(plan.digest), asked);
    expect((await outbound(db)).map((each) => [each.number, each.body])).toEqual([
      ['+12075550101', 'Ana: the Heron is off. Ottermere Ferry\nSTOP to opt out'],
      ['+12075550104', 'Neighbor: the Heron is off. Ottermere Ferry\nSTOP to opt out'],
      ['+16125550103', 'Inès: the Heron is off. Ottermere Ferry\nSTOP to opt out'],
    ]);
    expect(await balanceMicro(db)).toBe(TOP_UP - 22_500);
  });

  test('who was chosen for a dependant they must not hear about by now is held back, though the words name nobody', async () => {
    const { db, draft } = await world(engine, { words: 'The Heron is off. Ottermere Ferry' });
    await db.query(
      `INSERT INTO dependant (id, given_name, created_at, updated_at) VALUES (7, 'Noor', $1::timestamptz, $1::timestamptz)`,
      [AT],
    );
    await db.query(`INSERT INTO guardianship VALUES (7, 3, 1, false)`);
    await db.query(`INSERT INTO list_member_for (list_id, person_id, dependant_id) VALUES (1, 3, 7)`);
    await press(app(db), pressing((await makePlan(db, draft, NOW)).digest), asked);
    const mustNot = async () =>
      (
        await db.query<{ number: string }>(
          `SELECT t.number FROM line_texts((SELECT array_agg(id) FROM outbound), $1::timestamptz) AS t WHERE t.must_not`,
          [AT],
        )
      ).rows.map(({ number }) => number);
    expect(await mustNot()).toEqual([]);
    await db.query(`UPDATE guardianship SET must_not_receive = true`);
    expect(await mustNot()).toEqual(['+16125550103']);
  });

  test('the same press twice, even at once, is one run and one hold', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const both = await Promise.allSettled([press(app(db), pressing(digest), asked), press(app(db), pressing(digest), asked)]);
    // two equal answers, not one and an error
    expect(both.map((each) => each.status === 'fulfilled' && each.value.run_id)).toEqual([1, 1]);
    await press(app(db), pressing(digest), asked);
    expect((await db.query(`SELECT id FROM run`)).rowCount).toBe(1);
    expect(await outbound(db)).toHaveLength(3);
    expect(await balanceMicro(db)).toBe(TOP_UP - 22_500);
  });

  test.each([
    ['someone said stop', `INSERT INTO suppression (number, at, how) VALUES ('+16125550103', '2026-12-02T20:50:00Z', 'texted')`],
    ['a name was changed', `UPDATE person SET given_name = 'Anna' WHERE id = 1`],
    [
      'someone joined the list',
      `INSERT INTO person (id, number, number_kind, created_at, updated_at) VALUES (9, '+12075550109', 'either', now(), now()); INSERT INTO list_member VALUES (1, 9)`,
    ],
    ['the price went up', `UPDATE rate SET price_micro = 7600`],
    ['the opt-out wording was changed', `UPDATE workspace SET opt_out_wording = '{"en":"Text STOP to end"}'`],
  ])('%s since the last look: nothing goes', async (_what, sql) => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    await db.exec(sql);
    expect(await refused(press(app(db), pressing(digest), asked))).toMatchObject({ why: 'clash' });
    expect((await db.query(`SELECT 1 FROM run`)).rowCount).toBe(0);
    expect(await outbound(db)).toEqual([]);
    expect(await balanceMicro(db)).toBe(TOP_UP);
  });

  /** Plans it, changes the world, and presses what was shown, on one desk of plans as the server has. */
  const shownThenPressed = async (change: (db: Db) => Promise<unknown>, part: Partial<Draft> = {}, later = 0) => {
    const { db, draft } = await world(engine, part);
    await db.query(
      `INSERT INTO person (id, given_name, number, number_kind, zone, created_at, updated_at)
       SELECT 100 + n, 'Noa', '+12072' || (100000 + n), 'either', 'America/New_York', $1::timestamptz, $1::timestamptz FROM generate_series(1, 120) AS n`,
      [AT],
    );
    await db.query(`INSERT INTO list_member SELECT 1, id FROM person WHERE id > 100`);
    const plans = localPlans(db);
    const { digest } = await plans.summary(draft, NOW);
    await change(db);
    // somebody else looks meanwhile
    await plans.summary(draft, NOW + later / 2);
    const at = NOW + later;
    return refused(press(presser(db, at, plans), pressing(digest), { ...asked, now: at, at: new Date(at).toISOString() }));
  };
  test.each<[string, string]>([
    ['quiet hours begin now', `UPDATE workspace SET quiet_from = '15:40'`],
    ['the sender takes one a second', `UPDATE sender SET parts_per_second = 1`],
    ['somebody is not to be disturbed now', `UPDATE person SET quiet = '15:00-22:00' WHERE id = 101`],
  ])('a start at once, and since the last look %s: nothing goes', async (_what, sql) => {
    expect(await shownThenPressed((db) => db.query(sql))).toMatchObject({ why: 'clash' });
  });
  test('a start at once may shift by the seconds that passed; what they explain is not said to differ', async () => {
    expect(await shownThenPressed(() => Promise.resolve(), {}, 50_000)).toBeUndefined();
  });
  test('a start at once whose sender another run has taken meanwhile is another plan, also when somebody has looked since', async () => {
    const { db, draft } = await world(engine);
    await db.query(`UPDATE sender SET parts_per_second = 1`);
    await db.query(
      `INSERT INTO person (id, given_name, number, number_kind, zone, created_at, updated_at)
       SELECT 100 + n, 'Noa', '+12072' || (100000 + n), 'either', 'America/New_York', $1::timestamptz, $1::timestamptz FROM generate_series(1, 120) AS n`,
      [AT],
    );
    await db.query(`INSERT INTO list_member SELECT 1, id FROM person WHERE id > 100`);
    const plans = localPlans(db);
    const { digest } = await plans.summary(draft, NOW);
    await plans.summary(draft, NOW + 30_000);
    await db.query(
      `INSERT INTO run (broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, busy)
      SELECT 1, 'sending', 'other', 'd', '', 'Other', 1, 'service', 60, 60, 0, $1::timestamptz, $1::timestamptz, $2::timestamptz, $2::timestamptz, $1::timestamptz, $3::jsonb`,
      [AT, new Date(NOW + 3_600_000).toISOString(), JSON.stringify([{ from: NOW, until: NOW + 600_000 }])],
    );
    const at = NOW + 1000;
    expect(
      await refused(press(presser(db, at, plans), pressing(digest), { ...asked, now: at, at: new Date(at).toISOString() })),
    ).toMatchObject({ why: 'clash' });
  });

  test('an older version of the draft, an empty balance, a past time and nobody are refused', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    expect(await refused(press(app(db), pressing(digest, 'press-old', 2), asked))).toMatchObject({ why: 'clash' });
    await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ($1::timestamptz, 'spend', $2)`, [AT, -TOP_UP]);
    expect(await refused(press(app(db), pressing(digest), asked))).toMatchObject({
      why: 'wrong',
      title: expect.stringContaining('balance does not cover it: $0.0225'),
    });
    const must = async (part: Partial<Draft>) =>
      (await makePlan(db, { ...draft, ...part }, NOW)).summary.must_fix.map((each) => each.message).join(' ');
    const past = await makePlan(db, { ...draft, when: { kind: 'at', date: '2026-12-02', time: '09:00' } }, NOW);
    expect(past.summary.must_fix).toContainEqual({
      check: 'time',
      place: 'when',
      message: 'That time is past.',
      instead: { date: '2026-12-02', time: '15:55' },
    });
    expect(await must({ to: [] })).toContain('Nobody is chosen yet.');
    expect(await must({ to: [{ kind: 'person', id: 5 }] })).toContain('Of 1 chosen, nobody can get it.');
    expect(await must({ words: 'Hi {nick_name}' })).toContain('There is no field “nick_name”.');
    expect(await must({ words: 'Hi {given_name}' })).toContain('1 person has no “given_name”');
  });

  test('quiet hours: theirs where they are, and for a guessed zone every plausible one', async () => {
    const evening = { when: { kind: 'at' as const, date: '2026-12-02', time: '21:30' } };
    const { db, draft } = await world(engine, evening);
    await db.query(`UPDATE person SET zone_guessed = true, zone = 'America/Chicago' WHERE id = 4`);
    const plan = await makePlan(db, draft, NOW);
    await press(app(db), pressing(plan.digest), asked);
    expect((await outbound(db)).map((each) => [each.number, each.due_at])).toEqual([
      ['+12075550101', '2026-12-03T13:00:00.000Z'], // 9:30 PM Eastern is quiet: 8 AM Eastern
      ['+12075550104', '2026-12-03T14:00:00.000Z'], // perhaps Central, perhaps ours: 8 AM Central suits both
      ['+16125550103', '2026-12-03T02:30:00.000Z'], // 8:30 PM Central is not quiet
    ]);
  });

  test('what would come after its use is left out and said', async () => {
    const { db, draft } = await world(engine, {
      when: { kind: 'at', date: '2026-12-02', time: '21:30' },
      no_use_after: { date: '2026-12-03', time: '07:00' },
    });
    const { summary } = await makePlan(db, draft, NOW);
    expect(summary).toMatchObject({ people: 1, dropped: { too_late: 2 } });
  });

  test('marketing goes only to who granted it, at the number they granted it for', async () => {
    const { db, draft } = await world(engine, { purpose: 'marketing' });
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) VALUES (1, '+12075550101', 'marketing', 'granted', 'form', $1::timestamptz), (3, '+16125550199', 'marketing', 'granted', 'form', $1::timestamptz)`,
      [AT],
    );
    expect((await makePlan(db, draft, NOW)).texts.map((each) => each.person.id)).toEqual([1]);
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) VALUES (1, '+12075550101', 'marketing', 'withdrawn', 'desk', $1::timestamptz)`,
      [AT],
    );
    expect((await makePlan(db, draft, NOW)).texts).toEqual([]);
  });

  test('taken back in time: nothing goes, the money returns, and it can be sent again', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const at = app(db);
    const { run_id } = await press(at, pressing(digest), asked);
    expect(await off(db, run_id)).toBe(true);
    expect(await balanceMicro(db)).toBe(TOP_UP);
    await at.jobs.settle();
    for (const table of ['outbound', 'run', 'link', 'line_queue', 'run_tally'])
      expect((await db.query(`SELECT 1 FROM ${table}`)).rows).toEqual([]);
    expect(await off(db, run_id)).toBe(false);
    // the press that was taken back makes no second run
    expect(await refused(press(app(db), pressing(digest), asked))).toMatchObject({ why: 'clash', kind: 'press-over' });
    await press(app(db), pressing(digest, 'press-two', 2), asked);
    expect((await outbound(db)).filter((each) => each.state === 'planned')).toHaveLength(3);
  });

  test('a press id belongs to one broadcast and one digest', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    await press(app(db), pressing(digest), asked);
    await db.query(
      `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES (2, 'Other', 'draft', $1::jsonb, $2::timestamptz, $2::timestamptz)`,
      [JSON.stringify(draft), AT],
    );
    expect(await refused(press(app(db), { ...pressing(digest), broadcastId: 2 }, asked))).toMatchObject({
      why: 'clash',
      kind: 'other-press',
    });
    expect(await refused(press(app(db), pressing('0'.repeat(64)), asked))).toMatchObject({ why: 'clash', kind: 'other-press' });
  });

  test('two broadcasts pressed at the same moment are both stored, each with its own words', async () => {
    const { db, draft } = await world(engine);
    const other = { ...draft, words: 'Kittiwake leaves at 7:40 AM. Ottermere Ferry' };
    await db.query(
      `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES (2, 'Kittiwake', 'draft', $1::jsonb, $2::timestamptz, $2::timestamptz)`,
      [JSON.stringify(other), AT],
    );
    const at = app(db);
    const [one, two] = [await at.plans.summary(draft, NOW), await at.plans.summary(other, NOW)];
    const both = await Promise.all([
      press(at, pressing(one.digest), asked),
      press(at, { ...pressing(two.digest, 'press-two'), broadcastId: 2 }, asked),
    ]);
    expect(both.map((each) => each.stored)).toEqual(['stored', 'stored']);
    const words = (await outbound(db)).map((each) => each.body);
    expect(words.filter((each) => each.startsWith('Kittiwake'))).toHaveLength(3);
    expect(words).toHaveLength(6);
  });

  test('called off while it is being stored: it stops, and nothing is left', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const at = app(db);
    // the plan gives its rows only after someone has called the run off
    const rows = at.plans.rows.bind(at.plans);
    at.plans.rows = async (...args) => {
      await off(db, 1);
      return rows(...args);
    };
    expect(await press(at, pressing(digest), asked)).toEqual({ run_id: 1, stored: 'called off' });
    expect(await balanceMicro(db)).toBe(TOP_UP);
    for (const table of ['outbound', 'run', 'link', 'line_queue', 'run_tally'])
      expect((await db.query(`SELECT 1 FROM ${table}`)).rows).toEqual([]);
    expect((await db.query(`SELECT state FROM broadcast`)).rows).toEqual([{ state: 'draft' }]);
  });

  test('a press that fails while it is stored gives its hold back and is a draft again at once', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const at = app(db);
    at.plans.rows = () => Promise.reject(new Error('the disk is full'));
    expect((await press(at, pressing(digest), asked)).stored).toBe('failed');
    expect(await balanceMicro(db)).toBe(TOP_UP);
    expect((await db.query(`SELECT state FROM broadcast`)).rows).toEqual([{ state: 'draft' }]);
    expect((await db.query(`SELECT 1 FROM run`)).rowCount).toBe(0);
  });

  /** So many more people of one number block, in our zone. */
  const crowd = async (db: Db, n: number) => {
    await db.query(
      `INSERT INTO person (id, given_name, number, number_kind, zone, created_at, updated_at) SELECT 100 + n, 'Kai', '+1207' || (3000000 + n), 'either', 'America/New_York', $1::timestamptz, $1::timestamptz FROM generate_series(1, $2::int) AS n`,
      [AT, n],
    );
    await db.query(`INSERT INTO list_member SELECT 1, id FROM person WHERE id > 100`);
  };

  test('a broadcast that goes now and takes hours can be pressed a while later, and its seconds begin when it is stored', async () => {
    const { db, draft } = await world(engine);
    await crowd(db, 50);
    await db.query(`UPDATE sender SET parts_per_second = 1`);
    await db.query(`UPDATE workspace SET quiet_from = '23:00'`);
    const plans = localPlans(db);
    const { digest } = await plans.summary(draft, NOW);
    const later = NOW + 20_000;
    const stored = await press({ ...presser(db, later + 90_000, plans) }, pressing(digest), { ...asked, now: later });
    expect(stored.stored).toBe('stored');
    const { rows } = await db.query<{ takeback_until: string; due_at: string }>(`SELECT takeback_until, due_at FROM run`);
    // storing took a minute and a half of that clock
    expect(rows[0].takeback_until).toBe(new Date(later + 98_000).toISOString());
    expect(rows[0].due_at).toBe(rows[0].takeback_until);
  });

  test('a pace that runs past quiet hours is said before, and when the look has grown too old nothing goes', async () => {
    const { db, draft } = await world(engine);
    await crowd(db, 1200);
    await db.query(`UPDATE sender SET parts_per_second = 1`);
    const evening = Date.UTC(2026, 11, 3, 1, 50); // 8:50 PM Eastern
    const plans = localPlans(db);
    const { plan, digest } = await plans.summary(draft, evening);
    expect(plan.hints.find((hint) => hint.check === 'does not fit before quiet hours')?.message).toMatch(
      /takes 1 part a second, so 6\d\d people do not get it before quiet hours/,
    );
    expect(
      await refused(press(presser(db, evening, plans), pressing(digest), { ...asked, now: evening + 300_000 })),
    ).toBeUndefined();
    await db.exec('DELETE FROM outbound; DELETE FROM line_queue; DELETE FROM run_event; DELETE FROM run');
    await db.query(`UPDATE broadcast SET state = 'draft'`);
    const again = await plans.summary(draft, evening);
    // quiet hours now begin earlier: far more wait than the time gone by explains
    await db.query(`UPDATE workspace SET quiet_from = '20:55'`);
    expect(
      await refused(
        press(presser(db, evening, plans), pressing(again.digest, 'press-late'), { ...asked, now: evening + 60_000 }),
      ),
    ).toMatchObject({
      why: 'clash',
    });
  });

  test('times that cannot be meant are refused in words, and what is offered instead is not in the night', async () => {
    const { db, draft } = await world(engine);
    const must = async (at: Draft['when'], now = NOW) =>
      (await makePlan(db, { ...draft, when: at }, now)).summary.must_fix.map((each) => each.message).join(' ');
    expect(await must({ kind: 'at', date: '9999-12-31', time: '12:00' })).toContain('more than a year ahead');
    const night = await makePlan(
      db,
      { ...draft, when: { kind: 'at', date: '2026-12-02', time: '09:00' } },
      Date.UTC(2026, 11, 3, 6, 35),
    );
    expect(night.summary.must_fix[0]?.instead).toEqual({ date: '2026-12-03', time: '08:00' });
    const march = Date.UTC(2026, 2, 1, 18);
    const { hints } = (
      await makePlan(
        db,
        { ...draft, to: [{ kind: 'person', id: 1 }], when: { kind: 'at', date: '2026-03-08', time: '02:30' } },
        march,
      )
    ).summary;
    // 02:30 does not exist, 03:30 is in quiet hours: it goes at 08:00, and that is what is said
    expect(hints.map((hint) => hint.message)).toContain(
      'The clocks go forward: 2:30 AM does not exist that day, so the first goes at 8:00 AM.',
    );
  });

  test('an urgent notice goes at any hour, agreed by someone who manages, with its reason in the record', async () => {
    const night = Date.UTC(2026, 11, 3, 4, 30);
    const { db, draft } = await world(engine, { urgent: 'Boil the water before drinking' });
    const { digest, summary } = await makePlan(db, draft, night);
    expect(Date.parse(summary.last ?? '')).toBeLessThan(night + 60_000);
    const at = { now: night, at: new Date(night).toISOString() };
    await db.query(
      `INSERT INTO account (id, email, name, role, password_hash, created_at) VALUES (1, 'a', 'Ana', 'manage', 'x', $1::timestamptz)`,
      [AT],
    );
    expect(await refused(press(presser(db, night), pressing(digest), { ...at, account: { id: 1, role: 'send' } }))).toMatchObject(
      { why: 'not allowed' },
    );
    // what was refused stays refused: somebody who may presses anew
    await press(presser(db, night), pressing(digest, 'press-two'), { ...at, account: { id: 1, role: 'manage' } });
    expect((await db.query<{ act: string }>(`SELECT act FROM record`)).rows[0].act).toContain('Boil the water');
  });
});
