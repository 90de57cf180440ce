import fs from 'node:fs';
import { syncBuiltinESMExports } from 'node:module';
import { dirname } from 'node:path';

/** What was done to a folder, one after the other. A file keeps its number when it is given another name. */
export type Done =
  | { kind: 'create'; path: string; file: number }
  | { kind: 'rename'; from: string; to: string }
  | { kind: 'unlink'; path: string }
  | { kind: 'mkdir'; path: string }
  | { kind: 'rmdir'; path: string }
  | { kind: 'write'; file: number; at: number; data: Uint8Array }
  | { kind: 'size'; file: number; size: number }
  /** The file's data are on disk, and of the names everything up to the change with that number (-1: none). */
  | { kind: 'sync'; file: number; names: number }
  | { kind: 'sync folder'; names: number };

const NAMES = new Set<Done['kind']>(['create', 'rename', 'unlink', 'mkdir', 'rmdir']);
/** Whether it changes which names there are. */
export const isOfNames = (done: Done): boolean => NAMES.has(done.kind);

type Work = (...args: never[]) => unknown;

/** Lets nothing be synced while it works: an image that was put together is opened, and what becomes of it afterwards is no matter. */
export async function unsynced<T>(work: () => Promise<T>): Promise<T> {
  const real = { fsyncSync: fs.fsyncSync, fdatasyncSync: fs.fdatasyncSync };
  Object.assign(fs, { fsyncSync: () => undefined, fdatasyncSync: () => undefined });
  syncBuiltinESMExports();
  try {
    return await work();
  } finally {
    Object.assign(fs, real);
    syncBuiltinESMExports();
  }
}

/**
 * Records every write and sync below a folder by standing before Node's `fs`, which is all that the embedded engine in this process has of
 * a disk. Of reads nothing is kept.
 */
export class RecordedDisk {
  readonly done: Done[] = [];
  private readonly names = new Map<string, number>();
  private readonly opened = new Map<number, { file: number } | { folder: string }>();
  private readonly real = new Map<string, Work>();
  private next = 0;

  constructor(
    private readonly root: string,
    /** The files that are there before anything is recorded, by their numbers. */
    before: readonly string[],
  ) {
    for (const path of before) this.names.set(path, this.next++);
    this.stand();
  }

  /** The folder is no longer watched. */
  end(): void {
    for (const [name, work] of this.real) (fs as unknown as Record<string, Work>)[name] = work;
    syncBuiltinESMExports();
  }

  private stand(): void {
    const within = (path: unknown): path is string => typeof path === 'string' && path.startsWith(this.root);
    this.before('openSync', (result, path) => {
      if (!within(path)) return;
      const file = this.names.get(path);
      this.opened.set(result as number, file === undefined ? { folder: path } : { file });
    });
    this.before('closeSync', (_, fd) => this.opened.delete(fd as number));
    this.before('writeFileSync', (_, path, words) => {
      if (!within(path)) return;
      const file = this.fileOf(path);
      const data = Buffer.from(words as string);
      if (data.length > 0) this.done.push({ kind: 'write', file, at: 0, data });
    });
    this.before('writeSync', (result, fd, buffer, offset, _length, position) => {
      const at = this.opened.get(fd as number);
      if (!at || !('file' in at)) return;
      const from = buffer as Uint8Array;
      const start = (offset as number | undefined) ?? 0;
      const data = Uint8Array.from(from.subarray(start, start + (result as number)));
      this.done.push({ kind: 'write', file: at.file, at: position as number, data });
    });
    this.before('ftruncateSync', (_, fd, size) => {
      const at = this.opened.get(fd as number);
      if (at && 'file' in at) this.done.push({ kind: 'size', file: at.file, size: size as number });
    });
    this.before('truncateSync', (_, path, size) => {
      if (within(path)) this.done.push({ kind: 'size', file: this.fileOf(path), size: size as number });
    });
    this.before('mkdirSync', (result, path, options) => {
      const made = (options as { recursive?: boolean } | undefined)?.recursive ? result !== undefined : true;
      if (within(path) && made) this.done.push({ kind: 'mkdir', path });
    });
    this.before('rmdirSync', (_, path) => void (within(path) && this.done.push({ kind: 'rmdir', path })));
    const unlink = (_: unknown, path: unknown) => {
      if (!within(path) || !this.names.delete(path)) return;
      this.done.push({ kind: 'unlink', path });
    };
    this.before('unlinkSync', unlink);
    this.before('rmSync', unlink);
    this.before('renameSync', (_, from, to) => {
      const file = within(from) ? this.names.get(from) : undefined;
      if (file === undefined || !within(to)) return;
      this.names.delete(from as string);
      this.names.set(to, file);
      this.done.push({ kind: 'rename', from: from as string, to });
    });
    for (const name of ['fsyncSync', 'fdatasyncSync'] as const) this.before(name, (_, fd) => this.synced(fd as number));
    syncBuiltinESMExports();
  }

  /** The work itself first: what throws did not happen. */
  private before(name: string, then: (result: unknown, ...args: unknown[]) => unknown): void {
    const all = fs as unknown as Record<string, Work>;
    const work = all[name];
    this.real.set(name, work);
    all[name] = (...args: never[]) => {
      const result = work(...args);
      then(result, ...args);
      return result;
    };
  }

  private fileOf(path: string): number {
    const known = this.names.get(path);
    if (known !== undefined) return known;
    const file = this.next++;
    this.names.set(path, file);
    this.done.push({ kind: 'create', path, file });
    return file;
  }

  private synced(fd: number): void {
    const at = this.opened.get(fd);
    if (!at) return;
    if ('file' in at) {
      const { file } = at;
      const path = [...this.names].find(([, number]) => number === file)?.[0];
      const names = this.done.findLastIndex(
        (done) => (done.kind === 'create' && done.file === file) || (done.kind === 'rename' && done.to === path),
      );
      this.done.push({ kind: 'sync', file, names });
      return;
    }
    const of = (path: string) => dirname(path) === at.folder;
    const names = this.done.findLastIndex(
      (done) =>
        (done.kind === 'rename' && (of(done.from) || of(done.to))) ||
        ((done.kind === 'create' || done.kind === 'unlink' || done.kind === 'mkdir' || done.kind === 'rmdir') && of(done.path)),
    );
    this.done.push({ kind: 'sync folder', names });
  }
}
