import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import type { Db } from '../../db/db';
import { DbError } from '../../db/db-error';
import { ENGINES } from '../../db/testing/engines';
import { LEASE } from '../../desk/job-queries';
import { balanceMicro } from '../../engine/money';
import { optOut } from '../../engine/register';
import { NOW } from '../../engine/testing/world';
import { erasePerson } from '../../people/person/erase';
import type { Refusal } from '../../../core/api/refusal';
import { makePlan, pressAndStore as press, presser, world } from '../testing';
import { press as pressFirst } from './press';

/** A press whose answers are lost, whose process dies, or during which the world moves: it is stored, or undone, and everyone is accounted for. */
const AT = new Date(NOW).toISOString();
const asked = { account: undefined, now: NOW, at: AT };
const TOP_UP = 100_000_000;
const pressing = (digest: string) => ({ broadcastId: 1, version: 1, digest, pressId: 'press-one' });
const refused = (work: Promise<unknown>) =>
  work.then(
    () => undefined,
    (error: unknown) => error as Refusal,
  );
const app = (db: Db) => presser(db, NOW);
const outbound = async (db: Db) =>
  (
    await db.query<{ number: string; state: string; reason: string | null }>(
      `SELECT number, state, reason FROM outbound ORDER BY number`,
    )
  ).rows;

/** So many more people of one number block, in our zone. */
const crowd = async (db: Db, n: number) => {
  await db.query(
    `INSERT INTO person (id, given_name, number, number_kind, zone, created_at, updated_at) SELECT 100 + n, 'Kai', '+1207' || (3000000 + n), 'either', 'America/New_York', $1::timestamptz, $1::timestamptz FROM generate_series(1, $2::int) AS n`,
    [AT, n],
  );
  await db.query(`INSERT INTO list_member SELECT 1, id FROM person WHERE id > 100`);
};

describe.each(ENGINES)('a press that is cut short, on %s', (engine) => {
  /** A database of which the answer to the commit that begins a run is lost, and so are that many statements after it. */
  const losing = (db: Db, after: number): Db => {
    let lost = -1;
    const gone = () => {
      lost -= 1;
      return new DbError('Connection terminated unexpectedly', '08006');
    };
    return {
      ...db,
      query: (...args) => (lost > 0 ? Promise.reject(gone()) : db.query(...args)),
      lane: () => db,
      transaction: async (work) => {
        let begins = false;
        const done = await db.transaction((tx) =>
          work({ ...tx, query: (sql, params) => ((begins ||= sql.includes('INSERT INTO run (')), tx.query(sql, params)) }),
        );
        if (!begins || lost >= 0) return done;
        lost = after + 1;
        throw gone();
      },
    };
  };

  test('the answer to the press’s commit is lost: it is found by its id, and stored', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const at = Object.assign(app(db), { db: losing(db, 0) });
    expect(await press(at, pressing(digest), asked)).toEqual({ run_id: 1, stored: 'stored' });
    expect((await db.query(`SELECT state FROM run`)).rows).toEqual([{ state: 'waiting' }]);
    expect(await outbound(db)).toHaveLength(3);
  });

  test('it cannot even be looked for: whoever presses once more hears that it is being stored, and when its lease has run out it is', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const broken = Object.assign(app(db), { db: losing(db, 1) });
    expect(await refused(press(broken, pressing(digest), asked))).toMatchObject({ code: '08006' });
    // the process has died
    await broken.jobs.end();
    expect(await press(app(db), pressing(digest), asked)).toEqual({ run_id: 1, stored: 'being stored' });
    const later = presser(db, NOW + LEASE + 1000);
    await later.jobs.settle();
    expect(later.failures).toEqual([]);
    expect((await db.query(`SELECT state FROM run`)).rows).toEqual([{ state: 'waiting' }]);
    expect(await outbound(db)).toHaveLength(3);
    expect(await balanceMicro(db)).toBe(TOP_UP - 22_500);
  });

  test('its process dies while it is stored, and the world has moved: it is undone, money and all, and its press makes no other', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const broken = Object.assign(app(db), { db: losing(db, 1) });
    await refused(press(broken, pressing(digest), asked));
    await broken.jobs.end();
    await db.query(`UPDATE person SET given_name = 'Anna' WHERE id = 1`);
    const later = presser(db, NOW + LEASE + 1000);
    await later.jobs.settle();
    expect(await balanceMicro(db)).toBe(TOP_UP);
    expect((await db.query(`SELECT state FROM broadcast`)).rows).toEqual([{ state: 'draft' }]);
    expect((await db.query(`SELECT 1 FROM run`)).rowCount).toBe(0);
    expect(await refused(press(later, pressing(digest), asked))).toMatchObject({
      kind: 'press-over',
      message: 'What you pressed could not be stored and was undone. Nothing was sent.',
    });
  });

  test('storing is broken off half way, and its last answer lost: it goes on where it was, and each text is there once', async () => {
    const { db, draft } = await world(engine);
    await crowd(db, 1200);
    const { digest } = await makePlan(db, draft, NOW);
    const at = app(db);
    const transaction = db.transaction.bind(db);
    let stored = 0;
    const shaky: Db = {
      ...db,
      lane: () => shaky,
      transaction: async (work) => {
        let stores = false;
        const done = await transaction((tx) =>
          work({ ...tx, query: (sql, params) => ((stores ||= sql.includes('SET stored =')), tx.query(sql, params)) }),
        );
        stored += stores ? 1 : 0;
        // the first piece is there, and nobody is told
        if (stores && stored === 1) throw new DbError('Connection terminated unexpectedly', '08006');
        return done;
      },
    };
    at.db = shaky;
    const pressed = await pressFirst(at, pressing(digest), asked);
    await at.jobs.settle();
    expect(at.failures).toHaveLength(1);
    // it is tried again in a while
    await db.query(`UPDATE job SET due_at = $1::timestamptz, attempts = 0 WHERE kind = 'store run'`, [AT]);
    await at.jobs.settle();
    expect(await pressed.stored).toBe('stored');
    const { rows } = await db.query<{ n: number; numbers: number }>(
      `SELECT count(*) AS n, count(DISTINCT number) AS numbers FROM outbound`,
    );
    expect(rows).toEqual([{ n: 1203, numbers: 1203 }]);
  });

  test('who says stop, changes number or is erased while it is stored does not stand as planned', async () => {
    const { db, draft } = await world(engine);
    const { digest } = await makePlan(db, draft, NOW);
    const at = app(db);
    const rows = at.plans.rows.bind(at.plans);
    // the plan has been made, and nothing is stored yet
    at.plans.rows = async (...args) => {
      const given = await rows(...args);
      await optOut(db, { number: '+12075550101', how: 'texted', words: 'STOP' }, AT);
      await db.query(`UPDATE person SET number = '+12075550177', updated_at = $1::timestamptz WHERE id = 4`, [AT]);
      await db.transaction((tx) => erasePerson(tx, 3, iso(NOW)));
      return given;
    };
    expect((await press(at, pressing(digest), asked)).stored).toBe('stored');
    expect((await db.query(`SELECT 1 FROM erasing`)).rowCount).toBe(0);
    expect(await outbound(db)).toEqual([
      { number: '+12075550101', state: 'not_sent', reason: 'opted out' },
      { number: '+12075550104', state: 'not_sent', reason: 'number changed' },
      { number: expect.stringMatching(/^erased-/) as string, state: 'not_sent', reason: 'erased' },
    ]);
  });
});
