import { cpSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, inject, test } from 'vitest';
import { Dice } from '../../../core/line/simulator/dice';
import { preparedSnapshot } from '../snapshot';
import { rounds } from '../testing/rounds';
import { openStore } from './store';
import { Commits, stateOf, type State } from './testing/commits';
import { unsynced } from './testing/recorded-disk';
import { roomForImages } from './testing/room';

/** PostgreSQL's documentation, 30.6 WAL internals: a segment has 16 MB, a page 8 kB. */
const [SEGMENT, PAGE] = [16 * 1024 * 1024, 8192];

const lost = (words: string): never => {
  throw new Error(words);
};

test('a log that is cut anywhere in its last page holds every commit before the cut', async () => {
  const folder = mkdtempSync(join(roomForImages(), 'bell-cut-'));
  const root = join(folder, 'db');
  const snapshot = (await preparedSnapshot(inject('snapshotFolder'), inject('pgliteVersion'))) as Uint8Array<ArrayBuffer>;
  const store = await openStore({ dataDir: root, snapshot, lost });
  const commits = new Commits(store.pg, new Dice(1));
  await commits.begin();
  await store.pg.exec('CHECKPOINT');
  const ended: { lsn: number; state: State }[] = [];
  let file = '';
  const note = async (state: State) => {
    const { rows } = await store.pg.query<{ lsn: number; file: string }>(
      `SELECT (pg_current_wal_lsn() - '0/0')::float8 AS lsn, pg_walfile_name(pg_current_wal_lsn()) AS file`,
    );
    ended.push({ lsn: rows[0].lsn, state });
    file = rows[0].file;
  };
  await note(commits.state);
  // small commits, so that several end in the last page
  for (let n = 1; n <= 40; n += 1) {
    await store.pg.exec(`BEGIN; INSERT INTO kept VALUES (${n}, ${n}, 'w'); UPDATE progress SET commits = commits + 1; COMMIT`);
    await note({ commits: n, rows: n, sum: (n * (n + 1)) / 2, bulk: 0, tables: [] });
  }
  const image = join(folder, 'image');
  cpSync(root, image, { recursive: true });
  await store.pg.close();
  const wal = readFileSync(join(image, 'pg_wal', file));
  const end = ended[ended.length - 1].lsn;
  const page = Math.floor((end - 1) / PAGE) * PAGE;
  const dice = new Dice(8192);
  for (let n = 0; n < rounds(6, 250); n += 1) {
    const cut = n === 0 ? end : dice.between(page, end);
    const at = cut % SEGMENT;
    const into = join(folder, `cut-${n}`);
    cpSync(image, into, { recursive: true });
    const path = join(into, 'pg_wal', file);
    // what is behind is zeros, or the file ends there
    if (n % 2 === 0) writeFileSync(path, Buffer.concat([wal.subarray(0, at), Buffer.alloc(wal.length - at)]));
    else truncateSync(path, at);
    const found = await unsynced(async () => {
      const opened = await openStore({ dataDir: into, there: true, lost });
      const state = await stateOf(opened.pg);
      await opened.pg.close();
      return state;
    });
    // of a file that ends within a page the whole page cannot be read; the segments are made in their full size so that none does
    const readable = n % 2 === 0 ? cut : page;
    // what ends in zeros is whole before its last octet
    const whole = (lsn: number) =>
      lsn <= readable || (n % 2 === 0 && wal.subarray(at, at + lsn - cut).every((octet) => octet === 0));
    expect(found, `cut at ${cut}, of ${end}`).toEqual(ended.findLast(({ lsn }) => whole(lsn))?.state);
    rmSync(into, { recursive: true });
  }
  rmSync(folder, { recursive: true });
});
