import { describe, expect, test } from 'vitest';
import { readJournal } from '../../carrier/journal';
import { decodePdu } from '../../smpp/pdu';
import { readRelativeTime } from '../../smpp/relative-time';
import { iso } from '../../core/clock';
import type { Db } from '../db/db';
import { ENGINES } from '../db/testing/engines';
import { INCOMPLETE_AFTER } from './replies/join-parts';
import { balanceMicro } from './money';
import { queueText } from './queue-text';
import { closeAfterEach, sendingWorld, until } from './testing/sending';
import { makeRun, NOW } from './testing/world';
import { rounds } from '../db/testing/rounds';

/** Faults that were found by trying to break it, a test each. */
closeAfterEach();
const one = async <T>(db: Db, sql: string) => (await db.query<{ v: T }>(sql)).rows[0]?.v;
const text = (number: string, words: string) => ({ number, to: '72345', text: words });

const STORM = rounds(600, 2000);

describe.each(ENGINES)('found, on %s', (kind) => {
  test('a STOP from a number without a price is an opt-out, and the replies after it are applied', async () => {
    const { db, engine, errors } = await sendingWorld(kind);
    await engine.inbound.take(text('+442079460001', 'STOP'));
    await engine.inbound.take(text('+12075550142', 'Is the 5:20 running?'));
    await engine.inbound.settle();
    expect((await db.query(`SELECT number FROM suppression`)).rows).toEqual([{ number: '+442079460001' }]);
    expect((await db.query(`SELECT kind, applied, trouble FROM inbound ORDER BY id`)).rows).toEqual([
      {
        kind: 'stop',
        applied: true,
        trouble: expect.stringContaining('could not be confirmed: There is no price for +442079460001'),
      },
      { kind: 'reply', applied: true, trouble: null },
    ]);
    expect(errors).toEqual([]);
  });

  test('a reply that cannot be applied is parked with its reason and never holds up the next', async () => {
    const { db, engine } = await sendingWorld(kind, {}, { mayFail: true });
    // the register itself refuses this one number: whatever the cause, the others go on
    await db.exec(`ALTER TABLE suppression ADD CONSTRAINT trouble CHECK (number <> '+12075550142')`);
    try {
      await engine.inbound.take(text('+12075550142', 'STOP'));
      await engine.inbound.take(text('+12075550143', 'STOP'));
      await until(async () => (await one<number>(db, `SELECT count(*) AS v FROM inbound WHERE applied`)) === 2);
      // it is somebody's to decide, and nothing goes to them meanwhile
      expect((await db.query(`SELECT number, why FROM number_held`)).rows).toEqual([{ number: '+12075550142', why: 'stop' }]);
    } finally {
      await db.exec(`ALTER TABLE suppression DROP CONSTRAINT trouble`);
    }
    expect((await db.query(`SELECT number FROM suppression`)).rows).toEqual([{ number: '+12075550143' }]);
    expect((await db.query(`SELECT trouble FROM inbound ORDER BY id`)).rows).toEqual([
      { trouble: expect.any(String) },
      { trouble: null },
    ]);
  });

  test('a storm of replies: all applied, in order, none lost', async () => {
    const { db, engine } = await sendingWorld(kind);
    const words = ['STOP', 'start', 'ok', '\u{1f6d1}', '%', ''];
    const takes: Promise<void>[] = [];
    for (let i = 0; i < STORM; i += 1) {
      const number = i % 5 === 4 ? `+44207946${String(i % 1000).padStart(4, '0')}` : `+1207${2_000_000 + (i % 400)}`;
      const join = i % 7 === 6 ? { reference: i & 0xff, total: 2, index: 1 } : undefined;
      takes.push(engine.inbound.take({ ...text(number, words[i % 6]), join }));
      if (join) takes.push(engine.inbound.take({ ...text(number, ' more'), join: { ...join, index: 2 } }));
    }
    await Promise.all(takes);
    await engine.inbound.settle();
    expect(await one<number>(db, `SELECT count(*) AS v FROM inbound WHERE applied`)).toBe(STORM);
    // who said stop last is on the register, who said start last is not
    const { rows } = await db.query<{ number: string; kind: string; on: boolean }>(
      `SELECT DISTINCT ON (number) number, kind, EXISTS (SELECT 1 FROM suppression s WHERE s.number = inbound.number) AS on
       FROM inbound WHERE kind IN ('stop', 'start') ORDER BY number, id DESC`,
    );
    expect(rows.length).toBeGreaterThan(100);
    expect(rows.filter((row) => row.on !== (row.kind === 'stop'))).toEqual([]);
  });

  test('replies of several parts are put together, also out of order; a missing part is shown after a while', async () => {
    const { db, center, engine, clock } = await sendingWorld(kind);
    center.textFromPhone('12075550142', '72345', 'long words '.repeat(30));
    await until(async () => (await one<number>(db, `SELECT count(*) AS v FROM inbound WHERE applied`)) === 1);
    expect(await one(db, `SELECT body AS v FROM inbound`)).toBe('long words '.repeat(30));
    await engine.inbound.take({ ...text('+12075550143', ' B'), join: { reference: 900, total: 3, index: 2 } });
    await engine.inbound.take({ ...text('+12075550143', ' C'), join: { reference: 900, total: 3, index: 3 } });
    clock.at += INCOMPLETE_AFTER + 1000;
    await engine.inbound.settle();
    expect((await db.query(`SELECT body, incomplete FROM inbound ORDER BY id DESC LIMIT 1`)).rows).toEqual([
      { body: ' …  B C', incomplete: true },
    ]);
  });

  test('a trouble of the carrier that passes loses nothing; while it lasts, every page says so', async () => {
    const { db, center, engine } = await sendingWorld(kind, { trouble: 0x08 });
    await makeRun(db, 20);
    await until(async () => engine.line.line.circuit !== undefined);
    expect(engine.line.line.circuit?.reason).toBe('the carrier has trouble of its own');
    center.profile = { ...center.profile, trouble: 0 };
    await until(async () => (await one<number>(db, `SELECT people AS v FROM run_tally WHERE state = 'delivered'`)) === 20);
    expect(engine.line.line.circuit).toBeUndefined();
  });

  test('the validity ends with the use of the text, and before quiet hours', async () => {
    const { db, journal } = await sendingWorld(kind);
    await makeRun(db, 1, { id: 1, notAfter: NOW + 3_600_000 });
    await makeRun(db, 1, { id: 2, notAfter: NOW + 23 * 3_600_000 });
    await until(async () => (await one<number>(db, `SELECT count(*) AS v FROM outbound WHERE state = 'delivered'`)) === 2);
    const validity = readJournal(journal).flatMap((line) => {
      if (line.what !== 'submit') return [];
      const pdu = decodePdu(Buffer.from(line.pdu, 'hex'));
      return pdu.command === 'submit_sm' ? [readRelativeTime(pdu.fields.validity_period) ?? 0] : [];
    });
    const hours = validity.map((ms) => ms / 3_600_000).sort((a, b) => a - b);
    expect(hours[0]).toBeGreaterThan(0.9);
    expect(hours[0]).toBeLessThanOrEqual(1);
    // 3:50 PM to 9 PM
    expect(hours[1]).toBeGreaterThan(5);
    expect(hours[1]).toBeLessThanOrEqual(5 + 1 / 6);
  });

  test('canceling the rest pays for what was in flight', async () => {
    const { db, center, bus, journal } = await sendingWorld(kind, { latency: [0, 5] });
    await db.query(`UPDATE sender SET parts_per_second = 40`);
    await makeRun(db, 200);
    await until(async () => center.accepted > 10);
    await db.query(`UPDATE run SET state = 'stopped', note = 'canceled by Ana'`);
    bus.work();
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE ended_at IS NOT NULL`)).rowCount === 1);
    const taken = readJournal(journal).filter((line) => line.what === 'submit').length;
    expect(taken).toBeLessThan(200);
    expect(await balanceMicro(db)).toBe(100_000_000 - taken * 7500);
    expect(
      await one<number>(db, `SELECT count(*) AS v FROM outbound WHERE state = 'not_sent' AND reason = 'canceled by Ana'`),
    ).toBe(200 - taken);
  });

  test('a refused single text is not charged', async () => {
    const { db, bus, center } = await sendingWorld(kind);
    center.profile = { ...center.profile, trouble: 0x0b };
    await queueText(
      db,
      { kind: 'reply', personId: null, number: '+12075550666', senderId: 1, body: 'Ahoy', usefulFor: 43_200_000 },
      NOW,
    );
    bus.work();
    await until(async () => (await one(db, `SELECT state AS v FROM outbound`)) === 'not_delivered');
    await until(async () => (await balanceMicro(db)) === 100_000_000);
  });

  test('a paused run past its use ends and gives its hold back', async () => {
    const { db, clock, bus } = await sendingWorld(kind, { throttle: 1 });
    await makeRun(db, 30, { notAfter: NOW + 60_000, state: 'paused' });
    clock.at = NOW + 61_000;
    bus.work();
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE ended_at IS NOT NULL`)).rowCount === 1);
    expect(await one(db, `SELECT note AS v FROM run WHERE state = 'stopped'`)).toBe(
      'of no more use by then, while it was paused',
    );
    expect(await one<number>(db, `SELECT count(*) AS v FROM outbound WHERE state = 'not_sent'`)).toBe(30);
    expect(await balanceMicro(db)).toBe(100_000_000);
  });

  test('resumed in the night, it waits for the morning', async () => {
    const night = Date.UTC(2026, 11, 3, 4, 30); // 11:30 PM Eastern
    const { db, center, clock, bus } = await sendingWorld(kind, {}, { at: night });
    await makeRun(db, 5, { now: night - 6 * 3_600_000, notAfter: night + 24 * 3_600_000, state: 'paused' });
    await db.query(`UPDATE run SET state = 'sending'`);
    bus.work();
    await until(async () =>
      (await one<string>(db, `SELECT min(due_at)::text AS v FROM outbound`))?.startsWith('2026-12-03 13:00:00'),
    );
    expect(center.accepted).toBe(0);
    clock.at = Date.UTC(2026, 11, 3, 13, 0, 1);
    bus.work();
    await until(async () => center.accepted === 5);
  });

  test('a number that may have said stop gets no run until a person has decided, and the reply says so', async () => {
    const { db, center, clock, engine } = await sendingWorld(kind);
    await makeRun(db, 2, { now: NOW + 600_000 });
    await engine.inbound.take(text('+12073000000', 'Please stop by at noon'));
    await engine.inbound.settle();
    expect((await db.query(`SELECT number FROM number_held`)).rows).toEqual([{ number: '+12073000000' }]);
    clock.at = NOW + 601_000;
    await until(async () => center.accepted === 1);
    expect(await one(db, `SELECT state AS v FROM outbound WHERE number = '+12073000000'`)).toBe('planned');
  });

  test('another owner takes over the line of one that fell silent: nothing more goes under the old epoch', async () => {
    const { db, engine, journal } = await sendingWorld(kind);
    const { owner } = engine.line;
    await db.query(`UPDATE line_owner SET ended_at = $1::timestamptz WHERE epoch = $2`, [iso(NOW), owner]);
    await makeRun(db, 3);
    // it has become a new owner, and what goes, goes under that
    await until(async () => (await one<number>(db, `SELECT count(*) AS v FROM outbound WHERE state = 'delivered'`)) === 3);
    expect(engine.line.owner).toBeGreaterThan(owner);
    expect(await one<number>(db, `SELECT count(*) AS v FROM line_journal WHERE epoch = ${owner}`)).toBe(0);
    expect(readJournal(journal).filter((line) => line.what === 'submit')).toHaveLength(3);
  });
});
