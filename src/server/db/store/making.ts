import fs from 'node:fs';
import { dirname, join } from 'node:path';
import { syncPath } from './on-disk';

/**
 * A folder that is made in many steps, beside a mark that it is not yet whole. The mark is on disk before the first step, and goes only when
 * everything that was made is on disk: a power cut in between leaves a folder that is made anew, in which nothing was acknowledged.
 */
const markOf = (folder: string): string => `${folder.replace(/\/+$/, '')}.making`;

/** Syncs every file below the folder, every directory, and the folder itself. */
export function syncTree(folder: string): void {
  for (const entry of fs.readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) syncTree(path);
    else if (entry.isFile()) syncPath(path);
  }
  syncPath(folder);
}

/** Whether a store stands in the folder, whole. */
export function isMade(folder: string): boolean {
  return fs.existsSync(join(folder, 'PG_VERSION')) && !fs.existsSync(markOf(folder));
}

/**
 * Sets the mark; what an earlier making left unfinished goes.
 * @throws where something stands in the folder that no unfinished making left there: it may be a store that was damaged, and is not touched
 */
export function beginMaking(folder: string): void {
  const mark = markOf(folder);
  if (!fs.existsSync(mark) && fs.existsSync(folder) && fs.readdirSync(folder).length > 0)
    throw new Error(
      `The folder ${folder} is not empty, and holds no whole store (PG_VERSION is missing). Nothing in it was changed.`,
    );
  // each new directory on the way down is an entry of the one above it
  const made = fs.mkdirSync(dirname(mark), { recursive: true });
  fs.writeFileSync(mark, 'This folder is being made. If nothing is making it any more, it is made anew at the next start.\n', {
    mode: 0o600,
  });
  syncPath(mark);
  for (let at = dirname(mark); ; at = dirname(at)) {
    syncPath(at);
    if (made === undefined || at === dirname(made)) break;
  }
  fs.rmSync(folder, { recursive: true, force: true });
}

/** Everything made is put on disk, then the mark goes. */
export function endMaking(folder: string): void {
  syncTree(folder);
  const mark = markOf(folder);
  syncPath(dirname(mark));
  fs.rmSync(mark);
  syncPath(dirname(mark));
}
