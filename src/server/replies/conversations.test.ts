import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { Conversation, Thread } from '../../core/api/desk/replies';
import type { Role } from '../../core/api/roles';
import { emptyDb, ENGINES } from '../db/testing/engines';
import type { Inbound } from '../engine/replies/inbound';
import { repliesOf } from '../engine/testing/jobs';
import { openDesk, type Desk } from '../http/testing/desk';

const [MABEL, IDRIS, NOBODY] = ['+12075550131', '+12075550132', '+12075550133'];
type List = { conversations: Conversation[]; counts: { waiting: number; others: number; later: number }; next: string | null };

describe.each(ENGINES)('conversations, %s', (engine) => {
  let desk: Desk;
  let inbound: Inbound;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
    const { db, clock, bus } = desk.app;
    ({ inbound } = repliesOf(db, clock, bus, (error) => {
      throw error;
    }));
    await db.query(
      `INSERT INTO person (id, given_name, family_name, number, number_country, number_kind, fields, language, sort_name, search, created_at, updated_at) VALUES
         (1, 'Mabel', 'Greenhalgh', $1, 'US', 'mobile', '{"landing": "Mill Quay"}', 'en', 'greenhalgh mabel', 'mabel greenhalgh', '2026-01-01', '2026-01-01'),
         (2, 'Idris', 'Fairweather', $2, 'US', 'mobile', '{}', 'en', 'fairweather idris', 'idris fairweather', '2026-01-01', '2026-01-01')`,
      [MABEL, IDRIS],
    );
    await db.query(`INSERT INTO field_def (slug, label, type, about) VALUES ('landing', 'landing', 'text', 'person')`);
    await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-01-01', 'top_up', 100000000)`);
  });
  beforeEach(async () => {
    await desk.app.db.exec(
      `DELETE FROM inbound; DELETE FROM conversation; DELETE FROM outbound; DELETE FROM suppression; DELETE FROM job;`,
    );
  });
  afterAll(() => desk.close());

  const writes = async (number: string, text: string) => {
    await inbound.take({ number, to: '72345', text });
    await inbound.settle();
  };
  const as = async <T>(role: Role, method: string, path: string, body?: unknown) => {
    const answer = await desk.ask(method, path, role, body === undefined ? {} : { body: JSON.stringify(body) });
    return { status: answer.status, ...((await answer.json()) as T) };
  };
  const list = (role: Role = 'manage', query = '') => as<List>(role, 'GET', `/api/replies${query}`);
  const names = async (role: Role, view: string) => (await list(role, `?view=${view}`)).conversations.map(({ name }) => name);
  const thread = (number: string, role: Role = 'manage') =>
    as<Thread>(role, 'GET', `/api/replies/thread?number=${encodeURIComponent(number)}`);
  const idOf = async (role: Role) =>
    (await desk.app.db.query<{ id: number }>(`SELECT id FROM account WHERE role = $1`, [role])).rows[0].id;
  const waitingOf = async (role: Role) => (await as<{ replies: number }>(role, 'GET', '/api/session')).replies;

  test('one line a conversation, the longest waiting first; everything either way in its thread, with who answered', async () => {
    await writes(MABEL, 'Is the 5:20 running?');
    await writes(IDRIS, 'can Leo come a day later');
    await writes(MABEL, 'Hello?');
    const { conversations, counts } = await list();
    expect(conversations.map(({ name, waiting, last }) => [name, waiting, last.body])).toEqual([
      ['Mabel Greenhalgh', 2, 'Hello?'],
      ['Idris Fairweather', 1, 'can Leo come a day later'],
    ]);
    expect(counts).toEqual({ waiting: 2, others: 0, later: 0 });
    const { seen, answered } = await thread(MABEL);
    const words = '{given_name}, freight until 4:30 PM at {landing}.';
    expect(await as('send', 'POST', '/api/replies/answer', { number: MABEL, words, seen, answered })).toEqual({ status: 200 });
    expect((await thread(MABEL)).texts).toMatchObject([
      { direction: 'from', body: 'Is the 5:20 running?', waits: false },
      { direction: 'from', body: 'Hello?', waits: false },
      { direction: 'to', body: 'Mabel, freight until 4:30 PM at Mill Quay.', by: 'send@ottermere.example', kind: 'reply' },
    ]);
    expect(await names('manage', 'waiting')).toEqual(['Idris Fairweather']);
    expect(await names('manage', 'all')).toEqual(['Mabel Greenhalgh', 'Idris Fairweather']);
  });

  test('of two answers to the same the second is refused, with what the first said; what came unseen still waits', async () => {
    await writes(MABEL, 'Is the 5:20 running?');
    const { seen, answered } = await thread(MABEL);
    await writes(MABEL, 'And the 6:00?');
    const [first, second] = await Promise.all(
      (['send', 'manage'] as const).map((role) =>
        as<{ title?: string; kept?: string }>(role, 'POST', '/api/replies/answer', {
          number: MABEL,
          words: `Yes, says ${role}.`,
          seen,
          answered,
        }),
      ),
    );
    expect([first.status, second.status].sort()).toEqual([200, 409]);
    const won = first.status === 200 ? 'send' : 'manage';
    expect(first.title ?? second.title).toBe(`${won}@ottermere.example has just answered: “Yes, says ${won}.”`);
    expect(first.kept ?? second.kept).toBe('Your words are still here.');
    const { texts } = await thread(MABEL);
    expect(texts.filter(({ direction }) => direction === 'to')).toHaveLength(1);
    expect(texts.flatMap(({ waits, body }) => (waits ? [body] : []))).toEqual(['And the 6:00?']);
  });

  test('a claim is seen by everyone and counted alike everywhere; of two at once one wins, and it can be passed on and given back', async () => {
    await writes(MABEL, 'Is the 5:20 running?');
    await writes(IDRIS, 'can Leo come a day later');
    const [send, manage] = [await idOf('send'), await idOf('manage')];
    const claim = (role: Role, account_id: number | null, from: number | null) =>
      as('manage', 'POST', '/api/replies/claim', { number: MABEL, account_id, from }).then(({ status }) => [role, status]);
    const both = await Promise.all([claim('send', send, null), claim('manage', manage, null)]);
    expect(both.map(([, status]) => status).sort()).toEqual([200, 409]);
    const has = both.find(([, status]) => status === 200)?.[0] === 'send' ? send : manage;
    await claim('manage', send, has);
    expect([await names('send', 'waiting'), await names('manage', 'waiting'), await names('manage', 'others')]).toEqual([
      ['Mabel Greenhalgh', 'Idris Fairweather'],
      ['Idris Fairweather'],
      ['Mabel Greenhalgh'],
    ]);
    expect([await waitingOf('send'), await waitingOf('manage')]).toEqual([2, 1]);
    expect((await as<{ replies_waiting: number }>('manage', 'GET', '/api/today')).replies_waiting).toBe(1);
    // somebody who has left has nothing
    await desk.app.db.query(`UPDATE account SET removed_at = '2026-12-01' WHERE id = $1`, [send]);
    expect(await waitingOf('manage')).toBe(2);
    await desk.app.db.query(`UPDATE account SET removed_at = NULL WHERE id = $1`, [send]);
    await claim('send', null, send);
    expect(await waitingOf('manage')).toBe(2);
    expect(await as('manage', 'POST', '/api/replies/claim', { number: MABEL, account_id: 9999, from: null })).toMatchObject({
      status: 404,
    });
  });

  test('put away until a time it waits again then, or when they write again; never in the past', async () => {
    await writes(MABEL, 'Is the 5:20 running?');
    const { seen } = await thread(MABEL);
    const away = (ms: number) =>
      as('write', 'POST', '/api/replies/put-away', {
        number: MABEL,
        seen,
        until: new Date(desk.app.clock.now() + ms).toISOString(),
      });
    expect((await away(-1000)).status).toBe(422);
    await away(3_600_000);
    expect([(await list()).counts, await names('manage', 'later')]).toEqual([
      { waiting: 0, others: 0, later: 1 },
      ['Mabel Greenhalgh'],
    ]);
    await writes(MABEL, 'Hello?');
    expect((await list()).counts).toEqual({ waiting: 1, others: 0, later: 0 });
    await away(3_600_000);
    await desk.app.db.query(`UPDATE conversation SET later_at = '2026-01-01T00:00:00Z'`);
    expect((await list()).counts).toEqual({ waiting: 1, others: 0, later: 0 });
    // no answer needed, and after all it is
    const now = await thread(MABEL);
    await as('write', 'POST', '/api/replies/put-away', { number: MABEL, seen: now.seen, until: null });
    expect((await list()).counts.waiting).toBe(0);
    await as('write', 'POST', '/api/replies/bring-back', { number: MABEL });
    expect((await list()).conversations.map(({ last }) => last.body)).toEqual(['Hello?']);
    expect((await as('write', 'POST', '/api/replies/bring-back', { number: NOBODY })).status).toBe(404);
  });

  test('no answer needed, taken back, holds again what may mean stop', async () => {
    await writes(MABEL, 'Please stop by at noon');
    const held = async () => (await desk.app.db.query(`SELECT number FROM number_held`)).rows;
    expect(await held()).toHaveLength(1);
    await as('write', 'POST', '/api/replies/put-away', { number: MABEL, seen: (await thread(MABEL)).seen, until: null });
    expect(await held()).toEqual([]);
    await as('write', 'POST', '/api/replies/bring-back', { number: MABEL });
    expect(await held()).toEqual([{ number: MABEL }]);
  });

  test('an answer to a number that is written otherwise, or is none, goes nowhere; nor past the register by it', async () => {
    await writes(MABEL, 'Hello?');
    await writes(MABEL, 'STOP');
    for (const number of [
      `${MABEL} `,
      `+1 207 555 0131`,
      `+1207555\u200b0131`,
      '＋１２０７５５５０１３１',
      '+1',
      `+${'1'.repeat(31)}`,
      '72345',
      'FERRY',
    ]) {
      const refused = await as('send', 'POST', '/api/replies/answer', { number, words: 'Hello', seen: 0, answered: 0 });
      expect([number, refused.status]).toEqual([number, 422]);
    }
    expect((await desk.app.db.query(`SELECT 1 FROM outbound WHERE kind = 'reply'`)).rows).toEqual([]);
  });

  test('two answers at the same moment do not spend the same money', async () => {
    await writes(MABEL, 'Hello?');
    await writes(IDRIS, 'Ahoy?');
    const { db } = desk.app;
    const balance = async () =>
      Number((await db.query<{ n: number }>(`SELECT sum(amount_micro)::bigint AS n FROM balance_entry`)).rows[0].n);
    await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-01-01', 'spend', $1)`, [
      7500 - (await balance()),
    ]);
    const both = await Promise.all(
      [MABEL, IDRIS].map(async (number) => {
        const { seen, answered } = await thread(number);
        return (await as('send', 'POST', '/api/replies/answer', { number, words: 'Yes.', seen, answered })).status;
      }),
    );
    expect(both.sort()).toEqual([200, 402]);
    expect(await balance()).toBe(0);
    await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-01-01', 'top_up', 100000000)`);
  });

  test('who has the number now is who writes; who had it before is said', async () => {
    const { db } = desk.app;
    await writes(MABEL, 'Hello?');
    await db.query(`UPDATE person SET number = CASE id WHEN 2 THEN $1 END WHERE id IN (1, 2)`, [MABEL]);
    await writes(MABEL, 'It is me, Idris');
    const { person_id, name, had_before } = await thread(MABEL);
    expect([person_id, name]).toEqual([2, 'Idris Fairweather']);
    expect(had_before).toMatchObject([{ id: 1, name: 'Mabel Greenhalgh' }]);
    await db.query(`UPDATE person SET number = CASE id WHEN 1 THEN $1 ELSE $2 END WHERE id IN (1, 2)`, [MABEL, IDRIS]);
  });

  test('what only sounds like stop is decided with one press, either way', async () => {
    await writes(MABEL, 'Please stop by at noon');
    await writes(IDRIS, 'the end of the pier');
    expect((await list()).conversations.map(({ doubtful }) => doubtful)).toEqual([
      'Please stop by at noon',
      'the end of the pier',
    ]);
    // it is shown what may mean it, also when they have written since
    const [{ number: doubting, doubtful }] = (await list()).conversations;
    await writes(doubting, 'and another thing');
    expect((await list()).conversations[0]).toMatchObject({ number: doubting, doubtful, last: { body: 'and another thing' } });
    await as('write', 'POST', '/api/replies/not-a-stop', { number: MABEL, seen: (await thread(MABEL)).seen });
    await as('write', 'POST', '/api/replies/opt-out', { number: IDRIS, wrong_number: false });
    const held = await desk.app.db.query(`SELECT number FROM number_held`);
    expect(held.rows).toEqual([]);
    expect((await list()).conversations.map(({ name, doubtful }) => [name, doubtful])).toEqual([['Mabel Greenhalgh', null]]);
    const { opted_out, answered, seen } = await thread(IDRIS);
    expect(opted_out).toBe(true);
    expect(
      await as('send', 'POST', '/api/replies/answer', { number: IDRIS, words: 'Which pier?', seen, answered }),
    ).toMatchObject({ status: 422, kept: 'The words are kept.' });
  });

  test('found by words of theirs and of an answer, by name and by number; accents and case aside', async () => {
    await writes(MABEL, 'Où est le Héron?');
    await writes(IDRIS, 'can Leo come a day later');
    await writes(NOBODY, '100% sure');
    const { seen, answered } = await thread(IDRIS);
    await as('send', 'POST', '/api/replies/answer', { number: IDRIS, words: 'Yes, on Friday.', seen, answered });
    const found = async (search: string) =>
      (await list('look', `?view=all&search=${encodeURIComponent(search)}`)).conversations.map(({ number }) => number);
    expect(await found('HERON')).toEqual([MABEL]);
    expect(await found('friday')).toEqual([IDRIS]);
    expect(await found('fairw')).toEqual([IDRIS]);
    expect(await found('5550133')).toEqual([NOBODY]);
    expect(await found('0%')).toEqual([NOBODY]);
    expect(await found('_')).toEqual([]);
  });

  test('nobody is answered from a name, though they were last texted from one; also from their own page', async () => {
    const { db } = desk.app;
    await db.query(
      `INSERT INTO sender (id, name, kind, address, parts_per_second, created_at) VALUES (50, 'Boathouse', 'name', 'Boathouse', 1, '2026-01-01') ON CONFLICT DO NOTHING`,
    );
    await db.query(
      `INSERT INTO outbound (kind, number, person_id, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, open)
       VALUES ('test', $1, 1, 50, 'Ahoy', 'gsm7', 1, 7500, '2026-12-01', '2026-12-01', 'delivered', 0)`,
      [MABEL],
    );
    expect((await thread(MABEL)).sender).toMatchObject({ address: '72345' });
    expect((await as('send', 'POST', '/api/people/1/text', { words: 'Yes.' })).status).toBe(200);
    const { rows } = await db.query(`SELECT sender_id FROM outbound WHERE kind = 'reply'`);
    expect(rows).toEqual([{ sender_id: 1 }]);
  });

  test('an answer with a field that there is none of, or that they have none of, does not go; it is said before', async () => {
    await writes(NOBODY, 'Where do you leave from?');
    const proof = (words: string) =>
      as<{ text: string; problems: string[] }>('look', 'POST', '/api/replies/proof', { number: NOBODY, words });
    expect((await proof('From {landing}.')).problems).toEqual([
      'They have no “landing”. Add words to use instead: {landing or "…"}.',
    ]);
    expect((await proof('From {quay}.')).problems).toEqual(['There is no field “quay”.']);
    expect((await proof('{code}')).problems).toHaveLength(1);
    expect(await proof('From {landing or "Mill Quay"}.')).toMatchObject({
      text: 'From Mill Quay.',
      parts: 1,
      cost_micro: 7500,
      problems: [],
    });
    const { seen, answered } = await thread(NOBODY);
    expect(
      (await as('send', 'POST', '/api/replies/answer', { number: NOBODY, words: 'From {landing}.', seen, answered })).status,
    ).toBe(422);
    expect((await list()).counts.waiting).toBe(1);
  });
});
