import { Worker } from 'node:worker_threads';
import { readerWith, readRows, type FileRow, type RowReader, type RowRules, type RowsRead } from '../../../core/people/read-rows';

/** Whoever reads the rows of files for the dry run and for bringing in. */
export interface RowReading {
  /** @throws Error when the thread died or was silent for too long; it is started again for the next batch */
  read(rules: RowRules, rows: readonly FileRow[]): Promise<RowsRead>;
  end(): Promise<void>;
}

export type ToRowWorker = { id: number; rules?: RowRules; rows: readonly FileRow[] };
export type FromRowWorker = { id: number; read: RowsRead } | { id: number; trouble: string };

/** The thread has to answer within so long, ms: reading a batch takes a fraction of a second, whatever stands in it. */
const PATIENCE = 60_000;
const MEMORY_MB = 64;

/** Rows read in this thread: for tests, and for a file of a page. */
export function rowsReadHere(): RowReading {
  let last: RowReader | undefined;
  return {
    read: (rules, rows) => {
      if (last?.settings !== rules.settings) last = readerWith(rules);
      return Promise.resolve(readRows(last, rows));
    },
    end: () => Promise.resolve(),
  };
}

/**
 * Reads rows in a thread of its own: what stands in a cell may take time, but it takes no other request's. One batch after the
 * other; the rules are handed over when they are others than before.
 */
export class RowThread implements RowReading {
  private worker: Worker | undefined;
  private readonly waiting = new Map<number, { resolve: (read: RowsRead) => void; reject: (error: Error) => void }>();
  /** What the thread goes by: settings are made anew with every dry run. */
  private rules: RowRules | undefined;
  private next = 1;
  private tail: Promise<unknown> = Promise.resolve();

  constructor(private readonly patience = PATIENCE) {}

  read(rules: RowRules, rows: readonly FileRow[]): Promise<RowsRead> {
    const answer = this.tail.then(() => this.ask(rules, rows));
    this.tail = answer.catch(() => undefined);
    return answer;
  }

  async end(): Promise<void> {
    await this.worker?.terminate();
  }

  private ask(rules: RowRules, rows: readonly FileRow[]): Promise<RowsRead> {
    return new Promise((resolve, reject) => {
      this.worker ??= this.start();
      const id = this.next;
      this.next += 1;
      const timer = setTimeout(() => {
        const silent = this.worker;
        this.gone(silent, new Error(`Reading ${rows.length} rows took more than ${this.patience / 1000} seconds.`));
        void silent?.terminate();
      }, this.patience);
      const done = () => clearTimeout(timer);
      this.waiting.set(id, {
        resolve: (read) => (done(), resolve(read)),
        reject: (error) => (done(), reject(error)),
      });
      const message: ToRowWorker = { id, rows, ...(this.rules === rules ? {} : { rules }) };
      this.rules = rules;
      this.worker.postMessage(message);
    });
  }

  private start(): Worker {
    const fromSource = import.meta.url.endsWith('.ts');
    const url = new URL(fromSource ? './row-worker-source.mjs' : './row-worker.js', import.meta.url);
    const made = new Worker(url, {
      execArgv: [],
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB, maxYoungGenerationSizeMb: 16 },
    });
    made.unref();
    made.on('message', (said: FromRowWorker) => {
      const asked = this.waiting.get(said.id);
      this.waiting.delete(said.id);
      if ('read' in said) asked?.resolve(said.read);
      else asked?.reject(new Error(said.trouble));
    });
    made.on('error', (error) => this.gone(made, error as Error));
    made.on('exit', () => this.gone(made, new Error('The thread that reads rows has ended.')));
    return made;
  }

  private gone(worker: Worker | undefined, error: Error): void {
    if (this.worker !== worker) return;
    this.worker = undefined;
    this.rules = undefined;
    for (const { reject } of this.waiting.values()) reject(error);
    this.waiting.clear();
  }
}
