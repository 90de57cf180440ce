import { PGlite } from '@electric-sql/pglite';
import { beforeAll, describe, expect, test } from 'vitest';
import { Statements } from './statements';
import { Wire } from './wire';

/** What the thread asks of the engine, and what it does not. */
let pg: PGlite;
const notified: string[] = [];
let statements: Statements;

beforeAll(async () => {
  pg = await PGlite.create();
  await pg.exec(`CREATE TABLE thing (id bigint PRIMARY KEY, name text NOT NULL); INSERT INTO thing SELECT n, 'x' || n % 3 FROM generate_series(1, 300) AS n;
    CREATE TABLE part (thing bigint REFERENCES thing); ANALYZE thing`);
  statements = new Statements(new Wire(pg, (channel, payload) => void notified.push(`${channel} ${payload}`)));
});

const plans = async (like: string) =>
  (
    await pg.query<{ generic_plans: number; custom_plans: number }>(
      `SELECT generic_plans::int, custom_plans::int FROM pg_prepared_statements WHERE statement LIKE $1`,
      [`${like}%`],
    )
  ).rows;

describe('a statement that is run again and again', () => {
  test('is planned for the values of each run', async () => {
    for (let i = 1; i <= 23; i += 1)
      expect((await statements.run('SELECT name FROM thing WHERE id = $1', [String(i)])).rowCount).toBe(1);
    // prepared anew every five runs, one of it there at a time
    expect(await plans('SELECT name FROM thing WHERE id')).toEqual([{ generic_plans: 0, custom_plans: 3 }]);
  });

  test('where it finds rows by their keys keeps its plan, and that not for ever', async () => {
    const run = (i: number) => statements.run('SELECT id FROM thing WHERE id = ANY ($1::bigint[])', [`{${i},${i + 1}}`], true);
    for (let i = 1; i <= 100; i += 1) await run(i);
    expect(await plans('SELECT id FROM thing WHERE id = ANY')).toEqual([{ generic_plans: 95, custom_plans: 5 }]);
    expect((await run(1)).values).toEqual([1, 2]);
    expect(await plans('SELECT id FROM thing WHERE id = ANY')).toEqual([{ generic_plans: 0, custom_plans: 1 }]);
  });

  test('goes on after each of its runs has failed, in whatever run', async () => {
    const insert = (id: number) => statements.run('INSERT INTO thing VALUES ($1, $2)', [String(id), 'new']);
    for (let i = 0; i < 14; i += 1) await expect(insert(1)).rejects.toMatchObject({ code: '23505', constraint: 'thing_pkey' });
    expect((await insert(1000)).rowCount).toBe(1);
    expect(await plans('INSERT INTO thing')).toHaveLength(1);
  });

  test('whose transaction has failed says so, and is there after it', async () => {
    const name = (id: string) => statements.run('SELECT name FROM thing WHERE id = $1::bigint', [id]);
    for (let i = 0; i < 5; i += 1) await name('1');
    statements.begin();
    await expect(name('no number')).rejects.toMatchObject({ code: '22P02' });
    await expect(name('1')).rejects.toMatchObject({ code: '25P02' });
    await statements.end('ROLLBACK');
    expect((await name('1')).values).toEqual(['x1']);
  });
});

describe('a transaction', () => {
  test('begins with its first statement, and that is in it', async () => {
    statements.begin();
    expect(pg.isInTransaction()).toBe(false);
    await statements.run('DELETE FROM thing WHERE id = $1', ['2']);
    expect(pg.isInTransaction()).toBe(true);
    await statements.end('ROLLBACK');
    expect((await statements.run('SELECT count(*) AS n FROM thing WHERE id = $1', ['2'])).values).toEqual([1]);
  });

  test('in which nothing is asked is none', async () => {
    statements.begin();
    await statements.end('COMMIT');
    expect(pg.isInTransaction()).toBe(false);
    await statements.run('SELECT 1 AS one', []);
    expect(pg.isInTransaction()).toBe(false);
  });

  test('has begun before what is asked of the engine otherwise', async () => {
    statements.begin();
    await statements.ready();
    await pg.exec('DELETE FROM thing WHERE id = 3');
    await statements.end('ROLLBACK');
    expect((await statements.run('SELECT count(*) AS n FROM thing WHERE id = $1', ['3'])).values).toEqual([1]);
  });
});

test('a value that cannot be read is refused, and the next answer is that of the next question', async () => {
  await expect(
    statements.run('SELECT n, 9007199254740993::bigint AS big FROM generate_series(1, 2000) AS n', []),
  ).rejects.toThrow('beyond 2^53');
  expect((await statements.run(`SELECT 'next' AS word`, [])).values).toEqual(['next']);
});

test('a notification is heard with the statement that it comes by', async () => {
  await pg.exec('LISTEN bell');
  statements.begin();
  await statements.run(`SELECT pg_notify('bell', $1)`, ['rung']);
  expect(notified).toEqual([]);
  await statements.end('COMMIT');
  expect(notified).toEqual(['bell rung']);
});

test('rows are counted where none come back, and where some do', async () => {
  expect(await statements.run(`UPDATE thing SET name = 'y' WHERE id < $1`, ['4'])).toMatchObject({ columns: [], rowCount: 3 });
  expect(await statements.run(`SELECT id, name FROM thing WHERE id < $1 ORDER BY id`, ['3'])).toEqual({
    columns: ['id', 'name'],
    values: [1, 'y', 2, 'y'],
    rowCount: 2,
  });
});
