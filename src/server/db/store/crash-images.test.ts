import { cpSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, expect, inject, test } from 'vitest';
import { Dice } from '../../../core/line/simulator/dice';
import { preparedSnapshot } from '../snapshot';
import { rounds } from '../testing/rounds';
import { openStore } from './store';
import { Commits, stateOf, type State } from './testing/commits';
import { crashImage, LOSSES, tree } from './testing/crash-image';
import { RecordedDisk, unsynced } from './testing/recorded-disk';
import { roomForImages } from './testing/room';

/**
 * Power cuts. The source of what the engine asks of a disk is PostgreSQL's documentation (30.1 Reliability, 30.5 WAL configuration); of what
 * a disk keeps, POSIX.1-2017 fsync and fdatasync. Everything that was written and synced is recorded, then put together again as a disk
 * may hold it after a cut at any moment: each image opens, and holds exactly what was committed, the one commit under way with it or not.
 */
const folder = mkdtempSync(join(roomForImages(), 'bell-images-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const lost = (words: string): never => {
  throw new Error(words);
};
const snapshot = async () =>
  (await preparedSnapshot(inject('snapshotFolder'), inject('pgliteVersion'))) as Uint8Array<ArrayBuffer>;

interface Told {
  /** How much was done when it was said. */
  at: number;
  state: State;
}

/** What may stand in an image of a moment: the last acknowledged state, or the one whose commit was under way. */
function mayBe(moment: number, begun: readonly Told[], acknowledged: readonly Told[]): (State | undefined)[] {
  const sure = acknowledged.findLast(({ at }) => at <= moment)?.state;
  const next = begun.findLast(({ at }) => at <= moment)?.state;
  return next && next.commits > (sure?.commits ?? -1) ? [sure, next] : [sure];
}

test('after a power cut everything that was committed is there, and nothing by halves', async () => {
  const [root, kept] = [join(folder, 'data'), join(folder, 'kept')];
  const first = await openStore({ dataDir: join(root, 'db'), snapshot: await snapshot(), lost });
  await new Commits(first.pg, new Dice(1)).begin();
  await first.pg.close();
  cpSync(root, kept, { recursive: true });
  const before = { root, files: tree(root).files };
  const disk = new RecordedDisk(root, before.files);
  const [begun, acknowledged]: [Told[], Told[]] = [[], []];
  try {
    const store = await openStore({ dataDir: join(root, 'db'), lost });
    const commits = new Commits(store.pg, new Dice(25));
    acknowledged.push({ at: 0, state: commits.state });
    for (let n = 0; n < rounds(150, 400); n += 1) {
      await commits.one(
        (state) => begun.push({ at: disk.done.length, state }),
        (state) => acknowledged.push({ at: disk.done.length, state }),
      );
      await store.tidy();
    }
    await store.pg.close();
  } finally {
    disk.end();
  }
  const dice = new Dice(2_026);
  for (let image = 0; image < rounds(16, 480); image += 1) {
    const moment = dice.between(0, disk.done.length);
    const loss = LOSSES[image % LOSSES.length];
    const into = join(folder, `image-${image}`);
    crashImage(before, kept, disk.done.slice(0, moment), loss, dice, into);
    const which = `image ${image}, ${loss}, at ${moment} of ${disk.done.length}`;
    const found = await unsynced(async () => {
      const store = await openStore({ dataDir: join(into, 'db'), there: true, lost });
      const state = await stateOf(store.pg);
      // and it goes on from there
      await store.pg.exec(`INSERT INTO bulk (worth, words) VALUES (1, 'after')`);
      await store.pg.close();
      return state;
    });
    expect(mayBe(moment, begun, acknowledged), which).toContainEqual(found);
    rmSync(into, { recursive: true });
  }
});

test('a power cut during the first start leaves a store, or none that anybody relied upon', async () => {
  const [root, kept] = [join(folder, 'new'), join(folder, 'nothing')];
  mkdirSync(kept);
  const disk = new RecordedDisk(root, []);
  let there = Infinity;
  try {
    const store = await openStore({ dataDir: join(root, 'db'), snapshot: await snapshot(), lost });
    await store.pg.exec(`CREATE TABLE first (n int); INSERT INTO first VALUES (1)`);
    there = disk.done.length;
    await store.pg.close();
  } finally {
    disk.end();
  }
  const dice = new Dice(2_027);
  for (let image = 0; image < rounds(4, 20); image += 1) {
    const moment = image % 4 === 0 ? there : dice.between(0, disk.done.length);
    const into = join(folder, `new-${image}`);
    crashImage({ root, files: [] }, kept, disk.done.slice(0, moment), LOSSES[image % LOSSES.length], dice, into);
    const found = await unsynced(async () => {
      const store = await openStore({ dataDir: join(into, 'db'), snapshot: await snapshot(), lost });
      const { rows } = await store.pg.query<{ first: number; migrations: number }>(
        `SELECT (SELECT count(*)::int FROM pg_class WHERE relname = 'first') AS first, (SELECT count(*)::int FROM migration) AS migrations`,
      );
      await store.pg.close();
      return rows[0];
    });
    if (moment >= there) expect(found.first, `image ${image} at ${moment} of ${disk.done.length}`).toBe(1);
    // what the snapshot holds, whole
    expect(found.migrations).toBeGreaterThan(30);
    rmSync(into, { recursive: true });
  }
});
