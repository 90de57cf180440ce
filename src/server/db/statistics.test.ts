import { describe, expect, test } from 'vitest';
import type { Db } from './db';
import { countAnew, worthSweeping } from './statistics';
import { emptyDb, ENGINES } from './testing/engines';

const TABLES = ['person', 'list_member'];
// in the lane of bulk work, as what is counted after it
const people = (db: Db, from: number, to: number) =>
  db
    .lane('bulk')
    .query(
      `INSERT INTO person (id, number, created_at, updated_at) SELECT n, '+1207' || (2000000 + n), '2026-01-01', '2026-01-01' FROM generate_series($1::int, $2::int) AS n`,
      [from, to],
    );

describe.each(ENGINES)('what the planner knows of a table, on %s', (engine) => {
  test('is counted anew when a tenth of it has changed, and not before', async () => {
    const db = await emptyDb(engine);
    await db.exec('ANALYZE person; ANALYZE list_member');
    await people(db, 1, 2000);
    expect(await countAnew(db, TABLES)).toEqual(['person']);
    const known = async () =>
      (await db.query<{ n: number }>(`SELECT reltuples::int AS n FROM pg_class WHERE oid = 'person'::regclass`)).rows[0].n;
    expect(await known()).toBe(2000);
    expect(await countAnew(db, TABLES)).toEqual([]);
    await people(db, 2001, 2200);
    expect(await countAnew(db, TABLES)).toEqual([]);
    await people(db, 2201, 2400);
    expect(await countAnew(db, TABLES)).toEqual(['person']);
    expect(await known()).toBe(2400);
  });
});

test('the embedded engine’s tables are swept when a fifth of them is dead, and not before', async () => {
  const db = await emptyDb('embedded');
  await people(db, 1, 1000);
  await db.exec('VACUUM (ANALYZE) person');
  await db.query(`DELETE FROM person WHERE id <= 240`);
  expect(await worthSweeping(db, TABLES)).toEqual([]);
  await db.query(`DELETE FROM person WHERE id <= 260`);
  expect(await worthSweeping(db, TABLES)).toEqual(['person']);
  await db.exec('VACUUM (ANALYZE) person');
  expect(await worthSweeping(db, TABLES)).toEqual([]);
});
