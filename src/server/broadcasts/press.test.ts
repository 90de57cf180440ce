import { describe, expect, test } from 'vitest';
import { EMPTY_DRAFT, type Draft } from '../../core/plan/draft';
import type { Db } from '../db/db';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { makeWorkspace, NOW } from '../engine/testing/world';
import { balanceMicro } from '../engine/money';
import type { Problem } from '../http/problem';
import { callOff, dismantle } from '../engine/sweep';
import { makePlan, pressAndStore as press, presser } from './testing';

const AT = new Date(NOW).toISOString();
const asked = { account: undefined, now: NOW, at: AT };
const TOP_UP = 100_000_000;

/** Five people: two share a number, one is in another zone, one has no name, one said stop. */
async function world(engine: (typeof ENGINES)[number], part: Partial<Draft> = {}) {
  const db = await emptyDb(engine);
  await makeWorkspace(db);
  await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'All', $1::timestamptz)`, [AT]);
  const people: [number, string, string, string | null][] = [
    [1, 'Ana', '+12075550101', 'America/New_York'],
    [2, 'Leo', '+12075550101', 'America/New_York'],
    [3, 'Inès', '+16125550103', 'America/Chicago'],
    [4, '', '+12075550104', null],
    [5, 'Mika', '+12075550105', null],
  ];
  for (const [id, name, number, zone] of people) {
    await db.query(
      `INSERT INTO person (id, given_name, number, number_kind, zone, created_at, updated_at) VALUES ($1, $2, $3, 'either', $4, $5::timestamptz, $5::timestamptz)`,
      [id, name, number, zone, AT],
    );
    await db.query(`INSERT INTO list_member VALUES (1, $1)`, [id]);
  }
  await db.query(`INSERT INTO suppression (number, at, how) VALUES ('+12075550105', $1::timestamptz, 'texted')`, [AT]);
  const draft: Draft = {
    ...EMPTY_DRAFT,
    sender_id: 1,
    to: [{ kind: 'list', id: 1 }],
    words: '{given_name or "neighbor"}: the Heron is off. Ottermere Ferry',
    ...part,
  };
  await db.query(
    `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES (1, 'Heron', 'draft', $1::jsonb, $2::timestamptz, $2::timestamptz)`,
    [JSON.stringify(draft), AT],
  );
  return { db, draft };
}
const pressing = (digest: string, pressId = 'press-one', version = 1) => ({ broadcastId: 1, version, digest, pressId });
const refused = (work: Promise<unknown>) =>
  work.then(
    () => undefined,
    (error: unknown) => error as Problem,
  );
const app = (db: Db) => presser(db, NOW);
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
      ['+12075550104', 'neighbor: the Heron is off. Ottermere Ferry\nSTOP to opt out'],
      ['+16125550103', 'Inès: the Heron is off. Ottermere Ferry\nSTOP to opt out'],
    ]);
    expect(await balanceMicro(db)).toBe(TOP_UP - 22_500);
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
    expect(await refused(press(app(db), pressing(digest), asked))).toMatchObject({ status: 409 });
    expect((await db.query(`SELECT 1 FROM run`)).rowCount).toBe(0);
    expect(await outbound(db)).toEqual([]);
    expect(await balanceMicro(db)).toBe(TOP_UP);
  });

  test('an older version of the draft, an empty balance, a past time and nobody are refused', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    expect(await refused(press(app(db), pressing(digest, 'press-old', 2), asked))).toMatchObject({ status: 409 });
    await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ($1::timestamptz, 'spend', $2)`, [AT, -TOP_UP]);
    expect(await refused(press(app(db), pressing(digest), asked))).toMatchObject({
      status: 422,
      title: expect.stringContaining('balance does not cover it: $0.0225'),
    });
    const must = async (part: Partial<Draft>) =>
      (await makePlan(db, { ...draft, ...part }, NOW)).summary.must_fix.map((each) => each.message).join(' ');
    expect(await must({ when: { kind: 'at', date: '2026-12-02', time: '09:00' } })).toContain(
      'That time is past. The next sensible one is 2026-12-02 15:55',
    );
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

  test('personal links: one token each, as long as the dummy that was shown', async () => {
    const { db, draft } = await world(engine, {
      words: 'Ottermere Ferry: {link times}',
      link: { name: 'times', address: 'https://example.org/t' },
    });
    const plan = await makePlan(db, draft, NOW);
    await press(app(db), pressing(plan.digest), asked);
    const texts = await outbound(db);
    expect(new Set(texts.map((each) => each.body)).size).toBe(3);
    expect(texts.map((each) => each.body.length)).toEqual(
      texts.map((each) => plan.texts.find((text) => text.number === each.number)?.text.length),
    );
    expect(
      (await db.query(`SELECT 1 FROM link WHERE address = 'https://example.org/t' AND token ~ '^[2-9a-z]{12}$'`)).rowCount,
    ).toBe(3);
  });

  test('taken back in time: nothing goes, the money returns, and it can be sent again', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const { run_id } = await press(app(db), pressing(digest), asked);
    expect(await callOff(db, run_id, 'draft', AT)).toBe(true);
    expect(await balanceMicro(db)).toBe(TOP_UP);
    await dismantle(db, run_id);
    for (const table of ['outbound', 'run', 'link', 'line_queue', 'run_tally'])
      expect((await db.query(`SELECT 1 FROM ${table}`)).rows).toEqual([]);
    expect(await callOff(db, run_id, 'draft', AT)).toBe(false);
    await press(app(db), pressing(digest, 'press-two', 2), asked);
    expect((await outbound(db)).filter((each) => each.state === 'planned')).toHaveLength(3);
  });
});
