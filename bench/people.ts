import { once } from 'node:events';
import { createWriteStream, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import { deflateRawSync } from 'node:zlib';
import ExcelJS from 'exceljs';
import Papa from 'papaparse';
import { pino } from 'pino';
import type { Condition } from '../src/core/audience/condition';
import { machineClock } from '../src/server/clock';
import type { Db, Param } from '../src/server/db/db';
import { openEmbedded } from '../src/server/db/embedded';
import { preparedSnapshot } from '../src/server/db/snapshot';
import { Bus } from '../src/server/desk/bus';
import { makeWorkspace } from '../src/server/engine/testing/world';
import { openTable } from '../src/server/files/open-table';
import { rollForward } from '../src/server/people/imports/bring-in';
import { dryRun } from '../src/server/people/imports/dry-run';
import { indexField } from '../src/server/people/groups/field-index';
import { ImportDesk } from '../src/server/people/imports/import-desk';
import { countPeople, pageOfPeople } from '../src/server/people/people-queries';
import { PLAIN_SETTINGS } from '../src/server/people/testing';
import { median, race, say, sink, timed, sayMemory, sayWaits } from './figures';
import { forget, onDisk, spent, type Cpu, type OnDisk } from './on-disk';

/** Bringing in, finding and asking about many people, on the embedded engine. */
const NAMES = ['Marisol', 'Henrik', 'Inès', 'Dao', 'Maximiliano', 'Léonie', 'Jo'];
const LANDINGS = ['North Landing', 'Mill Quay', 'Pine Point', 'Upper Saltmarsh Landing'];
const MATCH = ['number', 'given_name', 'family_name', 'field:home_landing'];

/** The nth number: valid in North America, for a million of them. */
const numberOf = (n: number) =>
  `(${207 + (n >= 7_000_000 ? 1 : 0)}) ${String(200 + Math.floor((n % 7_000_000) / 10_000)).padStart(3, '0')}-${String(n % 10_000).padStart(4, '0')}`;
const rowOf = (i: number) => [numberOf(i), NAMES[i % 7], `Okafor${i}`, LANDINGS[i % 4]];

export async function csvFile(folder: string, rows: number, first = 0): Promise<string> {
  const path = join(folder, `${rows}-${first}.csv`);
  const out = createWriteStream(path);
  out.write('Mobile,First,Last,Landing\n');
  for (let from = 0; from < rows; from += 10_000) {
    const lines = Array.from({ length: Math.min(10_000, rows - from) }, (_, i) => rowOf(first + from + i).join(','));
    if (!out.write(`${lines.join('\n')}\n`)) await once(out, 'drain');
  }
  out.end();
  await finished(out);
  return path;
}

const readAll = async (path: string) => {
  let rows = 0;
  for await (const batch of (await openTable(path)).rows()) rows += batch.length;
  sink.value += rows;
  return rows;
};

async function freshDb(dataDir?: string): Promise<Db> {
  const db = await openEmbedded({ dataDir, snapshot: await preparedSnapshot('.cache', '0.5.16') });
  await makeOffice(db);
  return db;
}

async function makeOffice(db: Db): Promise<void> {
  await makeWorkspace(db);
  await db.query(
    `INSERT INTO field_def (about, slug, label, type) VALUES ('person', 'home_landing', 'home landing', 'choice'), ('person', 'pass_ends', 'pass ends', 'date')`,
  );
}

/** Reading files: CSV against the bare parser, XLSX by the clock, a bomb refused. */
export async function files(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bench-files-'));
  const csv = await csvFile(folder, 100_000);
  const [ours, theirs] = await race(
    5,
    () => readAll(csv),
    () => {
      sink.value += Papa.parse<string[]>(readFileSync(csv, 'utf8')).data.length;
    },
  );
  say({
    name: 'CSV of 100,000 rows, file to rows',
    value: 100_000 / (ours / 1000),
    unit: 'rows/s',
    against: 'bare parser',
    ratio: theirs / ours,
    bar: '0.6',
  });

  const xlsx = join(folder, 'people.xlsx');
  const book = new ExcelJS.stream.xlsx.WorkbookWriter({ filename: xlsx, useSharedStrings: true });
  const sheet = book.addWorksheet('People');
  sheet.addRow(['Mobile', 'First', 'Last', 'Landing', 'Ends', 'Paid', 'Note', 'Id']).commit();
  for (let i = 0; i < 100_000; i += 1)
    sheet.addRow([12_072_000_000 + i, NAMES[i % 7], `Okafor${i}`, LANDINGS[i % 4], '2027-03-09', true, `note ${i}`, i]).commit();
  await book.commit();
  const before = process.memoryUsage().rss;
  let most = before;
  const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
  const took = await timed(() => readAll(xlsx));
  clearInterval(watch);
  say({
    name: 'XLSX of 100,000 × 8, file to rows',
    value: took / 1000,
    unit: 's',
    against: '6 s',
    ratio: took / 6000,
    bar: '≤ 1',
  });
  say({
    name: 'memory that reading it took',
    value: (most - before) / 1e6,
    unit: 'MB',
    against: '300 MB',
    ratio: (most - before) / 300e6,
    bar: '≤ 1',
  });

  const bomb = join(folder, 'bomb.xlsx');
  writeFileSync(bomb, zipOf('xl/worksheets/sheet1.xml', deflateRawSync(Buffer.alloc(400 << 20, 32)), 400 << 20));
  let said = '';
  const refused = await timed(() => readAll(bomb).catch((error: Error) => (said = error.message)));
  if (!/unpacks|workbook/.test(said)) throw new Error(`the bomb was not refused: ${said}`);
  say({
    name: 'a zip bomb of 400 MB refused',
    value: refused / 1000,
    unit: 's',
    against: '1 s',
    ratio: refused / 1000,
    bar: '≤ 1',
  });
  rmSync(folder, { recursive: true });
}

/** A workbook of one part that unpacks to `size` bytes, beside the little that makes it a workbook. */
function zipOf(name: string, packed: Buffer, size: number): Buffer {
  const plain: [string, Buffer, Buffer, number][] = [
    [
      'xl/workbook.xml',
      Buffer.from('<workbook xmlns:r="r"><sheets><sheet name="A" r:id="r1"/></sheets></workbook>'),
      Buffer.alloc(0),
      0,
    ],
    [
      'xl/_rels/workbook.xml.rels',
      Buffer.from('<Relationships><Relationship Id="r1" Type="x/worksheet" Target="worksheets/sheet1.xml"/></Relationships>'),
      Buffer.alloc(0),
      0,
    ],
  ];
  const entries = [
    ...plain.map(([n, raw]) => ({ n, data: deflateRawSync(raw), size: raw.length })),
    { n: name, data: packed, size },
  ];
  const parts: Buffer[] = [];
  const central: Buffer[] = [];
  let offset = 0;
  for (const { n, data, size: whole } of entries) {
    const local = Buffer.alloc(30);
    local.writeUInt32LE(0x04034b50, 0);
    local.writeUInt16LE(20, 4);
    local.writeUInt16LE(8, 8);
    local.writeUInt32LE(data.length, 18);
    local.writeUInt32LE(whole, 22);
    local.writeUInt16LE(n.length, 26);
    const entry = Buffer.alloc(46);
    entry.writeUInt32LE(0x02014b50, 0);
    entry.writeUInt16LE(20, 6);
    entry.writeUInt16LE(8, 10);
    entry.writeUInt32LE(data.length, 20);
    entry.writeUInt32LE(whole, 24);
    entry.writeUInt16LE(n.length, 28);
    entry.writeUInt32LE(offset, 42);
    parts.push(local, Buffer.from(n), data);
    central.push(entry, Buffer.from(n));
    offset += 30 + n.length + data.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(entries.length, 8);
  end.writeUInt16LE(entries.length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...parts, directory, end]);
}

async function decide(db: Db, id: number): Promise<void> {
  await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'Bench', now()) ON CONFLICT DO NOTHING`);
  await db.query(`UPDATE import SET state = 'writing', written_row = -1, facts = facts || '{"list_id":1}' WHERE id = $1`, [id]);
}

/** Everything from the file to committed people, as the import desk does it. */
async function bringIn(db: Db, id: number, csv: string, step: (name: string, work: () => Promise<unknown>) => Promise<void>) {
  const settings = { ...PLAIN_SETTINGS, match: MATCH, list: 'Bench' };
  await db.query(
    `INSERT INTO import (id, file_name, state, settings, facts, written_row, created_at) VALUES ($1, 'bench.csv', 'open', $2::jsonb, '{}', -1, $3::timestamptz)`,
    [id, JSON.stringify(settings), new Date().toISOString()],
  );
  await step('read and stage', async () => {
    for await (const batch of (await openTable(csv)).rows())
      await db.copyIn('import_row', ['import_id', 'row_no', 'cells'], [batch.map((row) => [id, row.no, row.cells])]);
  });
  await step('dry run', async () => {
    await db.query(`UPDATE import SET counts = $2::jsonb WHERE id = $1`, [id, JSON.stringify(await dryRun(db, id, settings))]);
  });
  await decide(db, id);
  await step('bring in', () => rollForward(db, machineClock(), new Bus(), id));
}

/** An import of 100,000 rows from the file to committed people, against COPY of the same rows into every table they end in; then 200 into 200,000. */
export async function imports(): Promise<void> {
  const store = await onDisk();
  const { db, folder } = store;
  await makeOffice(db);
  const csv = await csvFile(folder, 100_000);
  const whole = { wall: 0, database: 0, process: 0 };
  const step = async (name: string, work: () => Promise<unknown>) => {
    const took = await spent(store, work);
    for (const key of ['wall', 'database', 'process'] as const) whole[key] += took[key];
    process.stdout.write(
      `  ${name.padEnd(20)} ${(took.wall / 1000).toFixed(1)} s, ${(took.database / 1000).toFixed(1)} s of the database’s thread\n`,
    );
  };
  await bringIn(db, 1, csv, step);
  const floor = await copyAgain(store);
  say({
    name: 'import of 100,000 rows, file to committed people',
    value: whole.wall / 1000,
    unit: 's',
    against: 'bare COPY',
    ratio: whole.wall / floor.wall,
    bar: '≤ 3',
  });
  say({
    name: 'processor of the database’s thread for it',
    value: whole.database / 1000,
    unit: 's',
    against: 'bare COPY',
    ratio: whole.database / floor.database,
    bar: '—',
  });
  // another hundred thousand, and then a few more
  await db.query(
    `INSERT INTO person (given_name, family_name, number, number_country, number_kind, fields, folded, search, sort_name, created_at, updated_at)
     SELECT given_name, family_name, '+1' || (3072000000 + id), 'US', 'either', fields, folded, search, sort_name, created_at, updated_at FROM person WHERE id IN (SELECT id FROM person ORDER BY id LIMIT 100000)`,
  );
  await db.exec('VACUUM (ANALYZE) person');
  const few = await csvFile(folder, 200, 5_000_000);
  const times: number[] = [];
  for (const id of [2, 3, 4]) {
    const began = performance.now();
    await bringIn(
      db,
      id,
      id === 2 ? few : await csvFile(folder, 200, 5_000_000 + id * 1000),
      async (_, work) => void (await work()),
    );
    times.push(performance.now() - began);
  }
  say({
    name: 'import of 200 rows into 200,000 people',
    value: Math.min(...times) / 1000,
    unit: 's',
    against: '0.4 s',
    ratio: Math.min(...times) / 400,
    bar: '≤ 1',
  });
  await store.close();
  forget(folder);
}

/** The floor: bare COPY of the finished rows into all the tables they are in now, emptied, with their indexes; the best of two. */
async function copyAgain(store: OnDisk): Promise<Cpu & { wall: number }> {
  const { db } = store;
  const tables = ['import_row', 'import_verdict', 'person', 'list_member', 'import_change', 'import_touch'];
  const kept: [string, string[], Param[][]][] = [];
  for (const table of tables) {
    const columns = (
      await db.query<{ name: string; type: string }>(
        `SELECT attname AS name, format_type(atttypid, atttypmod) AS type FROM pg_attribute WHERE attrelid = $1::regclass AND attnum > 0 AND NOT attisdropped ORDER BY attnum`,
        [table],
      )
    ).rows;
    const { rows } = await db.query<Record<string, Param>>(
      `SELECT ${columns.map((c) => (c.type === 'jsonb' ? `${c.name}::text AS ${c.name}` : c.name)).join(', ')} FROM ${table}`,
    );
    kept.push([table, columns.map((c) => c.name), rows.map((row) => columns.map((c) => row[c.name]))]);
  }
  let best: (Cpu & { wall: number }) | undefined;
  for (let round = 0; round < 2; round += 1) {
    await db.exec(`TRUNCATE ${tables.join(', ')} CASCADE`);
    const took = await spent(store, async () => {
      for (const [table, columns, rows] of kept) await db.copyIn(table, columns, [rows]);
    });
    if (!best || took.wall < best.wall) best = took;
  }
  if (!best) throw new Error('Nothing was copied.');
  return best;
}

/** A million people, made in the database, to be asked about. */
export async function million(): Promise<void> {
  const db = await freshDb();
  const made = await timed(async () => {
    for (let from = 0; from < 1_000_000; from += 100_000)
      await db.query(
        `INSERT INTO person (given_name, family_name, number, number_country, number_kind, fields, folded, search, sort_name, created_at, updated_at)
         SELECT g, f, num, 'US', 'either', jsonb_build_object('home_landing', l, 'pass_ends', e), jsonb_build_object('given_name', lower(g), 'family_name', lower(f), 'home_landing', lower(l), 'pass_ends', e, 'number', num, 'kind', 'either', 'country', 'us'),
           lower(g || ' ' || f) || ' | ' || num, lower(f || ' ' || g), '2026-01-01', '2026-01-01'
         FROM (SELECT (ARRAY['Marisol','Henrik','Ines','Dao','Leonie'])[1 + n % 5] AS g, 'Okafor' || n AS f, '+1' || (2072000000 + n) AS num,
             (ARRAY['North Landing','Mill Quay','Pine Point','Upper Saltmarsh Landing'])[1 + n % 4] AS l, (date '2026-06-01' + (n % 365))::text AS e FROM generate_series($1::int, $1::int + 99999) AS n) AS made`,
        [from],
      );
    await indexField(db, 'pass_ends', 'date');
    await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'Crew', '2026-01-01')`);
    await db.query(`INSERT INTO list_member (list_id, person_id) SELECT 1, id FROM person WHERE id % 50 = 0`);
    await db.exec('VACUUM (ANALYZE) person');
    await db.exec('ANALYZE list_member');
  });
  process.stdout.write(`  a million people made in ${(made / 1000).toFixed(0)} s\n`);
  const today = { day: '2026-12-02', zone: 'America/New_York' };
  const rule: Condition = {
    op: 'all',
    of: [
      { on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay'] },
      { on: 'field', field: 'pass_ends', test: 'next_days', days: 30 },
      { op: 'none', of: [{ on: 'list', ids: [1] }] },
    ],
  };
  let n = 0;
  const [ours, hand] = await race(
    5,
    async () => {
      n = await countPeople(db, { rule }, today);
    },
    () =>
      db.query(
        `SELECT count(*) FROM person WHERE (folded - '{number,given_name,family_name,reference}'::text[]) @> '{"home_landing":"mill quay"}' AND (folded->>'pass_ends') COLLATE "C" BETWEEN '2026-12-02' AND '2027-01-01'
         AND NOT EXISTS (SELECT 1 FROM list_member WHERE list_id = 1 AND person_id = person.id)`,
      ),
  );
  if (n < 1000) throw new Error(`the segment is too small: ${n}`);
  say({
    name: `count of a three-condition segment over 1,000,000 (${n.toLocaleString('en-US')})`,
    value: ours,
    unit: 'ms',
    against: '350 ms',
    ratio: ours / 350,
    bar: '≤ 1',
  });
  say({
    name: 'the same against hand-written SQL',
    value: ours,
    unit: 'ms',
    against: 'hand-written',
    ratio: ours / hand,
    bar: '≤ 1.5',
  });
  const warm = async (name: string, bar: number, work: () => Promise<unknown>) => {
    const times: number[] = [];
    for (let i = 0; i < 5; i += 1) times.push(await timed(work));
    const ms = median(times);
    say({ name, value: ms, unit: 'ms', against: `${bar} ms`, ratio: ms / bar, bar: '≤ 1' });
  };
  const order = { by: 'name', down: false };
  await warm('find by part of a name, first page', 150, () =>
    pageOfPeople(db, { search: 'okafor7777' }, order, undefined, 100, today),
  );
  await warm('find by seven digits of a number, first page', 150, () =>
    pageOfPeople(db, { search: '2771234' }, order, undefined, 100, today),
  );
  await warm('find six digits that 10,000 numbers share, first page', 150, () =>
    pageOfPeople(db, { search: '207277' }, order, undefined, 100, today),
  );
  await warm('find a frequent name, first page', 150, () =>
    pageOfPeople(db, { search: 'marisol' }, order, undefined, 100, today),
  );
  const [last] = (await pageOfPeople(db, {}, order, undefined, 100, today)).slice(-1);
  await warm('the next page of everyone', 100, () => pageOfPeople(db, {}, order, { key: last.key, id: last.id }, 100, today));
  await warm('how many there are in all', 250, () => countPeople(db, {}, today));
  await db.close();
}

/** A million rows, from the file to committed people, through the same road as any import; memory and others' waiting watched. */
export async function millionRows(): Promise<void> {
  // BENCH_ROWS makes it shorter, for a look at the waiting alone
  const ROWS = Number(process.env.BENCH_ROWS ?? 1_000_000);
  const folder = mkdtempSync(join(tmpdir(), 'bench-million-'));
  const csv = await csvFile(folder, ROWS);
  // on disk, as the server has it; in memory the data itself would be counted
  const db = await freshDb(join(folder, 'db'));
  const bus = new Bus();
  const clock = machineClock();
  const desk = new ImportDesk({ db, clock, bus, log: pino({ level: 'silent' }) }, folder);
  await db.query(
    `INSERT INTO import (id, file_name, state, facts, created_at) VALUES (1, 'million.csv', 'reading', '{"headings":[],"notes":[]}', now())`,
  );
  writeFileSync(desk.pathOf(1), readFileSync(csv));
  const rss: number[] = [];
  const waits: number[] = [];
  let on = true;
  // someone at the desk meanwhile: asks for a page of people every tenth of a second
  const someone = (async () => {
    while (on) {
      waits.push(await timed(() => db.query(`SELECT id, given_name FROM person ORDER BY sort_name, id LIMIT 50`)));
      rss.push(process.memoryUsage().rss / 1e6);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  })();
  const state = async () =>
    (await db.query<{ state: string; at_row: number }>(`SELECT state, at_row FROM import WHERE id = 1`)).rows[0];
  const took = await timed(async () => {
    await desk.take(1);
    for (let s = await state(); s.state !== 'open' || s.at_row > 0; s = await state())
      await new Promise((resolve) => setTimeout(resolve, 200));
    await decide(db, 1);
    await rollForward(db, clock, bus, 1);
  });
  on = false;
  await someone;
  const n = await countPeople(db, {}, { day: '2026-12-02', zone: 'America/New_York' });
  if (n !== ROWS) throw new Error(`${n} people came of ${ROWS} rows`);
  say({
    name: `import of ${ROWS.toLocaleString('en-US')} rows, file to committed people`,
    value: took / 1000,
    unit: 's',
    against: '1,000 rows/s',
    ratio: ROWS / took,
    bar: 'completes',
  });
  sayMemory('memory while that went on, at most', rss);
  sayWaits(waits);
  await db.close();
  rmSync(folder, { recursive: true });
}
