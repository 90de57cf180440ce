import { mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, inject, test } from 'vitest';
import type { Db } from '../db';
import { diskTrouble, isAway, isPassing } from '../db-error';
import { openEmbedded } from '../embedded';
import { preparedSnapshot } from '../snapshot';

/** What the operating system may answer (POSIX.1-2017, write and fsync): no space left, read-only, an error of the device. */
const REFUSED = ['ENOSPC', 'EROFS', 'EIO', 'EIO fdatasyncSync'] as const;
const TITLES = { ENOSPC: /full/, EROFS: /cannot be written/, EIO: /with errors/, 'EIO fdatasyncSync': /with errors/ };

const folder = mkdtempSync(join(tmpdir(), 'bell-spoiled-'));
const refuses = join(folder, 'refuses');
beforeEach(() => rmSync(refuses, { force: true }));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function open(name: string): Promise<Db> {
  process.env.DISK_REFUSES = refuses;
  const source = new URL('./testing/spoiled-disk.mjs', import.meta.url);
  const snapshot = await preparedSnapshot(inject('snapshotFolder'), inject('pgliteVersion'));
  return openEmbedded({ dataDir: join(folder, name), snapshot }, source);
}

const insert = (db: Db, from: number, to: number) =>
  db.query(`INSERT INTO kept SELECT n, repeat('w', 300) FROM generate_series($1::int, $2::int) AS n`, [from, to]);

async function until<T>(work: () => Promise<T>): Promise<T> {
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (!isPassing(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }
}

describe.each(REFUSED)('a disk that refuses with %s', (code) => {
  test('says so, acknowledges nothing that is not kept, and takes it again once it can', async () => {
    const db = await open(code.replace(' ', '-'));
    const heard: string[] = [];
    await db.listen('news', (payload) => heard.push(payload));
    await db.exec(`CREATE TABLE kept (n int PRIMARY KEY, words text)`);
    await insert(db, 1, 100);
    let acknowledged = 100;
    writeFileSync(refuses, code);
    const said: unknown[] = [];
    for (let n = 0; n < 6; n += 1)
      await insert(db, acknowledged + 1, acknowledged + 3000).then(
        () => (acknowledged += 3000),
        (error: unknown) => said.push(error),
      );
    expect(said.length).toBeGreaterThan(0);
    // each is trouble that passes by itself, in words: it is tried again, and the pages say that the database is away
    for (const error of said) {
      expect(isPassing(error), String(error)).toBe(true);
      expect(diskTrouble(error)?.title, String(error)).toMatch(TITLES[code]);
    }
    rmSync(refuses);
    const { rows } = await until(() =>
      db.query<{ n: number; most: number }>(`SELECT count(*)::int AS n, max(n) AS most FROM kept`),
    );
    // what was acknowledged, and of the rest all or nothing: a commit whose answer was lost may have happened
    expect(rows[0].n).toBe(rows[0].most);
    expect(rows[0].n).toBeGreaterThanOrEqual(acknowledged);
    expect((rows[0].n - 100) % 3000).toBe(0);
    await until(() => insert(db, 900_001, 900_010));
    // whoever listens hears on, whichever thread it is by now
    await until(() => db.query(`SELECT pg_notify('news', 'again')`));
    expect(heard).toEqual(['again']);
    await db.close();
  });
});

test('a transaction does not go on in a store that was opened anew beneath it', async () => {
  const db = await open('beneath');
  await db.exec(`CREATE TABLE kept (n int PRIMARY KEY, words text)`);
  const tried = db.transaction(async (tx) => {
    await tx.query(`INSERT INTO kept VALUES (1, 'first half')`);
    writeFileSync(refuses, 'EIO fdatasyncSync');
    await tx.query(`CHECKPOINT`).catch(() => undefined);
    rmSync(refuses);
    await tx.query(`INSERT INTO kept VALUES (2, 'second half')`);
  });
  await expect(tried).rejects.toSatisfy(isAway);
  expect((await until(() => db.query(`SELECT n FROM kept`))).rows).toEqual([]);
  await db.close();
});

test('a folder that is taken away is not made anew, empty', async () => {
  const db = await open('taken');
  await db.exec(`CREATE TABLE kept (n int PRIMARY KEY, words text)`);
  await insert(db, 1, 100);
  renameSync(join(folder, 'taken'), join(folder, 'taken-away'));
  writeFileSync(refuses, 'EIO fdatasyncSync');
  await expect(insert(db, 101, 200)).rejects.toSatisfy(isPassing);
  rmSync(refuses);
  await expect(db.query(`SELECT 1`)).rejects.toThrow(/is not there any more/);
  renameSync(join(folder, 'taken-away'), join(folder, 'taken'));
  const { rows } = await until(() => db.query<{ n: number }>(`SELECT count(*)::int AS n FROM kept`));
  expect([100, 200]).toContain(rows[0].n);
  await db.close();
});
