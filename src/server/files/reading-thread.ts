import { Worker } from 'node:worker_threads';
import type { SourceChoice } from '../../core/api/people/imports';
import { UnreadableFile, type NumberedRow, type OpenTable } from './table';

export interface ReadingAsked {
  path: string;
  /** The file is pasted text. */
  pasted: boolean;
  options: SourceChoice;
}

export type ReadingFacts = Omit<OpenTable, 'rows'>;

export type FromReading =
  | { kind: 'open'; facts: ReadingFacts }
  | { kind: 'rows'; batch: NumberedRow[] }
  | { kind: 'end'; notes: string[] }
  | { kind: 'unreadable'; message: string; place: string | undefined }
  | { kind: 'failed'; message: string };

/** Memory of a reading, MB; the rest of a thread's is small. */
const MEMORY_MB = 112;
/** The thread has to say something within so long of being asked, ms. */
const PATIENCE = 120_000;

/** A reading that was given up. */
export class GivenUp extends Error {
  constructor() {
    super('The reading was given up.');
    this.name = 'GivenUp';
  }
}

/** A file that is being read, as whoever keeps its rows sees it. */
export interface FileReading {
  facts(): Promise<ReadingFacts>;
  rows(notes: string[]): AsyncGenerator<NumberedRow[]>;
  end(): Promise<void>;
}

/**
 * Reads a file in a thread of its own, with limits on its memory and on its silence: nothing that a file holds can stop others'
 * requests. `rows` may be gone over once; when `end` is called, the thread is gone, at once.
 */
export class Reading implements FileReading {
  private readonly worker: Worker;
  private readonly said: FromReading[] = [];
  private wake: (() => void) | undefined;
  private trouble: Error | undefined;

  constructor(asked: ReadingAsked, patience = PATIENCE) {
    this.patience = patience;
    const fromSource = import.meta.url.endsWith('.ts');
    const url = new URL(fromSource ? './reading-worker-source.mjs' : './reading-worker.js', import.meta.url);
    this.worker = new Worker(url, {
      workerData: asked,
      execArgv: [],
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB, maxYoungGenerationSizeMb: 16 },
    });
    this.worker.on('message', (said: FromReading) => {
      this.said.push(said);
      this.wake?.();
    });
    this.worker.on('error', (error) => this.fail(error as NodeJS.ErrnoException));
    this.worker.on('exit', () => this.fail(new Error('The reading thread has ended.')));
  }

  private readonly patience: number;

  /** What is known once the file is open. */
  async facts(): Promise<ReadingFacts> {
    const said = await this.next();
    if (said.kind !== 'open') throw new Error(`The reading thread said ${said.kind} first.`);
    return said.facts;
  }

  /** The rows in batches; what was noticed on the way is put into `notes` at the end. */
  async *rows(notes: string[]): AsyncGenerator<NumberedRow[]> {
    for (;;) {
      const said = await this.next();
      if (said.kind === 'end') {
        notes.push(...said.notes);
        return;
      }
      if (said.kind !== 'rows') throw new Error(`The reading thread said ${said.kind}.`);
      yield said.batch;
      this.worker.postMessage('more');
    }
  }

  /** Ends the thread; whoever waits for rows gets `GivenUp`. */
  async end(): Promise<void> {
    this.trouble ??= new GivenUp();
    this.wake?.();
    await this.worker.terminate();
  }

  private fail(error: NodeJS.ErrnoException): void {
    this.trouble ??=
      error.code === 'ERR_WORKER_OUT_OF_MEMORY'
        ? new UnreadableFile(
            `Reading the file takes more than ${MEMORY_MB} MB of memory. Save the sheet as CSV and choose that file.`,
          )
        : error;
    this.wake?.();
  }

  private async next(): Promise<FromReading> {
    const until = Date.now() + this.patience;
    while (this.said.length === 0) {
      if (this.trouble) throw this.trouble;
      const left = until - Date.now();
      if (left <= 0) {
        await this.worker.terminate();
        throw new UnreadableFile('The file takes too long to read; it was given up. Save the sheet as CSV and choose that file.');
      }
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, left);
        this.wake = () => {
          clearTimeout(timer);
          resolve();
        };
      });
    }
    const [said] = this.said.splice(0, 1);
    if (said.kind === 'unreadable') throw new UnreadableFile(said.message, said.place);
    if (said.kind === 'failed') throw new Error(said.message);
    return said;
  }
}
