import { chmodSync, lstatSync, mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

const FOLDER = 0o700;
const FILE = 0o600;
/** What this program keeps in its data folder; whatever else stands there is somebody else's, and only the folder closes it. */
const OURS = /^(?:db(?:\..*)?|uploads|carrier\..*)$/;

/**
 * The data folder is its owner's alone (0700, its files 0600): from here on all that this process and its children make is, and what was
 * made otherwise before is mended. Where the system knows no such rights (Windows), nothing is done.
 * @returns why something could not be closed to others, in a sentence; undefined when all is
 */
export function closeToOthers(folder: string): string | undefined {
  if (process.platform === 'win32') return undefined;
  process.umask(0o077);
  mkdirSync(folder, { recursive: true, mode: FOLDER });
  let open = 0;
  let first: string | undefined;
  const close = (path: string): void => {
    const stat = lstatSync(path);
    if (stat.isSymbolicLink()) return; // where it leads is somebody else's
    const right = stat.isDirectory() ? FOLDER : FILE;
    try {
      if ((stat.mode & 0o777 & ~right) !== 0) chmodSync(path, stat.mode & 0o777 & right);
    } catch (error) {
      open += 1;
      first ??= error instanceof Error ? error.message : String(error);
    }
    if (stat.isDirectory()) for (const name of readdirSync(path)) if (path !== folder || OURS.test(name)) close(join(path, name));
  };
  close(folder);
  return first === undefined
    ? undefined
    : `Others on this machine may read ${open} of the files in ${folder}: ${first}. Give the folder to the account that runs the server.`;
}
