import { describe, expect, test } from 'vitest';
import type { Db } from '../db/db';
import { ENGINES } from '../db/testing/engines';
import { Failing } from '../db/testing/failing';
import { balanceMicro } from './money';
import { keepEntries } from './line/journal';
import { closeAfterEach, sendingWorld, until } from './testing/sending';
import { makeRun, NOW } from './testing/world';

/** Never to someone who said stop: faults that were there, a test each. */
closeAfterEach();
const [MABEL, IDRIS] = ['+12075550131', '+12075550132'];
const rows = async <T = Record<string, unknown>>(db: Db, sql: string, params: string[] = []) =>
  (await db.query<T>(sql, params)).rows;
const text = (number: string, words: string, more: object = {}) => ({ number, to: '72345', text: words, ...more });
const registered = async (db: Db) =>
  (await rows<{ number: string }>(db, `SELECT number FROM suppression ORDER BY 1`)).map((row) => row.number);
const held = (db: Db) => rows(db, `SELECT number, why FROM number_held ORDER BY 1`);

describe.each(ENGINES)('a stop cannot be lost, on %s', (kind) => {
  test.each([
    ['40P01', 1],
    ['40P01', 5],
    ['40001', 5],
    ['57P01', 5],
  ])('its transaction meets a trouble that passes (%s), %i times: it is registered all the same', async (code, times) => {
    const left = { times };
    const { db, engine } = await sendingWorld(
      kind,
      {},
      { through: (inner) => new Failing(inner, /INSERT INTO suppression/, left, code), mayFail: true },
    );
    await engine.inbound.take(text(MABEL, 'STOP'));
    // acknowledged: from here nothing goes to them, registered or not
    expect([...(await registered(db)), ...(await held(db)).map((row) => row.number)]).toContain(MABEL);
    await until(async () => (await registered(db)).includes(MABEL));
    await until(async () => (await rows(db, `SELECT 1 FROM inbound WHERE applied AND done_at IS NOT NULL`)).length === 1);
    expect(await rows(db, `SELECT kind, trouble FROM inbound`)).toEqual([{ kind: 'stop', trouble: null }]);
  });

  test('what never can be stored is not acknowledged; the carrier keeps it', async () => {
    const left = { times: 1000 };
    const { db, engine } = await sendingWorld(
      kind,
      {},
      { through: (inner) => new Failing(inner, /INSERT INTO inbound /, left), mayFail: true },
    );
    await expect(engine.inbound.take(text(MABEL, 'STOP'))).rejects.toThrow('deadlock');
    left.times = 0;
    await engine.inbound.take(text(MABEL, 'STOP'));
    expect(await registered(db)).toEqual([MABEL]);
  });

  test('looking for replies fails once: nobody waits for somebody’s next', async () => {
    const left = { times: 1 };
    const { db, engine } = await sendingWorld(
      kind,
      {},
      { through: (inner) => new Failing(inner, /FROM inbound WHERE NOT applied AND/, left), mayFail: true },
    );
    await engine.inbound.take(text(MABEL, 'Is the 5:20 running?'));
    await until(async () => (await rows(db, `SELECT 1 FROM inbound WHERE applied`)).length === 1);
    expect(left.times).toBe(0);
  });

  test('while hundreds of others wait to be acted on it stands in the register when it is acknowledged, and takes out what is planned', async () => {
    const { db, engine } = await sendingWorld(kind);
    await makeRun(db, 1, { state: 'paused' });
    const takes = Array.from({ length: 300 }, (_, i) =>
      engine.inbound.take(text(`+1207300${String(i).padStart(4, '0')}`, 'HELP')),
    );
    await engine.inbound.take(text('+12073000000', 'stop'));
    expect(await registered(db)).toEqual(['+12073000000']);
    expect(await rows(db, `SELECT state, reason FROM outbound WHERE kind = 'run'`)).toEqual([
      { state: 'not_sent', reason: 'opted out' },
    ]);
    await Promise.all(takes);
    await engine.inbound.settle();
  });

  test('START and then STOP in one burst is a stop, and STOP and then START is none', async () => {
    const { db, engine } = await sendingWorld(kind);
    await Promise.all([
      engine.inbound.take(text(MABEL, 'START')),
      engine.inbound.take(text(MABEL, 'STOP')),
      engine.inbound.take(text(IDRIS, 'STOP')),
      engine.inbound.take(text(IDRIS, 'START')),
    ]);
    await engine.inbound.settle();
    expect(await registered(db)).toEqual([MABEL]);
  });

  test('also when the burst cannot be stored together: whoever stops comes first, in the order of their texts', async () => {
    const left = { times: 1 };
    const { db, engine } = await sendingWorld(
      kind,
      {},
      { through: (inner) => new Failing(inner, /INSERT INTO inbound /, left), mayFail: true },
    );
    await Promise.all([
      engine.inbound.take(text('+12075550139', 'Ahoy')),
      engine.inbound.take(text(MABEL, 'START')),
      engine.inbound.take(text(MABEL, 'STOP')),
    ]);
    await engine.inbound.settle();
    expect(await registered(db)).toEqual([MABEL]);
    expect((await rows<{ body: string }>(db, `SELECT body FROM inbound ORDER BY id`)).map(({ body }) => body)).toEqual([
      'START',
      'STOP',
      'Ahoy',
    ]);
  });

  test('a reply that fails for a while, and what its number writes meanwhile: all of it is acted on', async () => {
    const left = { times: 6 };
    const { db, engine } = await sendingWorld(
      kind,
      {},
      { through: (inner) => new Failing(inner, /UPDATE inbound SET applied = true, kind/, left), mayFail: true },
    );
    await engine.inbound.take(text(MABEL, 'one'));
    await until(async () => left.times < 5);
    await engine.inbound.take(text(MABEL, 'two'));
    await engine.inbound.take(text(IDRIS, 'other'));
    await until(async () => (await rows(db, `SELECT 1 FROM inbound WHERE applied`)).length === 3);
    await until(async () => (await rows(db, `SELECT 1 FROM job WHERE kind IN ('reply', 'replies')`)).length === 0);
  });

  test('the gate asks the replies themselves: a stop that is stored and acted on nowhere holds everything, a doubt holds what nobody wrote', async () => {
    const { db, center, bus, clock } = await sendingWorld(kind);
    await makeRun(db, 3, { state: 'paused' });
    const [a, b] = (await rows<{ number: string }>(db, `SELECT number FROM outbound ORDER BY id`)).map((row) => row.number);
    for (const [number, of] of [
      [a, 'stop'],
      [b, 'unread'],
    ])
      await db.query(
        `INSERT INTO inbound (received_at, number, to_address, body, kind, applied) VALUES ('2026-12-02T20:50:00Z', $1, '72345', 'x', $2, true)`,
        [number, of],
      );
    await db.query(`UPDATE run SET state = 'sending', started_at = due_at`);
    bus.work();
    await until(async () => center.accepted === 1);
    clock.at += 60_000;
    await until(async () => (await rows(db, `SELECT 1 FROM line_queue WHERE leased_by IS NULL`)).length > 0);
    expect(center.accepted).toBe(1);
    // decided: it goes
    await db.query(`UPDATE inbound SET done_at = received_at WHERE number = $1`, [b]);
    clock.at += 11 * 60_000;
    bus.work();
    await until(async () => center.accepted === 2);
  });

  test('a first part that may mean stop holds, until the text is whole or shown as it is', async () => {
    const { db, engine, clock } = await sendingWorld(kind);
    await engine.inbound.take(text(MABEL, 'please STOP texting', { join: { reference: 7, total: 2, index: 1 } }));
    expect(await held(db)).toEqual([{ number: MABEL, why: 'maybe' }]);
    clock.at += 11 * 60_000;
    await until(async () => (await rows(db, `SELECT 1 FROM inbound WHERE applied`)).length === 1);
    expect(await rows(db, `SELECT kind, incomplete, done_at FROM inbound`)).toEqual([
      { kind: 'stop', incomplete: true, done_at: expect.any(String) },
    ]);
    expect(await registered(db)).toEqual([MABEL]);
  });

  test.each([
    ['latin1', 'ARRÊT'],
    ['latin1', 'désabonner'],
    ['payload', 'STOP'],
    ['sar', `STOP ${'please '.repeat(40)}`],
    ['long reference', `STOP ${'please '.repeat(40)}`],
    ['class', 'STOP'],
    ['ascii', 'stop'],
    ['ucs2', 'arrêt'],
    ['portuguese', 'STOP'],
  ] as const)('as phones send it (%s): %j', async (dialect, words) => {
    const { db, center } = await sendingWorld(kind);
    center.speak(MABEL.slice(1), dialect);
    center.textFromPhone(MABEL.slice(1), '72345', words);
    await until(async () => (await registered(db)).length === 1);
    expect(await rows(db, `SELECT body, kind FROM inbound`)).toEqual([{ body: words, kind: 'stop' }]);
  });

  test('where the carrier’s own alphabet is Latin-1 it is read so, once that is said', async () => {
    const { db, center, engine } = await sendingWorld(kind);
    await db.query(`UPDATE workspace SET carrier_alphabet = 'latin1'`);
    await engine.readWays();
    center.speak(MABEL.slice(1), 'default latin1');
    center.textFromPhone(MABEL.slice(1), '72345', 'Désabonner');
    await until(async () => (await registered(db)).length === 1);
  });

  test('what cannot be read is kept as octets, holds, and waits for a person', async () => {
    const { db, center } = await sendingWorld(kind);
    center.speak(MABEL.slice(1), 'data');
    center.textFromPhone(MABEL.slice(1), '72345', 'STOP');
    await until(async () => (await rows(db, `SELECT 1 FROM inbound WHERE applied`)).length === 1);
    expect(await rows(db, `SELECT kind, body, octets, done_at, trouble FROM inbound`)).toEqual([
      { kind: 'unread', body: '', octets: '53544f50', done_at: null, trouble: 'It could not be read: it is data, not words.' },
    ]);
    expect(await held(db)).toEqual([{ number: MABEL, why: 'maybe' }]);
  });

  test('a reaction that quotes our own text is no reply and holds nobody; one that quotes other words is one', async () => {
    const { db, engine } = await sendingWorld(kind);
    await makeRun(db, 1);
    await until(async () => (await rows(db, `SELECT 1 FROM outbound WHERE handed_at IS NOT NULL`)).length === 1);
    const [{ number, body }] = await rows<{ number: string; body: string }>(db, `SELECT number, body FROM outbound`);
    await engine.inbound.take(text(number, `Liked “${body}”`));
    await engine.inbound.take(text(number, 'Liked “do stop those texts please”'));
    await engine.inbound.settle();
    expect(await rows(db, `SELECT kind, done_at IS NULL AS waits FROM inbound ORDER BY id`)).toEqual([
      { kind: 'reaction', waits: false },
      { kind: 'maybe_stop', waits: true },
    ]);
  });

  test('after many answers by themselves a stop is confirmed; HELP from whoever stopped confirms the stop and nothing else', async () => {
    const { db, engine } = await sendingWorld(kind);
    for (let i = 0; i < 8; i += 1) await engine.inbound.take(text(MABEL, 'HELP'));
    await engine.inbound.settle();
    await engine.inbound.take(text(MABEL, 'STOP'));
    await engine.inbound.take(text(MABEL, 'HELP'));
    await engine.inbound.settle();
    const sent = await rows<{ kind: string; body: string }>(db, `SELECT kind, body FROM outbound ORDER BY id`);
    expect(sent.filter((each) => each.kind === 'automatic')).toHaveLength(6);
    const after = sent.filter((each) => each.kind === 'confirmation');
    expect(after).toHaveLength(2);
    for (const { body } of after) expect(body).toContain('you are opted out');
  });

  test('strangers never take the balance below nought, and cost no more than is set a day; a stop is confirmed beyond both', async () => {
    const { db, engine } = await sendingWorld(kind);
    await db.query(`UPDATE workspace SET strangers_a_day_micro = 15000`);
    for (let i = 0; i < 4; i += 1) await engine.inbound.take(text(`+1207300000${i}`, 'HELP'));
    await engine.inbound.settle();
    expect(await rows(db, `SELECT 1 FROM outbound WHERE kind = 'automatic'`)).toHaveLength(2);
    expect(await rows(db, `SELECT 1 FROM inbound WHERE trouble LIKE '%may cost a day%'`)).toHaveLength(2);
    await db.query(`UPDATE workspace SET strangers_a_day_micro = 1000000000`);
    await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-12-02', 'spend', $1)`, [
      String(-(await balanceMicro(db)) + 7500),
    ]);
    for (let i = 4; i < 8; i += 1) await engine.inbound.take(text(`+1207300000${i}`, 'HELP'));
    await engine.inbound.take(text('+12073000009', 'STOP'));
    await engine.inbound.settle();
    expect(await rows(db, `SELECT 1 FROM outbound WHERE kind = 'automatic'`)).toHaveLength(3);
    expect(await rows(db, `SELECT 1 FROM outbound WHERE kind = 'confirmation'`)).toHaveLength(1);
  });

  test('handed over twice by the carrier it is one reply, also in parts; said twice by a person it is two', async () => {
    const { db, engine } = await sendingWorld(kind);
    const by = (session: string, place: number) => ({ cameBy: `${session}:${place}` });
    await engine.inbound.take(text(MABEL, 'yes', by('a', 1)));
    await engine.inbound.take(text(MABEL, 'yes', by('b', 1)));
    await engine.inbound.take(text(MABEL, 'yes', by('b', 2)));
    const join = (index: number) => ({ join: { reference: 9, total: 2, index } });
    for (const session of ['c', 'd'])
      for (const index of [1, 2])
        await engine.inbound.take(text(IDRIS, `part ${index} `, { ...join(index), ...by(session, index) }));
    await engine.inbound.settle();
    expect(await rows(db, `SELECT number, body FROM inbound ORDER BY id`)).toEqual([
      { number: MABEL, body: 'yes' },
      { number: MABEL, body: 'yes' },
      { number: IDRIS, body: 'part 1 part 2 ' },
    ]);
  });

  test.each([true, false])(
    'a message center that hears no answer hands a text over again (by its id: %s): it is one',
    async (namesTexts) => {
      const { db, center } = await sendingWorld(kind, { namesTexts });
      for (let i = 0; i < 12; i += 1) {
        center.textFromPhone(`1207555${String(1000 + i)}`, '72345', `Is it running? ${'words '.repeat(i % 3 ? 0 : 40)}`);
        if (i % 3 === 2) center.cut();
      }
      await until(async () => (await rows(db, `SELECT 1 FROM inbound WHERE applied`)).length >= 12);
      expect(await rows(db, `SELECT number FROM inbound GROUP BY number HAVING count(*) > 1`)).toEqual([]);
    },
  );

  test.each([
    ['decimal', 'text'],
    ['hexadecimal', 'text'],
    ['decimal', 'both'],
    ['same', 'fields'],
    ['hexadecimal', 'fields'],
  ] as const)('receipts whose ids are %s, as %s: every text is delivered', async (receiptIds, receiptsAs) => {
    const { db, engine, bus } = await sendingWorld(kind, { receiptIds, receiptsAs, echoReference: false });
    await db.query(`UPDATE workspace SET carrier_receipt_ids = $1`, [receiptIds]);
    await engine.readWays();
    await makeRun(db, 5);
    bus.work();
    await until(async () => (await rows(db, `SELECT 1 FROM run_tally WHERE state = 'delivered' AND people = 5`)).length === 1);
  });

  test('of runs one of which cannot end, the others end and are paid', async () => {
    const { db, bus } = await sendingWorld(kind, {}, { mayFail: true });
    await db.exec(`CREATE OR REPLACE FUNCTION no_end() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN IF NEW.id = 1 AND NEW.ended_at IS NOT NULL THEN RAISE 'no end'; END IF; RETURN NEW; END $$;
      CREATE TRIGGER no_end BEFORE UPDATE ON run FOR EACH ROW EXECUTE FUNCTION no_end()`);
    try {
      await makeRun(db, 2);
      await makeRun(db, 2, { id: 2 });
      bus.work();
      await until(async () => (await rows(db, `SELECT 1 FROM run WHERE id = 2 AND state = 'finished'`)).length === 1);
      await until(
        async () => (await rows(db, `SELECT 1 FROM job WHERE kind = 'end run' AND key = '1' AND attempts > 0`)).length === 1,
      );
      expect(await rows(db, `SELECT trouble, passing FROM job WHERE kind = 'end run' AND key = '1'`)).toEqual([
        { trouble: 'no end', passing: false },
      ]);
      await db.exec(`DROP TRIGGER no_end ON run`);
      await until(async () => (await rows(db, `SELECT 1 FROM run WHERE id = 1 AND state = 'finished'`)).length === 1);
      // asked for once more while it ran, it looks once more
      await until(async () => (await rows(db, `SELECT 1 FROM job WHERE kind = 'end run'`)).length === 0);
    } finally {
      await db.exec(`DROP TRIGGER IF EXISTS no_end ON run; DROP FUNCTION no_end`);
    }
  });

  test('what is lost on the line is asked about while the run still goes', async () => {
    const { db, center, clock } = await sendingWorld(kind, { throttle: 40 });
    await makeRun(db, 200);
    await until(async () => center.accepted > 20);
    // an answer in between, whose handing over the line wrote down and of which nothing was heard; the carrier never had it
    const at = new Date(clock.at).toISOString();
    const [{ id }] = await rows<{ id: number }>(
      db,
      `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open)
       VALUES ('reply', '+12075550177', 1, 'x', 'gsm7', 1, 0, '${at}', '${new Date(clock.at + 3_600_000).toISOString()}', 1) RETURNING id`,
    );
    const [{ epoch }] = await rows<{ epoch: number }>(db, `SELECT epoch FROM line_owner WHERE ended_at IS NULL`);
    await keepEntries(db, epoch, [
      { kind: 'intent', at: clock.at, commit: 1_000_000, parts: [{ text: id, no: 1, reference: 9 }] },
      { kind: 'answers', at: clock.at, answers: [{ text: id, no: 1, kind: 'lost', reason: 'the line broke' }] },
    ]);
    const seen = async (state: string) =>
      (await rows(db, `SELECT 1 FROM outbound WHERE id = ${id} AND state = '${state}'`)).length === 1;
    await until(() => seen('uncertain'));
    // each of the run's postings comes after it, and none puts it off; the carrier says that it never had it, so it goes
    await until(() => seen('delivered'));
    expect(center.phones.get('12075550177')?.texts.map(({ text }) => text)).toEqual(['x']);
  });
});

describe('a number is a type', () => {
  test.each(ENGINES)('what is none is refused before it reaches the wire, on %s', async (kind) => {
    const { db } = await sendingWorld(kind);
    for (const number of [
      '+1',
      '+1207 5550142',
      '+120755\u200b50142',
      '＋12075550142',
      '12075550142',
      '72345',
      `+${'1'.repeat(31)}`,
      '',
    ])
      await expect(
        db.query(
          `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open) VALUES ('reply', $1, 1, 'x', 'gsm7', 1, 0, $2::timestamptz, $2::timestamptz, 1)`,
          [number, new Date(NOW).toISOString()],
        ),
      ).rejects.toThrow('outbound_number');
  });
});
