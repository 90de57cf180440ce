import { describe, expect, test } from 'vitest';
import { readJournal } from '../../carrier/journal';
import type { Db } from '../db/db';
import { ENGINES } from '../db/testing/engines';
import { balanceMicro } from './money';
import { queueText } from './queue-text';
import { wordsAfter } from './replies/own-words';
import { closeAfterEach, sendingWorld, until } from './testing/sending';
import { makeRun, NOW } from './testing/world';

closeAfterEach();
const tally = async (db: Db, run = 1) =>
  Object.fromEntries(
    (
      await db.query<{ state: string; n: number }>(`SELECT state, count(*) AS n FROM outbound WHERE run_id = $1 GROUP BY state`, [
        run,
      ])
    ).rows.map((r) => [r.state, r.n]),
  );
const finished = (db: Db, delivered: number) => until(async () => (await tally(db)).delivered === delivered);

describe.each(ENGINES)('the engine on %s', (kind) => {
  test('a test text goes out, arrives, is receipted and paid', async () => {
    const { db, center, bus } = await sendingWorld(kind);
    await queueText(
      db,
      { kind: 'test', personId: null, number: '+12075550142', senderId: 1, body: 'Ahoy – this is a test', usefulFor: 43_200_000 },
      NOW,
    );
    bus.work();
    await until(async () => (await db.query(`SELECT 1 FROM outbound WHERE state = 'delivered'`)).rowCount === 1);
    expect(center.phones.get('12075550142')?.texts).toMatchObject([{ text: 'Ahoy – this is a test', address: '72345' }]);
    expect(await balanceMicro(db)).toBe(100_000_000 - 7500);
  });

  test('what becomes of a text of no run is told to whoever looks at its conversation', async () => {
    const { db, bus } = await sendingWorld(kind);
    // what a page that is told sees, each time: nothing that it is not told of stays out
    const seen: Promise<string | undefined>[] = [];
    bus.on('change', ({ topic }) => {
      if (topic !== 'replies') return;
      seen.push(db.query<{ state: string }>(`SELECT state FROM outbound`).then(({ rows }) => rows.at(0)?.state));
    });
    await queueText(
      db,
      { kind: 'automatic', personId: null, number: '+12075550142', senderId: 1, body: 'Ahoy', usefulFor: 43_200_000 },
      NOW,
    );
    bus.work();
    await until(async () => (await Promise.all(seen)).includes('delivered'));
  });

  test('a run goes to everyone once; the hold becomes what it cost', async () => {
    const { db, journal } = await sendingWorld(kind, { doubled: 0.3 });
    await makeRun(db, 300);
    await finished(db, 300);
    const numbers = readJournal(journal).flatMap((line) => (line.what === 'submit' ? [line.number] : []));
    expect(new Set(numbers).size).toBe(300);
    expect(numbers).toHaveLength(300);
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE state = 'finished'`)).rowCount === 1);
    expect(await balanceMicro(db)).toBe(100_000_000 - 300 * 7500);
  });

  test('receipts that are early, doubled or for unknown ids do no harm', async () => {
    const { db, engine } = await sendingWorld(kind, { early: 0.5, doubled: 0.5 });
    await makeRun(db, 120);
    await finished(db, 120);
    const unknown = { messageId: 'nobody', reference: 4464, number: '+12075550199', state: 'UNDELIV', error: '001' } as const;
    await engine.line.receipt(unknown);
    await until(async () => (await db.query(`SELECT 1 FROM receipt_parked WHERE message_id = 'nobody'`)).rowCount === 1);
    expect(await tally(db)).toEqual({ delivered: 120 });
  });

  test('a throttling carrier slows us down and loses nothing', async () => {
    const { db, clock, journal } = await sendingWorld(kind, { throttle: 60 });
    await makeRun(db, 150);
    const step = setInterval(() => (clock.at += 250), 20);
    await finished(db, 150).finally(() => clearInterval(step));
    const numbers = readJournal(journal).flatMap((line) => (line.what === 'submit' ? [line.number] : []));
    expect(numbers).toHaveLength(150);
  });

  test('a cut line: reconnects and goes on; what was in flight is uncertain or resolved, never doubled', async () => {
    const { db, center, journal } = await sendingWorld(kind, { echoReference: true });
    await makeRun(db, 400);
    await until(async () => center.accepted > 60);
    center.cut();
    await until(async () => Number((await tally(db)).delivered ?? 0) === 400);
    const numbers = readJournal(journal).flatMap((line) => (line.what === 'submit' ? [line.number] : []));
    expect(numbers).toHaveLength(400);
    expect(new Set(numbers).size).toBe(400);
    expect((await db.query(`SELECT what FROM run_event ORDER BY id`)).rows.map((row) => row.what)).toEqual([
      expect.stringContaining('line broke'),
      'line back',
    ]);
  });

  test('STOP takes out what is planned, is confirmed once, and START brings back', async () => {
    const { db, center, clock } = await sendingWorld(kind);
    await makeRun(db, 3, { now: NOW + 600_000 });
    const number = '12073000000';
    center.textFromPhone(number, '72345', 'Stop.');
    await until(async () => (await tally(db)).not_sent === 1);
    center.textFromPhone(number, '72345', 'STOP');
    await until(async () => (await db.query(`SELECT 1 FROM inbound WHERE applied`)).rowCount === 2);
    await until(async () => (center.phones.get(number)?.texts ?? []).filter((text) => text.direction === 'in').length === 1);
    clock.at = NOW + 600_000;
    await finished(db, 2);
    expect(
      center.phones
        .get(number)
        ?.texts.filter((text) => text.direction === 'in')
        .map((text) => text.text),
    ).toEqual([expect.stringContaining('opted out')]);
    center.textFromPhone(number, '72345', 'start');
    await until(async () => (await db.query(`SELECT 1 FROM suppression`)).rowCount === 0);
  });

  test('HELP is answered in their language: in our words for it, else in the first language’s, with the emergency line', async () => {
    const { db } = await sendingWorld(kind);
    await db.query(
      `UPDATE workspace SET languages = '{en,fr,es}', emergency_line = '911', help_wordings = '{"fr": "Le comptoir.", "es": " "}'`,
    );
    await db.query(
      `INSERT INTO person (id, number, language, created_at, updated_at) VALUES (901, '+12075550191', 'fr', '2026-01-01', '2026-01-01'), (902, '+12075550192', 'es', '2026-01-01', '2026-01-01')`,
    );
    expect(await wordsAfter(db, 'help', 901)).toBe('Le comptoir. Urgence: 911.');
    expect(await wordsAfter(db, 'help', 902)).toBe('Ottermere Ferry desk. STOP to opt out. Emergencia: 911.');
    await db.query(`UPDATE workspace SET help_wording = '', help_wordings = '{}', emergency_line = ''`);
    expect(await wordsAfter(db, 'help', 902)).toBe('Somos Ottermere Ferry. Escriba STOP para no recibir más mensajes.');
    expect(await wordsAfter(db, 'help', null)).toBe('This is Ottermere Ferry. Text STOP to get no more texts.');
    expect(await wordsAfter(db, 'start', 901)).toBe('Ottermere Ferry : vous recevez de nouveau nos textos. STOP pour arrêter.');
    expect(await wordsAfter(db, 'stop', 902)).toContain('no recibirá');
  });

  test('HELP says who this is; other replies wait for a person', async () => {
    const { db, center } = await sendingWorld(kind);
    center.textFromPhone('12075550142', '72345', 'help');
    await until(async () =>
      (center.phones.get('12075550142')?.texts ?? []).some((text) => text.text.startsWith('Ottermere Ferry desk')),
    );
    center.textFromPhone('12075550142', '72345', 'Please stop by at noon');
    await until(async () => (await db.query(`SELECT 1 FROM inbound WHERE applied`)).rowCount === 2);
    expect((await db.query(`SELECT kind, done_at FROM inbound ORDER BY id`)).rows).toEqual([
      { kind: 'help', done_at: null },
      { kind: 'maybe_stop', done_at: null },
    ]);
    expect((await db.query(`SELECT * FROM suppression`)).rows).toEqual([]);
  });

  test('a run that could not start in time is missed, and the money comes back', async () => {
    const { db } = await sendingWorld(kind, {}, { at: NOW + 31 * 60_000 });
    await makeRun(db, 5);
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE state = 'missed' AND ended_at IS NOT NULL`)).rowCount === 1);
    expect(await tally(db)).toEqual({ not_sent: 5 });
    expect(await balanceMicro(db)).toBe(100_000_000);
  });

  test('texts past their no use after are not sent and say so', async () => {
    const { db, clock, center } = await sendingWorld(kind, { throttle: 1 });
    await makeRun(db, 50, { notAfter: NOW + 60_000 });
    await until(async () => center.accepted > 0);
    clock.at = NOW + 61_000;
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE state = 'finished'`)).rowCount === 1);
    const { rows } = await db.query<{ reason: string }>(`SELECT DISTINCT reason FROM outbound WHERE state = 'not_sent'`);
    expect(rows).toEqual([{ reason: 'of no more use by then' }]);
  });
});
