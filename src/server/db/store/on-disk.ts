import fs from 'node:fs';
import { dirname } from 'node:path';

/** A file's data, or a directory's entries, are on disk when this returns (POSIX.1-2017, fsync). */
export function syncPath(path: string): void {
  const opened = fs.openSync(path, 'r');
  try {
    fs.fsyncSync(opened);
  } finally {
    fs.closeSync(opened);
  }
}

/** A file that is there whole and for good, or not at all; readable by its owner only. */
export function writeWhole(path: string, data: Uint8Array): void {
  const beside = `${path}.new`;
  fs.writeFileSync(beside, data, { mode: 0o600 });
  syncPath(beside);
  fs.renameSync(beside, path);
  syncPath(dirname(path));
}
