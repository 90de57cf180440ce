import { describe, expect, test } from 'vitest';
import { surroundings } from '../broadcasts/planning/plan-surroundings';
import type { Db } from '../db/db';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { Bus } from '../desk/bus';
import { want } from '../desk/job-queries';
import { jobsOf } from './testing/jobs';
import { makeWorkspace, NOW, testClock } from './testing/world';

const HOUR = 3_600_000;
const version = async (db: Db) => (await surroundings(db)).version;

describe.each(ENGINES)('what only grows, on %s', (engine) => {
  const trimming = async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    const clock = testClock(NOW);
    const failed: unknown[] = [];
    const jobs = jobsOf(db, clock, new Bus(), (error) => failed.push(error));
    const trim = async (times = 1) => {
      for (let i = 0; i < times; i += 1) {
        await want(db, [{ kind: 'trim', key: '', due: clock.now() }]);
        await jobs.settle();
        clock.at += 2 * 60_000;
      }
      expect(failed).toEqual([]);
    };
    return { db, trim };
  };

  test('changes of audiences are counted instead of kept; the version stays while nothing changes, and moves when something does', async () => {
    const { db, trim } = await trimming();
    await db.query(`INSERT INTO audience_change SELECT FROM generate_series(1, 50000)`);
    const before = await version(db);
    await trim(4);
    expect((await db.query(`SELECT 1 FROM audience_change`)).rowCount).toBeLessThan(1100);
    expect(await version(db)).toBe(before);
    await db.query(`INSERT INTO tag (name) VALUES ('new')`);
    expect(await version(db)).not.toBe(before);
  });

  test.runIf(engine === 'postgres')(
    'a change that began before the trimming and is committed after it moves the version, too',
    async () => {
      const { db, trim } = await trimming();
      let seen = '';
      await db.transaction(async (tx) => {
        await tx.query(`INSERT INTO tag (name) VALUES ('slow')`);
        await db.query(`INSERT INTO audience_change SELECT FROM generate_series(1, 5000)`);
        await trim(2);
        seen = await version(db);
      });
      expect(await version(db)).not.toBe(seen);
    },
  );

  test('a draft that was begun and never touched goes after a day; one that was touched, or at which somebody is, stays', async () => {
    const { db, trim } = await trimming();
    const at = (hours: number) => new Date(NOW - hours * HOUR).toISOString();
    const begun = (id: number, hours: number, part: { version?: number; labels?: string[] } = {}) =>
      db.query(
        `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at, blank, version, labels)
         VALUES ($1, '', 'draft', '{}', $2::timestamptz, $2::timestamptz, true, $3, $4::jsonb)`,
        [id, at(hours), part.version ?? 1, JSON.stringify(part.labels ?? [])],
      );
    await begun(101, 25);
    await begun(102, 23);
    await begun(103, 25, { version: 2 });
    await begun(104, 25, { labels: ['ferry'] });
    await begun(105, 25);
    await db.query(
      `INSERT INTO account (id, email, name, role, password_hash, created_at) VALUES (1, 'a', 'a', 'write', 'x', '2026-01-01')`,
    );
    await db.query(
      `INSERT INTO draft_presence (tab, broadcast_id, account_id, place, seen_at) VALUES ('t', 105, 1, 'words', $1::timestamptz)`,
      [at(1)],
    );
    await trim();
    const { rows } = await db.query<{ id: number }>(`SELECT id FROM broadcast WHERE id > 100 ORDER BY id`);
    expect(rows.map(({ id }) => id)).toEqual([102, 103, 104, 105]);
  });

  test('receipts that belong to nothing go after two days, sessions and links to come in when they are over', async () => {
    const { db, trim } = await trimming();
    for (const hours of [1, 49, 51])
      await db.query(
        `INSERT INTO receipt_parked (at, message_id, reference, number, state, error) VALUES ($1::timestamptz, $2, 1, '+12075550142', 'DELIVRD', '000')`,
        [new Date(NOW - hours * HOUR).toISOString(), `m${hours}`],
      );
    await db.query(
      `INSERT INTO account (name, email, role, password_hash, created_at) VALUES ('Ana', 'ana@ottermere.example', 'manage', '', $1::timestamptz)`,
      [new Date(NOW).toISOString()],
    );
    for (const hours of [-1, 1]) {
      const over = new Date(NOW + hours * HOUR).toISOString();
      await db.query(
        `INSERT INTO session (token_hash, account_id, created_at, expires_at) SELECT $1, id, $2::timestamptz, $2::timestamptz FROM account`,
        [`s${hours}`, over],
      );
      await db.query(`INSERT INTO invitation (token_hash, role, expires_at) VALUES ($1, 'look', $2::timestamptz)`, [
        `i${hours}`,
        over,
      ]);
    }
    await trim();
    expect((await db.query(`SELECT 1 FROM receipt_parked`)).rowCount).toBe(2);
    expect((await db.query(`SELECT 1 FROM session`)).rowCount).toBe(1);
    expect((await db.query(`SELECT 1 FROM invitation`)).rowCount).toBe(1);
  });
});
