import { beforeEach, describe, expect, test } from 'vitest';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { MOST_IN_AN_HOUR } from './by-itself';
import { closeAfterEach, sendingWorld } from '../testing/sending';
import { NOW } from '../testing/world';

closeAfterEach();
const [MABEL, NOBODY] = ['+12075550131', '+12075550133'];

describe.each(ENGINES)('signing up by a keyword, on %s', (kind) => {
  let world: Awaited<ReturnType<typeof sendingWorld>>;
  let db: Db;
  beforeEach(async () => {
    world = await sendingWorld(kind);
    ({ db } = world);
    await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'Ferry notices', '2026-01-01')`);
    await db.query(`INSERT INTO tag (id, name) VALUES (1, 'poster')`);
    await db.query(
      `INSERT INTO person (id, given_name, number, created_at, updated_at) VALUES (10, 'Mabel', $1, '2026-01-01', '2026-01-01')`,
      [MABEL],
    );
  });
  const keyword = (word: string, more: { asks_first?: boolean; until?: string } = {}) =>
    db.query(
      `INSERT INTO keyword (word, folded, sender_id, list_id, tag_id, purpose, consent_wording, confirms, asks, asks_first, from_at, until_at, created_at)
       VALUES ($1, lower($1), 1, 1, 1, 'marketing', 'About two texts a month.', 'You are on the list. STOP ends it.', 'Reply YES to get our notices.', $2, '2026-01-01', $3::timestamptz, '2026-01-01')`,
      [word, more.asks_first ?? false, more.until ?? null],
    );
  const writes = async (number: string, text: string) => {
    await world.engine.inbound.take({ number, to: '72345', text });
    await world.engine.inbound.settle();
  };
  const all = async <T>(sql: string) => (await db.query<T>(sql)).rows;
  const sent = () => all<{ number: string; kind: string; body: string }>(`SELECT number, kind, body FROM outbound ORDER BY id`);
  const members = async () =>
    (await all<{ person_id: number }>(`SELECT person_id FROM list_member WHERE list_id = 1 ORDER BY person_id`)).map(
      (row) => row.person_id,
    );

  test('puts them on the list and under the tag, writes down what they agreed to, and answers; nobody has to', async () => {
    await keyword('FERRY');
    await writes(MABEL, 'Ferry please!');
    await writes(NOBODY, 'ferry');
    const [stranger, ...others] = await members();
    expect(others).toEqual([10]);
    expect(await all(`SELECT number, number_country, zone, zone_guessed FROM person WHERE id = ${stranger}`)).toEqual([
      { number: NOBODY, number_country: 'US', zone: 'America/New_York', zone_guessed: true },
    ]);
    expect(await all(`SELECT person_id FROM person_tag ORDER BY 1`)).toHaveLength(2);
    expect(
      await all(`SELECT person_id, number, purpose, act, how, evidence, wording FROM consent_event WHERE person_id = 10`),
    ).toEqual([
      {
        person_id: 10,
        number: MABEL,
        purpose: 'marketing',
        act: 'granted',
        how: 'texted a keyword',
        evidence: '“Ferry please!” to 72345',
        wording: 'About two texts a month.',
      },
    ]);
    expect(await sent()).toEqual([
      { number: MABEL, kind: 'automatic', body: 'You are on the list. STOP ends it.' },
      { number: NOBODY, kind: 'automatic', body: 'You are on the list. STOP ends it.' },
    ]);
    expect(await all(`SELECT 1 FROM inbound WHERE done_at IS NULL`)).toEqual([]);
  });

  test('where they are asked first, only a yes signs up, and only within a day', async () => {
    await keyword('FERRY', { asks_first: true });
    await writes(MABEL, 'FERRY');
    expect(await members()).toEqual([]);
    await writes(MABEL, 'not now');
    expect(await members()).toEqual([]);
    await writes(MABEL, 'Sí!');
    expect(await members()).toEqual([10]);
    await writes(NOBODY, 'ferry');
    world.clock.at += 25 * 3_600_000;
    await writes(NOBODY, 'yes');
    expect(await members()).toEqual([10]);
    expect((await sent()).map(({ body }) => body)).toEqual([
      'Reply YES to get our notices.',
      'You are on the list. STOP ends it.',
      'Reply YES to get our notices.',
    ]);
    // the yes that came too late, and "not now", wait for somebody
    expect(await all(`SELECT body FROM inbound WHERE done_at IS NULL ORDER BY id`)).toEqual([
      { body: 'not now' },
      { body: 'yes' },
    ]);
  });

  test('a number that opted out is not signed up, gets nothing, and a person sees it; START and the word again do it', async () => {
    await keyword('FERRY');
    await writes(MABEL, 'STOP');
    await writes(MABEL, 'FERRY');
    expect(await members()).toEqual([]);
    expect((await sent()).map(({ kind: of }) => of)).toEqual(['confirmation']);
    expect(await all(`SELECT body, trouble FROM inbound WHERE done_at IS NULL`)).toEqual([
      { body: 'FERRY', trouble: 'They opted out, so “FERRY” did nothing. Only START from them brings texts back.' },
    ]);
    await writes(MABEL, 'START');
    await writes(MABEL, 'FERRY');
    expect(await members()).toEqual([10]);
  });

  test('before it begins, after it ends, at another sender, or within a sentence it is an answer like any other', async () => {
    await keyword('FERRY', { until: new Date(NOW - 1000).toISOString() });
    await writes(MABEL, 'FERRY');
    await db.query(`UPDATE keyword SET until_at = NULL, ended_at = '2026-02-01'`);
    await writes(MABEL, 'FERRY');
    await keyword('BOAT');
    await writes(MABEL, 'is the boat there');
    await world.engine.inbound.take({ number: MABEL, to: '99999', text: 'BOAT' });
    await world.engine.inbound.settle();
    expect(await members()).toEqual([]);
    expect(await sent()).toEqual([]);
    expect(await all(`SELECT 1 FROM inbound WHERE done_at IS NULL`)).toHaveLength(4);
  });

  test('the answer to a run’s question is the run’s, not a yes to being asked', async () => {
    await keyword('FERRY', { asks_first: true });
    await writes(MABEL, 'FERRY');
    await db.query(
      `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES (1, 'Class', 'ended', '{}', '2026-01-01', '2026-01-01')`,
    );
    await db.query(
      `INSERT INTO run (id, broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at)
       VALUES (1, 1, 'finished', 'p', 'd', 'Coming? Reply 1 yes, 2 no', 'Class', 1, 'service', 1, 1, 1, '2026-12-02', '2026-12-02', '2026-12-02', '2026-12-03', '2026-12-02')`,
    );
    await db.query(
      `INSERT INTO outbound (run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, state, handed_at)
       VALUES (1, 'run', 10, $1, 1, 'Coming?', 'gsm7', 1, 1, '2026-12-02', '2026-12-03', 0, 'delivered', '2026-12-02')`,
      [MABEL],
    );
    await writes(MABEL, 'yes');
    expect(await members()).toEqual([]);
    expect(await all(`SELECT run_id FROM inbound WHERE body = 'yes'`)).toEqual([{ run_id: 1 }]);
  });

  test('out of hours one answer a day in a conversation, in their language; none to what phones write, a name, or a doubt', async () => {
    await db.query(
      `INSERT INTO desk_setting (id, away_on, days, from_time, to_time, away_wording) VALUES (1, true, '{1,2,3,4,5}', '08:00', '15:00', '{"en": "We read this from 8 AM.", "fr": "Nous lisons dès 8 h."}')`,
    );
    await db.query(`UPDATE person SET language = 'fr' WHERE id = 10`);
    await db.query(`UPDATE workspace SET languages = '{en,fr}'`);
    await writes(MABEL, 'Le 17 h 20 part-il ?');
    await writes(MABEL, 'Allô ?');
    await writes(NOBODY, 'Is it running?');
    await writes('+12075550134', "I'm driving right now and will get back to you");
    await writes('+12075550135', 'please stop by at noon');
    await writes('BANK', 'Your code is 4431');
    expect(await sent()).toEqual([
      { number: MABEL, kind: 'automatic', body: 'Nous lisons dès 8 h.' },
      { number: NOBODY, kind: 'automatic', body: 'We read this from 8 AM.' },
    ]);
    world.clock.at += 25 * 3_600_000;
    await writes(MABEL, 'Merci');
    expect(await sent()).toHaveLength(3);
    // at the desk nothing answers by itself: Friday, 10 AM
    world.clock.at = Date.parse('2026-12-04T10:00:00-05:00');
    await writes('+12075550136', 'Hello');
    expect(await sent()).toHaveLength(3);
    // each of them still waits for a person
    expect(await all(`SELECT 1 FROM inbound WHERE done_at IS NULL`)).toHaveLength(7);
  });

  test('a machine that asks for help again and again is answered so many times an hour', async () => {
    for (let i = 0; i < 30; i += 1) await writes(MABEL, 'HELP');
    expect(await sent()).toHaveLength(MOST_IN_AN_HOUR);
  });

  test('whoever has the number now is signed up, not who had it when it was texted last', async () => {
    await keyword('FERRY');
    await db.query(
      `INSERT INTO person (id, given_name, number, created_at, updated_at) VALUES (11, 'Idris', NULL, '2026-01-01', '2026-01-01')`,
    );
    await db.query(
      `INSERT INTO outbound (kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, open, handed_at, final_at)
       VALUES ('reply', 10, $1, 1, 'Ahoy', 'gsm7', 1, 0, '2026-12-01', '2026-12-02', 'delivered', 0, '2026-12-01', '2026-12-01')`,
      [MABEL],
    );
    await db.query(`UPDATE person SET number = CASE WHEN id = 11 THEN $1 END WHERE id IN (10, 11)`, [MABEL]);
    await writes(MABEL, 'FERRY');
    expect(await members()).toEqual([11]);
    expect(await all(`SELECT person_id FROM consent_event`)).toEqual([{ person_id: 11 }]);
    expect(await all(`SELECT person_id FROM inbound`)).toEqual([{ person_id: 11 }]);
  });

  test('a yes agrees to what was asked, in the wording and for the purpose that it had then', async () => {
    await keyword('FERRY', { asks_first: true });
    await writes(MABEL, 'FERRY');
    await db.query(
      `UPDATE keyword SET purpose = 'service', consent_wording = 'Daily offers of others.', confirms = 'Now for offers.'`,
    );
    await writes(MABEL, 'yes');
    expect(await all(`SELECT purpose, wording, version_id FROM consent_event`)).toEqual([
      { purpose: 'marketing', wording: 'About two texts a month.', version_id: 1 },
    ]);
    expect((await sent()).at(-1)?.body).toBe('You are on the list. STOP ends it.');
    // the next to be asked agrees to what stands now
    await writes(NOBODY, 'FERRY');
    await writes(NOBODY, 'yes');
    expect(await all(`SELECT purpose, version_id FROM consent_event ORDER BY id DESC LIMIT 1`)).toEqual([
      { purpose: 'service', version_id: 2 },
    ]);
  });

  test('a yes after the last day signs nobody up, and a person is told', async () => {
    await keyword('FERRY', { asks_first: true });
    await writes(MABEL, 'FERRY');
    await db.query(`UPDATE keyword SET until_at = $1::timestamptz`, [new Date(world.clock.at).toISOString()]);
    world.clock.at += 1000;
    await writes(MABEL, 'yes');
    expect(await members()).toEqual([]);
    expect(await all(`SELECT trouble, done_at FROM inbound ORDER BY id DESC LIMIT 1`)).toEqual([
      { trouble: 'They said yes when “FERRY” was over, so it signed nobody up.', done_at: null },
    ]);
  });

  test('a stop ends what was asked: a yes after STOP and START signs nobody up', async () => {
    await keyword('FERRY', { asks_first: true });
    await writes(MABEL, 'FERRY');
    await writes(MABEL, 'STOP');
    await writes(MABEL, 'START');
    await writes(MABEL, 'yes');
    expect(await members()).toEqual([]);
    expect(await all(`SELECT 1 FROM consent_event`)).toEqual([]);
  });
});
