import fs from 'node:fs';
import { dirname, join } from 'node:path';

/**
 * A folder that is made in many steps, beside a mark that it is not yet whole. The mark is on disk before the first step, and goes only when
 * everything that was made is on disk: a power cut in between leaves a folder that is made anew, in which nothing was acknowledged.
 */
const markOf = (folder: string): string => `${folder.replace(/\/+$/, '')}.making`;

function synced(path: string): void {
  const opened = fs.openSync(path, 'r');
  try {
    fs.fsyncSync(opened);
  } finally {
    fs.closeSync(opened);
  }
}

/** Syncs every file below the folder, every directory, and the folder itself. */
export function syncTree(folder: string): void {
  for (const entry of fs.readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) syncTree(path);
    else if (entry.isFile()) synced(path);
  }
  synced(folder);
}

/** Whether a store stands in the folder, whole. */
export function isMade(folder: string): boolean {
  return fs.existsSync(join(folder, 'PG_VERSION')) && !fs.existsSync(markOf(folder));
}

/** Sets the mark; what an earlier making left unfinished goes. */
export function beginMaking(folder: string): void {
  const mark = markOf(folder);
  // each new directory on the way down is an entry of the one above it
  const made = fs.mkdirSync(dirname(mark), { recursive: true });
  fs.writeFileSync(mark, 'This folder is being made. If nothing is making it any more, it is made anew at the next start.\n', {
    mode: 0o600,
  });
  synced(mark);
  for (let at = dirname(mark); ; at = dirname(at)) {
    synced(at);
    if (made === undefined || at === dirname(made)) break;
  }
  fs.rmSync(folder, { recursive: true, force: true });
}

/** Everything made is put on disk, then the mark goes. */
export function endMaking(folder: string): void {
  syncTree(folder);
  const mark = markOf(folder);
  synced(dirname(mark));
  fs.rmSync(mark);
  synced(dirname(mark));
}
