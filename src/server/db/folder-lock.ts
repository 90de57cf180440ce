import { mkdirSync, readFileSync, renameSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** Thrown when another living process holds the data folder. The message is shown as it is. */
export class FolderHeld extends Error {
  constructor(
    readonly folder: string,
    readonly pid: number,
    since: string,
  ) {
    super(
      `The data folder ${folder} is in use by process ${pid} since ${since}. Nothing was opened or changed. Stop that process first, or use another folder.`,
    );
    this.name = 'FolderHeld';
  }
}

interface Holder {
  pid: number;
  /** Kernel start time of the process (field 22 of /proc/PID/stat), so that a reused pid is not mistaken for the holder. */
  started: string;
  since: string;
}

/** Field 22 of /proc/PID/stat, or '' where there is none (not Linux, or no such process). */
function processStart(pid: number): string {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
  } catch {
    return '';
  }
}

function alive(holder: Holder): boolean {
  try {
    process.kill(holder.pid, 0);
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
  return holder.started === '' || processStart(holder.pid) === holder.started;
}

function read(file: string): Holder | undefined {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Holder;
  } catch {
    return undefined;
  }
}

/**
 * Takes the lock beside the data folder. The embedded engine has none of its own: two processes on one folder
 * silently lose data, so whoever comes second must not open it at all.
 * @returns the function that gives the lock back
 * @throws FolderHeld when a living process has it
 */
export function takeFolderLock(folder: string, now: string): () => void {
  const file = `${folder.replace(/\/+$/, '')}.lock`;
  mkdirSync(dirname(file), { recursive: true });
  const mine: Holder = { pid: process.pid, started: processStart(process.pid), since: now };
  for (let attempt = 0; attempt < 5; attempt += 1) {
    try {
      writeFileSync(file, JSON.stringify(mine), { flag: 'wx' });
      const beat = setInterval(() => {
        try {
          utimesSync(file, new Date(), new Date());
        } catch {
          // the lock file was removed by hand; nothing to touch
        }
      }, 10_000);
      beat.unref();
      return () => {
        clearInterval(beat);
        const holder = read(file);
        if (holder?.pid === mine.pid && holder.started === mine.started) rmSync(file, { force: true });
      };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
    const holder = read(file);
    if (holder && alive(holder)) throw new FolderHeld(folder, holder.pid, holder.since);
    // Left behind by a process that died. Moving it aside is atomic, so of two newcomers only one gets past here.
    const aside = `${file}.dead-${process.pid}-${attempt}`;
    try {
      renameSync(file, aside);
      const moved = read(aside);
      if (holder && moved && (moved.pid !== holder.pid || moved.started !== holder.started)) {
        renameSync(aside, file); // a newcomer was faster and this was its fresh lock
        throw new FolderHeld(folder, moved.pid, moved.since);
      }
      rmSync(aside, { force: true });
    } catch (error) {
      if (error instanceof FolderHeld) throw error;
      // someone else moved it first; look again
    }
  }
  throw new Error(`The lock ${file} could not be taken.`);
}
