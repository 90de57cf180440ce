import { describe, expect, test } from 'vitest';
import type { Db } from './db';
import { DbError, isDuplicate } from './db-error';
import { migrate } from './migrate';
import { emptyDb, ENGINES } from './testing/engines';

describe.each(ENGINES)('the database contract on %s', (engine) => {
  const open = () => emptyDb(engine);

  test('a function is made anew where its file has changed, and only there', async () => {
    const db = await open();
    const body = async () =>
      (await db.query<{ prosrc: string }>(`SELECT prosrc FROM pg_proc WHERE proname = 'line_opens'`)).rows.map(
        ({ prosrc }) => prosrc,
      );
    const [written] = await body();
    const other = `CREATE OR REPLACE FUNCTION line_opens(own bigint, wanted bigint[]) RETURNS text LANGUAGE sql AS 'SELECT NULL::text'`;
    await db.exec(other);
    // as far as is known it is the file's
    expect(await migrate(db)).toEqual([]);
    expect(await body()).not.toEqual([written]);
    await db.query(`UPDATE written_function SET hash = 'of a file before' WHERE name = 'line_opens'`);
    await migrate(db);
    expect(await body()).toEqual([written]);
  });

  test('values come out in one form', async () => {
    const db = await open();
    const { rows } = await db.query(
      `SELECT $1::bigint AS big, $2::text AS words, $3::timestamptz AS at, $4::date AS day, $5::jsonb AS doc, $6::text[] AS list, $7::bigint[] AS ids,
              $8::boolean AS yes, 1.50::numeric AS exact, interval '1 day' AS span, NULL::text AS none, '{}'::text[] AS empty, $9::double precision AS f`,
      [
        9007199254740991,
        'a "quoted" \\ line\nbreak',
        '2026-12-02T15:50:00-05:00',
        '2026-03-08',
        JSON.stringify({ a: [1, 'é'] }),
        ['x,y', 'NULL', 'q"\\', ''],
        [1, 2],
        true,
        0.1,
      ],
    );
    expect(rows[0]).toEqual({
      big: 9007199254740991,
      words: 'a "quoted" \\ line\nbreak',
      at: '2026-12-02T20:50:00.000Z',
      day: '2026-03-08',
      doc: { a: [1, 'é'] },
      list: ['x,y', 'NULL', 'q"\\', ''],
      ids: [1, 2],
      yes: true,
      exact: '1.50',
      span: '1 day',
      none: null,
      empty: [],
      f: 0.1,
    });
  });

  test('a number beyond 2^53 is refused instead of rounded', async () => {
    const db = await open();
    await expect(db.query(`SELECT 9007199254740993::bigint AS n`)).rejects.toThrow(/beyond 2\^53|9007199254740993/);
  });

  test('copyIn loads rows with tabs, breaks, backslashes, nulls and arrays', async () => {
    const db = await open();
    await db.query(`INSERT INTO import (id, file_name, state, created_at) VALUES (1, 'x', 'open', '2026-01-01T00:00:00Z')`);
    const rows = [
      [1, 1, ['a\tb', 'c\\d', 'e\nf', 'g"h', '\r']],
      [1, 2, ['', '{}', 'NULL', '\\N']],
    ];
    expect(await db.copyIn('import_row', ['import_id', 'row_no', 'cells'], [rows])).toBe(2);
    const back = await db.query<{ cells: string[] }>('SELECT cells FROM import_row ORDER BY row_no');
    expect(back.rows.map((row) => row.cells)).toEqual(rows.map((row) => row[2]));
    await db.copyIn(
      'import_verdict',
      ['import_id', 'row_no', 'verdict', 'reason', 'changes'],
      [[[1, 1, 'new', null, JSON.stringify({ a: 'é\t"' })]]],
    );
    expect((await db.query('SELECT reason, changes FROM import_verdict')).rows).toEqual([
      { reason: null, changes: { a: 'é\t"' } },
    ]);
  });

  test('a transaction that throws leaves nothing', async () => {
    const db = await open();
    await expect(
      db.transaction(async (tx) => {
        await tx.query(`INSERT INTO tag (name) VALUES ('kept?')`);
        throw new Error('changed my mind');
      }),
    ).rejects.toThrow('changed my mind');
    expect((await db.query('SELECT * FROM tag')).rows).toEqual([]);
  });

  test('what is sent is done in its turn and committed', async () => {
    const db = await open();
    const names = await db.transaction(async (tx) => {
      tx.send(`INSERT INTO tag (name) VALUES ($1)`, ['a']);
      tx.send(`UPDATE tag SET name = name || $1`, ['b']);
      const read = await tx.query<{ name: string }>('SELECT name FROM tag');
      tx.send(`INSERT INTO tag (name) VALUES ($1)`, ['c']);
      return read.rows.map((row) => row.name);
    });
    expect(names).toEqual(['ab']);
    expect((await db.query('SELECT name FROM tag ORDER BY name')).rows).toEqual([{ name: 'ab' }, { name: 'c' }]);
  });

  test('nothing is committed where something that was sent fails, and its error says why', async () => {
    const db = await open();
    const error: unknown = await db
      .transaction(async (tx) => {
        await tx.query(`INSERT INTO tag (name) VALUES ('a')`);
        tx.send(`INSERT INTO tag (name) VALUES ('a')`);
        tx.send(`INSERT INTO tag (name) VALUES ('b')`);
      })
      .catch((e: unknown) => e);
    expect(isDuplicate(error)).toBe(true);
    expect((await db.query('SELECT * FROM tag')).rows).toEqual([]);
    await db.query(`INSERT INTO tag (name) VALUES ('after')`);
  });

  test('a transaction that swallows an error does not seem to be committed', async () => {
    const db = await open();
    const error: unknown = await db
      .transaction(async (tx) => {
        await tx.query(`INSERT INTO tag (name) VALUES ('a')`);
        await tx.query(`INSERT INTO tag (name) VALUES ('a')`).catch(() => undefined);
      })
      .catch((e: unknown) => e);
    expect(error).toMatchObject({ code: '25P02' });
    expect((await db.query('SELECT * FROM tag')).rows).toEqual([]);
  });

  test('errors carry the SQLSTATE, and the connection goes on', async () => {
    const db = await open();
    await db.query(`INSERT INTO tag (name) VALUES ('a')`);
    const error: unknown = await db.query(`INSERT INTO tag (name) VALUES ('a')`).catch((e: unknown) => e);
    expect(error).toBeInstanceOf(DbError);
    expect(isDuplicate(error)).toBe(true);
    expect((await db.query('SELECT 1 AS one')).rows).toEqual([{ one: 1 }]);
  });

  test('stream gives every row once, in pieces, while others ask', async () => {
    const db = await open();
    const seen: number[] = [];
    for await (const rows of db.stream<{ n: number }>('SELECT n FROM generate_series(1, $1::int) AS n', [2500], 1000)) {
      seen.push(...rows.map((row) => row.n));
      await db.query('SELECT 1');
    }
    expect(seen).toEqual(Array.from({ length: 2500 }, (_, i) => i + 1));
  });

  test('rowCount counts what was touched', async () => {
    const db = await open();
    expect((await db.query(`INSERT INTO tag (name) VALUES ('a'), ('b')`)).rowCount).toBe(2);
    expect((await db.query(`UPDATE tag SET name = name || '!'`)).rowCount).toBe(2);
    expect((await db.query(`UPDATE tag SET name = 'x' WHERE name = 'nobody'`)).rowCount).toBe(0);
    expect((await db.query(`SELECT * FROM tag`)).rowCount).toBe(2);
  });

  test('listen hears a notification and stops hearing', async () => {
    const db = await open();
    const heard: string[] = [];
    let resolve: () => void = () => undefined;
    const promise = new Promise<void>((done) => (resolve = done));
    const stop = await db.listen('bell', (payload) => {
      heard.push(payload);
      resolve();
    });
    await db.query(`SELECT pg_notify('bell', 'rung')`);
    await promise;
    await stop();
    await db.query(`SELECT pg_notify('bell', 'again')`);
    expect(heard).toEqual(['rung']);
  });

  test('skip locked lets two claimers share a queue', async () => {
    const db: Db = await open();
    await db.query(`INSERT INTO tag (name) SELECT 't' || n FROM generate_series(1, 10) AS n`);
    const claim = () =>
      db.query<{ id: number }>(
        `DELETE FROM tag WHERE id IN (SELECT id FROM tag ORDER BY id LIMIT 5 FOR UPDATE SKIP LOCKED) RETURNING id`,
      );
    const [a, b] = await Promise.all([claim(), claim()]);
    expect(new Set([...a.rows, ...b.rows].map((row) => row.id)).size).toBe(a.rowCount + b.rowCount);
  });
});
