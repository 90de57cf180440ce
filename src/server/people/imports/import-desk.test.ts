import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { until } from '../../engine/testing/sending';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { ImportCounts, ImportFacts } from '../../../core/api/people/imports';
import { machineClock } from '../../clock';
import type { Db } from '../../db/db';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { Bus } from '../../desk/bus';
import { makeWorkspace, NOW } from '../../engine/testing/world';
import { readHere } from '../../files/testing';
import { NOT_CHECKED } from './checks';
import { ImportDesk } from './import-desk';
import { rememberMatch } from './match-memory';
import { RowThread, rowsReadHere, type RowReading } from './row-thread';

const AT = new Date(NOW).toISOString();
let folder: string;
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'bell-desk-'))));
afterAll(() => rmSync(folder, { recursive: true }));

interface Staged {
  state: string;
  facts: ImportFacts;
  settings: ImportSettings;
  counts: ImportCounts;
  at_row: number;
  row_count: number;
}

async function world(engine: (typeof ENGINES)[number], rows: RowReading = rowsReadHere()): Promise<{ db: Db; desk: ImportDesk }> {
  const db = await emptyDb(engine);
  await makeWorkspace(db);
  const app = { db, clock: machineClock(), bus: new Bus(), log: pino({ level: 'silent' }) };
  return { db, desk: new ImportDesk(app, folder, readHere, rows) };
}
async function put(db: Db, desk: ImportDesk, id: number, content: string | Uint8Array, facts: Partial<ImportFacts> = {}) {
  await db.query(
    `INSERT INTO import (id, file_name, state, facts, created_at) VALUES ($1, 'a', 'reading', $2::jsonb, $3::timestamptz)`,
    [id, JSON.stringify({ headings: [], notes: [], ...facts }), AT],
  );
  writeFileSync(desk.pathOf(id), content);
}
const staged = async (db: Db, id: number) =>
  (await db.query<Staged>(`SELECT state, facts, settings, counts, at_row, row_count FROM import WHERE id = $1`, [id])).rows[0];

describe.each(ENGINES)('the desk of imports on %s', (engine) => {
  test('a file is read, its headings found, its columns matched, and checked', async () => {
    const { db, desk } = await world(engine);
    await put(db, desk, 1, 'Passes;;\n;;\nMobile;First;Last\n(207) 555-0142;Ana;Reyes\n2.0755501E+9;Lost;Digits\n');
    await desk.take(1);
    expect(await staged(db, 1)).toMatchObject({
      state: 'open',
      at_row: 0,
      row_count: 4,
      facts: { headings: ['Mobile', 'First', 'Last'], delimiter: ';', encoding: 'utf-8', last: 4 },
      settings: { heading_row: 2, match: ['number', 'given_name', 'family_name'] },
      counts: { new: 1, rejected: 1 },
    });
  });

  test('what cannot be read leaves nothing behind', async () => {
    const { db, desk } = await world(engine);
    await put(db, desk, 2, 'a,b\n1,"2');
    await expect(desk.take(2)).rejects.toThrow('never closed');
    expect(await staged(db, 2)).toBeUndefined();
    await until(async () => !readdirSync(folder).includes('2'));
  });

  test('another encoding is read anew; pasted numbers are a column', async () => {
    const { db, desk } = await world(engine);
    await put(db, desk, 3, Buffer.from('Mobile,First\n207-555-0142,Zoë'));
    await desk.take(3);
    await desk.reread(3, { encoding: 'windows-1252' });
    const { rows } = await db.query<{ cells: string[] }>(`SELECT cells FROM import_row WHERE import_id = 3 ORDER BY row_no`);
    expect(rows[1].cells[1]).toBe('ZoÃ«');
    await put(db, desk, 4, '207-555-0142, 207-555-0143;2075550144', { pasted: true });
    await desk.take(4);
    expect((await staged(db, 4)).counts).toMatchObject({ new: 3 });
  });

  test('another delimiter is read anew, of a file and of pasted text, and stays when something else is chosen', async () => {
    const { db, desk } = await world(engine);
    await put(db, desk, 12, 'Mobile|First;Last\n207-555-0142|Ana;Reyes\n');
    await desk.take(12);
    await desk.reread(12, { delimiter: ';' });
    expect(await staged(db, 12)).toMatchObject({ state: 'open', facts: { headings: ['Mobile|First', 'Last'], delimiter: ';' } });
    await desk.reread(12, { delimiter: '|' });
    await desk.reread(12, { encoding: 'windows-1252' });
    expect(await staged(db, 12)).toMatchObject({
      facts: { headings: ['Mobile', 'First;Last'], delimiter: '|', encoding: 'windows-1252' },
    });
    await put(db, desk, 13, '207-555-0142, 207-555-0143', { pasted: true });
    await desk.take(13);
    await desk.reread(13, { delimiter: ',' });
    expect(await staged(db, 13)).toMatchObject({ row_count: 1, facts: { pasted: true, delimiter: ',' } });
  });

  test('rows are read in their thread; when that fails it is said, nothing can be decided, and the next change checks again', async () => {
    const thread = new RowThread();
    let dead = true;
    const { db, desk } = await world(engine, {
      read: (rules, rows) => (dead ? Promise.reject(new Error('silent')) : thread.read(rules, rows)),
      end: () => thread.end(),
    });
    await put(db, desk, 14, 'Mobile,First\n207-555-0142,Ana\n');
    await desk.take(14);
    expect(await staged(db, 14)).toMatchObject({ state: 'open', at_row: 0, facts: { failure: NOT_CHECKED } });
    const checked = async () =>
      (await db.query<{ v: number }>(`SELECT checked_version AS v FROM import WHERE id = 14`)).rows[0].v;
    expect(await checked()).toBe(0);
    dead = false;
    await desk.checkFor(14);
    await desk.settled(14);
    const { facts, counts } = await staged(db, 14);
    expect(facts.failure).toBeUndefined();
    expect(counts).toMatchObject({ new: 1 });
    expect(await checked()).toBeGreaterThan(0);
    await thread.end();
  });

  test('a database that is away for a moment leaves no import standing: what is undone and what is checked goes on by itself', async () => {
    const { db } = await world(engine);
    let away = 2;
    const gone = () => {
      away -= 1;
      return away >= 0 ? Promise.reject(new Error('Connection terminated unexpectedly')) : undefined;
    };
    const through: Db = {
      ...db,
      lane: () => through,
      query: (sql, params) => (sql.includes('at_row = 1') ? gone() : undefined) ?? db.query(sql, params),
      transaction: (work) => gone() ?? db.transaction(work),
    };
    const app = { db: through, clock: machineClock(), bus: new Bus(), log: pino({ level: 'silent' }) };
    const desk = new ImportDesk(app, folder, readHere, rowsReadHere());
    desk.retryAfter = 5;
    await db.query(
      `INSERT INTO import (id, file_name, state, facts, created_at, decided_at) VALUES (8, 'a', 'undoing', '{}', $1::timestamptz, $1::timestamptz)`,
      [AT],
    );
    desk.undo(8);
    // what was said of it goes right after it is undone
    await until(async () => {
      const { state, facts } = await staged(db, 8);
      return state === 'undone' && !('failure' in facts);
    });
    expect(away).toBeLessThan(0);
    expect((await staged(db, 8)).facts).toEqual({});

    away = 2;
    await put(db, desk, 9, 'Mobile\n(207) 555-0142\n');
    await desk.take(9);
    await until(async () => (await staged(db, 9)).counts.new === 1);
    expect(await staged(db, 9)).toMatchObject({ state: 'open', at_row: 0 });
  });

  test('the match used last for such headings is taken again, without fields that have gone', async () => {
    const { db, desk } = await world(engine);
    await db.query(`INSERT INTO field_def (slug, label, type) VALUES ('berth', 'berth', 'text')`);
    await rememberMatch(db, ['Nr', 'WHO', 'Platz', 'Gone'], ['number', 'full_name', 'field:berth', 'field:gone'], AT);
    await put(db, desk, 5, 'nr,Who,plätz,gone\n207-555-0142,Ana Reyes,A-1,x\n');
    await desk.take(5);
    expect(await staged(db, 5)).toMatchObject({
      settings: { match: ['number', 'full_name', 'field:berth', 'skip'] },
      facts: { notes: ['The columns are matched as last time.'] },
    });
  });

  test('a newer change stops the dry run before it; its counts are the ones that stay', async () => {
    const { db, desk } = await world(engine);
    const rows = Array.from(
      { length: 9000 },
      (_, i) => `207-${300 + Math.floor(i / 1000)}-${String(i % 1000).padStart(4, '0')},P${i}`,
    );
    await put(db, desk, 6, `Mobile,First\n${rows.join('\n')}`);
    await desk.take(6);
    const { settings } = await staged(db, 6);
    const change = (part: object) =>
      db.query(`UPDATE import SET settings = $1::jsonb, version = version + 1, at_row = 1 WHERE id = 6`, [
        JSON.stringify({ ...settings, ...part }),
      ]);
    await change({ last_row: 5000 });
    const first = desk.checkFor(6);
    await change({ last_row: 100 });
    const second = desk.checkFor(6);
    await Promise.all([first, second]);
    await desk.settled(6);
    expect(await staged(db, 6)).toMatchObject({ at_row: 0, counts: { new: 100 } });
  });

  test('after a restart reading and checking go on, and uploads that belong to nothing go', async () => {
    const { db, desk } = await world(engine);
    await put(db, desk, 7, 'Mobile,First\n207-555-0142,Ana\n');
    writeFileSync(join(folder, '999'), 'left over');
    await desk.resume();
    await until(async () => (await staged(db, 7)).state === 'open');
    await desk.settled(7);
    expect(await staged(db, 7)).toMatchObject({ state: 'open' });
    expect(readdirSync(folder)).not.toContain('999');
  });

  test('rows of files go when their import can no longer be undone; a file that a broadcast uses stays', async () => {
    const { db, desk } = await world(engine);
    for (const [id, state, days] of [
      [8, 'done', 40],
      [9, 'done', 2],
      [10, 'once', 40],
      [11, 'open', 40],
      [15, 'given_up', 0],
      [16, 'failed', 0],
    ] as const) {
      await db.query(
        `INSERT INTO import (id, file_name, state, created_at) VALUES ($1, 'a.csv', $2, now() - make_interval(days => $3::int))`,
        [id, state, days],
      );
      await db.query(`INSERT INTO import_row (import_id, row_no, cells) VALUES ($1, 0, '{a}')`, [id]);
    }
    // of an import that is gone altogether
    await db.query(`INSERT INTO import_row (import_id, row_no, cells) VALUES (17, 0, '{a}')`);
    await desk.prune();
    const { rows } = await db.query<{ id: number }>(`SELECT import_id AS id FROM import_row ORDER BY 1`);
    expect(rows.map((row) => row.id)).toEqual([9, 10, 11]);
  });
});
