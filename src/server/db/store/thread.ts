import { setFlagsFromString } from 'node:v8';
import { Worker } from 'node:worker_threads';
import { DbError } from '../db-error';
import { rowsOf } from '../flat-rows';
import type { StoreData, WorkerAnswer, WorkerRequest } from './store-worker';

type Bare<T> = T extends unknown ? Omit<T, 'id'> : never;
export type Answered = { rows: unknown[]; rowCount: number; dump?: Uint8Array };

/**
 * How much a function of the engine's WebAssembly has to do before it is compiled a second time, optimized (V8's own measure, octets of
 * code run through). At V8's 1.8 million most of a start's CPU goes into code that is run a few times; measured, a start takes 0.7 of it so,
 * and the benches of the line and of imports are no slower.
 */
const HOT = 100_000_000;

/** The engine ended by itself; whoever had asked does not know whether it was done (SQLSTATE 57P02, crash_shutdown). */
const ended = (words: string): DbError => new DbError(words, '57P02');

/** The engine's thread, seen from the others: numbers requests and matches answers. Once it has ended it stays so. */
export class StoreThread {
  private readonly worker: Worker;
  private readonly open = new Map<number, { resolve: (answer: Answered) => void; reject: (error: Error) => void }>();
  private next = 1;
  private lastWords: string | undefined;
  private died: Error | undefined;
  /** Resolves when the engine takes statements. */
  readonly ready: Promise<void>;

  /** @param source the thread's file; tests put one before it that spoils the disk */
  constructor(
    data: StoreData,
    private readonly heard: (channel: string, payload: string) => void,
    source: URL = threadFile(),
  ) {
    setFlagsFromString(`--wasm-tiering-budget=${HOT}`);
    this.worker = new Worker(source, { workerData: data, execArgv: [] });
    this.ready = new Promise((resolve, reject) => {
      this.open.set(0, { resolve: () => resolve(), reject });
    });
    this.worker.on('message', (answer: WorkerAnswer) => this.receive(answer));
    this.worker.on('error', (error) => this.fail(ended((error as Error).message)));
    this.worker.on('exit', () =>
      this.fail(ended(this.lastWords ? `The database had to stop: ${this.lastWords}` : 'The database thread has ended.')),
    );
  }

  get gone(): boolean {
    return this.died !== undefined;
  }

  /** @throws DbError with what the engine says, or that it has ended */
  ask(request: Bare<WorkerRequest>): Promise<Answered> {
    if (this.died) return Promise.reject(this.died);
    const id = this.next++;
    return new Promise((resolve, reject) => {
      this.open.set(id, { resolve, reject });
      this.worker.postMessage({ ...request, id });
    });
  }

  end(): Promise<number> {
    return this.worker.terminate();
  }

  private receive(answer: WorkerAnswer): void {
    if ('lost' in answer) {
      this.lastWords = answer.lost;
      return;
    }
    if ('channel' in answer) {
      this.heard(answer.channel, answer.payload);
      return;
    }
    const waiting = this.open.get(answer.id);
    this.open.delete(answer.id);
    if (!waiting) return;
    if ('error' in answer) waiting.reject(new DbError(answer.error.message, answer.error.code, answer.error.constraint));
    else if ('ready' in answer) waiting.resolve({ rows: [], rowCount: 0 });
    else if ('dump' in answer) waiting.resolve({ rows: [], rowCount: 0, dump: answer.dump });
    else waiting.resolve({ rows: rowsOf(answer), rowCount: answer.rowCount });
  }

  private fail(error: Error): void {
    this.died ??= error;
    for (const waiting of this.open.values()) waiting.reject(error);
    this.open.clear();
  }
}

function threadFile(): URL {
  const fromSource = import.meta.url.endsWith('.ts');
  return new URL(fromSource ? './store-worker-source.mjs' : './store-worker.js', import.meta.url);
}
