import fs from 'node:fs';
import type { PGlite } from '@electric-sql/pglite';
import { NodeFS } from '@electric-sql/pglite/nodefs';

/** What is used of the engine's file system (Emscripten's NODEFS), which the package does not type. */
interface Inner {
  FS: { isDir(mode: number): boolean };
  NODEFS: {
    tryFSOperation<T>(work: () => T): T;
    stream_ops: {
      fsync?(stream: Stream): number;
      write(stream: Stream, buffer: Uint8Array, offset: number, length: number, position: number): number;
    };
  };
}

interface Stream {
  nfd: number;
  node: { mode: number; name: string; parent: { name: string } };
}

type Options = Parameters<NodeFS['init']>[1];

/**
 * The data folder of the embedded engine, with what the engine asks to be kept really kept. The package gives its file system no `fsync`:
 * the engine's call succeeds and nothing is synced. Here a file is synced with fdatasync (POSIX.1-2017: its data, and what is needed to
 * find them), a directory with fsync. What is refused comes back to the engine as the error of the operating system.
 */
export class SyncedFolder extends NodeFS {
  private wal = 0;

  /** Octets written to the log (pg_wal) since the last look that asked to begin anew; the zeros of a new segment do not count. */
  logged(): number {
    return this.wal;
  }

  beginAnew(): void {
    this.wal = 0;
  }

  override async init(pg: PGlite, options: Options): ReturnType<NodeFS['init']> {
    const made = await super.init(pg, options);
    const { preRun } = made.emscriptenOpts;
    return {
      ...made,
      emscriptenOpts: {
        ...made.emscriptenOpts,
        preRun: [...(preRun ?? []), (mod) => this.sync(mod as unknown as Inner)],
      },
    };
  }

  private sync({ FS, NODEFS }: Inner): void {
    const ops = NODEFS.stream_ops;
    ops.fsync = (stream) => {
      NODEFS.tryFSOperation(() => {
        if (FS.isDir(stream.node.mode)) fs.fsyncSync(stream.nfd);
        else fs.fdatasyncSync(stream.nfd);
      });
      return 0;
    };
    const write = ops.write.bind(ops);
    ops.write = (stream, buffer, offset, length, position) => {
      // a segment is filled with zeros under another name before it is put in its place
      if (stream.node.parent.name === 'pg_wal' && !stream.node.name.startsWith('xlogtemp')) this.wal += length;
      return write(stream, buffer, offset, length, position);
    };
  }
}
