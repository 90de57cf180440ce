import { PGlite } from '@electric-sql/pglite';
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm';
import { beginMaking, endMaking, isMade } from './making';
import { SyncedFolder } from './synced-folder';

/** After so many octets in the log the engine is asked for a checkpoint: a start after a crash reads no more than that and one transaction. */
const CHECKPOINT_AFTER = 32 * 1024 * 1024;
/** Where a checkpoint was refused (the disk is full), the next try comes after so many more. */
const TRY_AGAIN_AFTER = 4 * 1024 * 1024;

export interface StoreOptions {
  /** Left out: in memory, gone with the thread. */
  dataDir?: string;
  /** What a new store begins with. */
  snapshot?: Uint8Array<ArrayBuffer>;
  /** There must be one: nothing is made. */
  there?: boolean;
  /** A new store stays marked as not yet whole: whoever fills it ends that (endMaking). */
  unfinished?: boolean;
  /** Called with the engine's last words when it can go on no more. It must not return: the thread ends there. */
  lost: (words: string) => never;
}

export interface Store {
  pg: PGlite;
  /** Writes what is changed to its place and lets go of the log, where enough has come together. Never within a transaction. */
  tidy(): Promise<void>;
}

/**
 * Opens the embedded engine on a folder so that what it says is committed is on disk: without the package's `-F` (PostgreSQL's fsync = off),
 * and with `wal_sync_method = fsync`, since the engine's fdatasync is an empty stub and O_DSYNC is dropped on the way. One fdatasync a commit.
 * @throws where `there` is asked and nothing is, and what the engine throws
 */
export async function openStore({ dataDir, snapshot, there, unfinished, lost }: StoreOptions): Promise<Store> {
  const loadDataDir = snapshot ? new Blob([snapshot]) : undefined;
  const words = new LastWords(lost);
  const shared = { extensions: { pg_trgm }, onStderr: (line: string) => words.heard(line) };
  if (dataDir === undefined) return { pg: await PGlite.create({ ...shared, loadDataDir }), tidy: () => Promise.resolve() };
  const making = !isMade(dataDir);
  if (making && there) throw new Error(`The folder ${dataDir} is not there any more.`);
  if (making) beginMaking(dataDir);
  const folder = new SyncedFolder(dataDir);
  const pg = await PGlite.create({
    ...shared,
    fs: folder,
    loadDataDir: making ? loadDataDir : undefined,
    startParams: [...PGlite.defaultStartParams.filter((param) => param !== '-F'), '-c', 'wal_sync_method=fsync'],
  }).catch((error: unknown) => {
    throw words.last === undefined ? error : new Error(words.last);
  });
  if (making && !unfinished) endMaking(dataDir);
  return { pg, tidy: tidying(pg, folder) };
}

function tidying(pg: PGlite, folder: SyncedFolder): () => Promise<void> {
  let after = CHECKPOINT_AFTER;
  return async () => {
    if (folder.logged() < after || pg.closed || pg.isInTransaction()) return;
    try {
      // the engine makes none by itself: in single-user mode only its end does
      await pg.exec('CHECKPOINT');
      folder.beginAnew();
      after = CHECKPOINT_AFTER;
    } catch {
      // everything is in the log as before; whoever commits next hears it where nothing can be written
      after = folder.logged() + TRY_AGAIN_AFTER;
    }
  };
}

/**
 * What the engine says as it goes down. After a panic (the log could not be written or synced) it must not be asked again: the package catches
 * the abort and goes on with what is left in memory, of which nobody knows what is on disk.
 */
class LastWords {
  last: string | undefined;

  constructor(private readonly lost: (words: string) => never) {}

  heard(line: string): boolean {
    const said = /\b(FATAL|PANIC): {2}(.*)/.exec(line);
    if (said) this.last = said[2];
    if (said?.[1] === 'PANIC') this.lost(said[2]);
    return true;
  }
}
