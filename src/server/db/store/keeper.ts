import { DbError } from '../db-error';
import type { StoreData } from './store-worker';
import { StoreThread } from './thread';

/** After an opening that was refused, the next is tried no sooner than this, ms. */
const AGAIN_AFTER = 1000;

/**
 * The one thread that has the store open, and another where that one had to end (the disk was full, the log could not be synced): as a
 * database server that went down and comes up again, it answers those who had asked with 57P02, and whoever asks next opens it anew from
 * what is on disk. What is in memory only does not come back.
 */
export class StoreKeeper {
  private thread: StoreThread;
  private opening: Promise<StoreThread> | undefined;
  private refused: { at: number; words: string } | undefined;
  private closed = false;
  private readonly channels = new Map<string, Set<(payload: string) => void>>();

  constructor(
    private readonly data: StoreData,
    private readonly source?: URL,
  ) {
    this.thread = this.begin(data);
  }

  /** Resolves when the store takes statements for the first time. */
  get ready(): Promise<void> {
    return this.thread.ready;
  }

  /** The thread to ask. Whoever has begun a transaction stays with the one it began on. @throws DbError 57P03 where it cannot be opened now */
  async current(): Promise<StoreThread> {
    if (!this.thread.gone || this.closed || this.data.dataDir === undefined) return this.thread;
    if (this.refused && performance.now() - this.refused.at < AGAIN_AFTER) throw cannotConnect(this.refused.words);
    this.opening ??= this.openAgain().finally(() => (this.opening = undefined));
    return this.opening;
  }

  /** Hears a channel on this thread and on those after it. Resolves with what gives it up. */
  async listen(channel: string, heard: (payload: string) => void): Promise<() => Promise<void>> {
    const set = this.channels.get(channel) ?? new Set();
    this.channels.set(channel, set);
    set.add(heard);
    if (set.size === 1) await (await this.current()).ask({ kind: 'listen', channel });
    return async () => {
      set.delete(heard);
      if (set.size > 0) return;
      this.channels.delete(channel);
      // a thread that has ended hears nothing any more
      if (!this.thread.gone) await this.thread.ask({ kind: 'unlisten', channel });
    };
  }

  async close(): Promise<void> {
    this.closed = true;
    if (!this.thread.gone) await this.thread.ask({ kind: 'close' });
    await this.thread.end();
  }

  private begin(data: StoreData): StoreThread {
    return new StoreThread(
      data,
      (channel, payload) => {
        for (const heard of this.channels.get(channel) ?? []) heard(payload);
      },
      this.source,
    );
  }

  private async openAgain(): Promise<StoreThread> {
    // what was there is there, or nothing is made in its place
    const thread = this.begin({ dataDir: this.data.dataDir, there: true });
    try {
      await thread.ready;
      for (const channel of this.channels.keys()) await thread.ask({ kind: 'listen', channel });
    } catch (error) {
      await thread.end();
      this.refused = { at: performance.now(), words: (error as Error).message };
      throw cannotConnect(this.refused.words);
    }
    this.refused = undefined;
    this.thread = thread;
    return thread;
  }
}

/** SQLSTATE 57P03, cannot_connect_now. */
const cannotConnect = (words: string): DbError => new DbError(`The database cannot be opened just now: ${words}`, '57P03');
