import { describe, expect, test } from 'vitest';
import { readJournal } from '../../../carrier/journal';
import { ENGINES } from '../../db/testing/engines';
import { balanceMicro } from '../money';
import { closeAfterEach, sendingWorld, until } from '../testing/sending';
import { makeRun } from '../testing/world';

closeAfterEach();
const WORDS = 'Reply STOP to opt out';

describe.each(ENGINES)('a text of its own for opting out, on %s', (kind) => {
  test('follows each text once it is accepted, is paid with the run, and counts nobody again', async () => {
    const { db, center, journal } = await sendingWorld(kind, { doubled: 0.3, early: 0.3 });
    await makeRun(db, 60, { after: WORDS });
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE state = 'finished'`)).rowCount === 1);
    await until(
      async () => (await db.query(`SELECT 1 FROM outbound WHERE kind = 'opt_out' AND state = 'delivered'`)).rowCount === 60,
    );
    const numbers = readJournal(journal).flatMap((line) => (line.what === 'submit' ? [line.number] : []));
    expect(new Set(numbers).size).toBe(60);
    for (const number of numbers)
      expect(center.phones.get(number)?.texts.map(({ text }) => text)).toEqual([expect.stringContaining('Heron'), WORDS]);
    expect((await db.query(`SELECT state, people, billed_parts FROM run_tally WHERE people > 0`)).rows).toEqual([
      { state: 'delivered', people: 60, billed_parts: 120 },
    ]);
    expect(await balanceMicro(db)).toBe(100_000_000 - 120 * 7500);
  });

  test('nothing follows what did not go, and nobody who says stop in between gets it', async () => {
    const { db, journal, bus } = await sendingWorld(kind);
    await makeRun(db, 4, { after: WORDS, state: 'paused' });
    await db.query(
      `INSERT INTO suppression (number, at, how) SELECT number, '2026-12-02T20:00:00Z', 'texted' FROM person ORDER BY id LIMIT 1`,
    );
    await db.query(`UPDATE run SET state = 'sending'`);
    bus.work();
    // the second text of the next one is held back by the register: they said stop as soon as they had the first
    await db.query(
      `CREATE FUNCTION says_stop() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
         IF NEW.kind = 'opt_out' AND NEW.id = (SELECT min(id) FROM outbound WHERE kind = 'opt_out') THEN
           INSERT INTO suppression (number, at, how) VALUES (NEW.number, '2026-12-02T20:00:00Z', 'texted'); END IF;
         RETURN NEW; END $$`,
    );
    await db.query(`CREATE TRIGGER says_stop AFTER INSERT ON outbound FOR EACH ROW EXECUTE FUNCTION says_stop()`);
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE state = 'finished'`)).rowCount === 1);
    const { rows } = await db.query(`SELECT kind, state, reason, count(*) AS n FROM outbound GROUP BY 1, 2, 3 ORDER BY 1, 2`);
    await db.exec(`DROP TRIGGER says_stop ON outbound; DROP FUNCTION says_stop()`);
    expect(rows.filter((row) => row.state === 'not_sent')).toEqual([
      { kind: 'opt_out', state: 'not_sent', reason: 'opted out', n: 1 },
      { kind: 'run', state: 'not_sent', reason: 'opted out', n: 1 },
    ]);
    expect(readJournal(journal).filter((line) => line.what === 'submit')).toHaveLength(3 + 2);
  });
});
