import { describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { makeRun, makeWorkspace, NOW } from '../../engine/testing/world';
import { want } from '../../desk/job-queries';
import { Bus } from '../../desk/bus';
import { optOut } from '../../engine/register';
import { jobsOf } from '../../engine/testing/jobs';
import { NOTHING_LATER, testClock } from '../../engine/testing/world';
import { sealedAmong } from '../../db/sealed';
import { erasePerson } from './erase';
import { eraseWork } from './erase-work';
import { queueText } from '../../engine/queue-text';
import type { Db } from '../../db/db';
import { bringRows } from '../testing';

const AT = new Date(NOW).toISOString();
const NUMBER = '+12075550142';
const unexpected = (error: unknown) => {
  throw error;
};

describe.each(ENGINES)('erasing a person, on %s', (kind) => {
  test('leaves their name, words and number nowhere but in the register', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await bringRows(db, [
      ['Mobile', 'First', 'Last'],
      ['(207) 555-0142', 'Jo', 'Quennell'],
      ['207-555-0143', 'Ana', 'Reyes'],
      ['207-555-0142 / 0199', 'Jo', 'Quennell'],
    ]);
    await makeRun(db, 2);
    const id = (await db.query<{ id: number }>(`SELECT id FROM person WHERE number = $1`, [NUMBER])).rows[0].id;
    await db.query(
      `UPDATE outbound SET person_id = $1, number = $2, body = 'Jo, the Heron is off', state = 'delivered', open = 0 WHERE id = (SELECT min(id) FROM outbound)`,
      [id, NUMBER],
    );
    await db.query(
      `INSERT INTO outbound_part (outbound_id, part_no, number, state, reference) SELECT id, 1, number, 'delivered', 17 FROM outbound WHERE person_id = $1`,
      [id],
    );
    await db.query(
      `INSERT INTO link (token, run_id, outbound_id, number, address) SELECT 'tok', run_id, id, number, 'https://ottermere.example' FROM outbound WHERE person_id = $1`,
      [id],
    );
    await db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind, person_id, done_at) VALUES ($1::timestamptz, $2, '72345', 'Jo here', 'reply', $3, $1::timestamptz)`,
      [AT, NUMBER, id],
    );
    await db.query(`INSERT INTO suppression (number, at, how) VALUES ($1, $2::timestamptz, 'reply')`, [NUMBER, AT]);

    expect(await db.transaction((tx) => erasePerson(tx, id, AT))).toEqual({ runs: [] });
    await jobsOf(db, testClock(NOW), new Bus(), unexpected, undefined, {
      ...NOTHING_LATER,
      erase: eraseWork(db, new Bus()),
    }).settle();
    expect(await db.transaction((tx) => erasePerson(tx, id, AT))).toBeUndefined();

    // every table is looked through, so that one that is added later is, too
    const { rows: tables } = await db.query<{ name: string }>(
      `SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' AND tablename NOT IN ('migration', 'audience_change')`,
    );
    const found: string[] = [];
    for (const { name } of tables) {
      const { rows } = await db.query<{ row: string }>(`SELECT t::text AS row FROM ${name} t`);
      if (rows.some(({ row }) => /Quennell|Jo,|Jo here|555-?0142/.test(row))) found.push(name);
    }
    expect(found).toEqual([]);
    // in the register it is known again, and by its key only
    expect((await db.query(`SELECT number FROM suppression`)).rows).toEqual([]);
    expect(await sealedAmong(db, [NUMBER, '+12075550143'])).toEqual(new Set([NUMBER]));
    // the ledger still counts the text and its part
    expect(
      (await db.query<{ n: number }>(`SELECT count(*) AS n FROM outbound_part WHERE number LIKE 'erased-%'`)).rows[0].n,
    ).toBe(1);
    expect((await db.query<{ n: number }>(`SELECT count(*) AS n FROM outbound WHERE state = 'delivered'`)).rows[0].n).toBe(1);
  });

  const someone = async (db: Db, id = 700) =>
    db.query(
      `INSERT INTO person (id, given_name, number, created_at, updated_at) VALUES ($1, 'Jo', $2, $3::timestamptz, $3::timestamptz)`,
      [id, NUMBER, AT],
    );

  test('whoever had a reply that may mean stop, and nobody had decided, is taken to have said so', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await someone(db);
    await db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind, person_id) VALUES ($1::timestamptz, $2, '72345', 'Please stop by', 'maybe_stop', 700)`,
      [AT, NUMBER],
    );
    await db.transaction((tx) => erasePerson(tx, 700, AT));
    expect(await sealedAmong(db, [NUMBER])).toEqual(new Set([NUMBER]));
    expect((await db.query(`SELECT number FROM number_held`)).rows).toEqual([]);
  });

  test('a number that somebody else has, too, stays theirs, with its stop', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await someone(db);
    await someone(db, 701);
    await optOut(db, { number: NUMBER, how: 'texted', words: 'STOP' }, AT);
    await db.transaction((tx) => erasePerson(tx, 700, AT));
    expect((await db.query(`SELECT number FROM suppression`)).rows).toEqual([{ number: NUMBER }]);
    expect((await db.query(`SELECT number FROM person`)).rows).toEqual([{ number: NUMBER }]);
  });

  test('brought in again, the number is known to have opted out; a text to it by itself is refused', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await someone(db);
    await optOut(db, { number: NUMBER, how: 'texted', words: 'STOP, Jo' }, AT);
    await db.transaction((tx) => erasePerson(tx, 700, AT));
    await expect(
      db.transaction((tx) =>
        queueText(tx, { kind: 'reply', personId: null, number: NUMBER, senderId: 1, body: 'Hello', usefulFor: 60_000 }, NOW),
      ),
    ).rejects.toMatchObject({ kind: 'opted-out' });
    await bringRows(db, [
      ['Mobile', 'First', 'Last'],
      ['(207) 555-0142', 'Joanna', 'Quennell'],
    ]);
    expect((await db.query(`SELECT number, how, words FROM suppression`)).rows).toEqual([
      { number: NUMBER, how: 'texted', words: '' },
    ]);
  });

  test('what is on its way keeps its number until it has come to its end, and then has none', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await makeRun(db, 2, { state: 'sending' });
    const id = 1_000_000;
    const { number } = (await db.query<{ number: string }>(`SELECT number FROM person WHERE id = $1`, [id])).rows[0];
    await db.query(`UPDATE outbound SET state = 'with_carrier', queue = NULL WHERE person_id = $1`, [id]);
    const clock = testClock(NOW);
    await db.query(`DELETE FROM job`);
    await db.transaction((tx) => erasePerson(tx, id, AT));
    const jobs = jobsOf(db, clock, new Bus(), unexpected, undefined, { ...NOTHING_LATER, erase: eraseWork(db, new Bus()) });
    await jobs.settle();
    const stands = async () =>
      (await db.query(`SELECT 1 FROM outbound WHERE number = $1 UNION ALL SELECT 1 FROM erasing`, [number])).rowCount;
    expect(await stands()).toBe(2);
    await db.query(`UPDATE outbound SET state = 'delivered', open = 0 WHERE person_id = $1`, [id]);
    await want(db, [{ kind: 'erase', key: String(id), due: NOW }]);
    await jobs.settle();
    expect(await stands()).toBe(0);
  });

  test('who brings the number in again while an old text is still on its way keeps what they write and what their file says', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await makeRun(db, 2, { state: 'sending' });
    const id = 1_000_000;
    const { number } = (await db.query<{ number: string }>(`SELECT number FROM person WHERE id = $1`, [id])).rows[0];
    await db.query(`UPDATE outbound SET state = 'with_carrier', queue = NULL WHERE person_id = $1`, [id]);
    await db.query(`DELETE FROM job`);
    const clock = testClock(NOW);
    await db.transaction((tx) => erasePerson(tx, id, AT));
    const jobs = jobsOf(db, clock, new Bus(), unexpected, undefined, { ...NOTHING_LATER, erase: eraseWork(db, new Bus()) });
    await jobs.settle();
    // an hour later
    const later = new Date(NOW + 3_600_000).toISOString();
    await bringRows(db, [
      ['Mobile', 'First', 'Last'],
      [number, 'Mika', 'Okafor'],
    ]);
    await db.query(`UPDATE import SET created_at = $1::timestamptz`, [later]);
    await db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind, person_id) SELECT $1::timestamptz, number, '72345', 'Mika here', 'reply', id FROM person WHERE number = $2`,
      [later, number],
    );
    await db.query(`INSERT INTO conversation (number, later_at) VALUES ($1, $2::timestamptz)`, [number, later]);
    await want(db, [{ kind: 'erase', key: String(id), due: NOW }]);
    await jobs.settle();
    expect((await db.query(`SELECT body, number FROM inbound`)).rows).toEqual([{ body: 'Mika here', number }]);
    expect((await db.query(`SELECT 1 FROM conversation`)).rowCount).toBe(1);
    expect(
      (await db.query<{ cells: string[] }>(`SELECT cells FROM import_row ORDER BY row_no DESC LIMIT 1`)).rows[0].cells,
    ).toContain(number);
  });

  test('of a text whose answer was lost nothing is heard after a day, and then nothing of them is kept', async () => {
    const db = await emptyDb(kind);
    await makeWorkspace(db);
    await makeRun(db, 1, { state: 'sending' });
    const id = 1_000_000;
    await db.query(`UPDATE outbound SET state = 'uncertain', open = 0, queue = NULL, handed_at = $1::timestamptz`, [AT]);
    await db.query(`DELETE FROM job`);
    await db.transaction((tx) => erasePerson(tx, id, AT));
    const clock = testClock(NOW);
    const jobs = jobsOf(db, clock, new Bus(), unexpected, undefined, { ...NOTHING_LATER, erase: eraseWork(db, new Bus()) });
    await jobs.settle();
    expect((await db.query(`SELECT 1 FROM erasing`)).rowCount).toBe(1);
    clock.at += 26 * 3_600_000;
    await jobs.settle();
    expect((await db.query(`SELECT 1 FROM erasing`)).rowCount).toBe(0);
    expect((await db.query<{ number: string }>(`SELECT number FROM outbound`)).rows[0].number).toMatch(/^erased-/);
  });
});
