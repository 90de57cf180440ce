import type { Change } from '../../core/api/topics';

/** What has changed; `all`, where that is not known. */
export type Heard = readonly Change[] | 'all';

/** What tabs of one browser tell each other: what the one with the stream heard, and where somebody new stands. */
type Word = { is: 'heard'; moment: string; changes: Heard; stale: boolean } | { is: 'joined'; moment: string };

/** What it needs of a browser; a test gives its own. */
export interface Around {
  open(address: string): EventSource;
  /** Of one browser only one tab holds the stream. Without it (a page that is not secure has none) each tab holds its own. */
  locks: LockManager | undefined;
  channel(): BroadcastChannel;
  /** Milliseconds, and what is done then; answers what calls it off. */
  later(ms: number, act: () => void): () => void;
  chance(): number;
}

const LOCK = 'bell-live';
/** Between tries after an error, ms: twice as long each time. */
const [SOON, LATE] = [1000, 30_000];
/** A stream that is not back by then is said to be gone, ms. */
const PATIENCE = 4000;

/**
 * The live line of a page: hears what changed, from the stream or from the tab that holds it, and after any gap what was missed in it.
 * A stream that ends for good (a proxy that says 502 while the server starts anew) is opened again, later each time.
 */
export class LiveLine {
  private readonly channel: BroadcastChannel;
  private readonly ended = new AbortController();
  private source: EventSource | undefined;
  private release: (() => void) | undefined;
  private tries = 0;
  private stale = false;
  private calledOff: (() => void)[] = [];

  /** @param moment up to which the page knows, as the session said it */
  constructor(
    private moment: string,
    private readonly heard: (changes: Heard) => void,
    private readonly tellStale: (stale: boolean) => void,
    private readonly around: Around,
  ) {
    this.channel = around.channel();
    this.channel.onmessage = ({ data }: MessageEvent<Word>) => this.word(data);
    if (!around.locks) {
      this.open();
      return;
    }
    around.locks
      .request(LOCK, { signal: this.ended.signal }, () => {
        this.open();
        return new Promise<void>((resolve) => (this.release = resolve));
      })
      // it ended while others held it
      .catch(() => undefined);
    this.say({ is: 'joined', moment });
  }

  end(): void {
    this.ended.abort();
    this.source?.close();
    this.source = undefined;
    for (const callOff of this.calledOff) callOff();
    this.release?.();
    this.channel.close();
  }

  private say(word: Word): void {
    this.channel.postMessage(word);
  }

  private word(word: Word): void {
    if (word.is === 'joined') {
      // whoever came between two words may have missed one
      if (this.source && word.moment !== this.moment)
        this.say({ is: 'heard', moment: this.moment, changes: 'all', stale: this.stale });
    } else if (!this.source) {
      this.moment = word.moment;
      this.setStale(word.stale);
      if (word.changes.length > 0) this.heard(word.changes);
    }
  }

  private open(): void {
    if (this.ended.signal.aborted) return;
    const source = this.around.open(`/api/live?since=${encodeURIComponent(this.moment)}`);
    this.source = source;
    const patience = this.around.later(PATIENCE, () => this.setStale(true));
    this.calledOff.push(patience);
    source.onopen = () => {
      this.tries = 0;
      patience();
      this.setStale(false);
    };
    source.onmessage = ({ data, lastEventId }: MessageEvent<string>) => {
      const changes = JSON.parse(data) as Heard;
      if (lastEventId !== '') this.moment = lastEventId;
      this.say({ is: 'heard', moment: this.moment, changes, stale: false });
      this.heard(changes);
    };
    source.onerror = () => {
      this.setStale(true);
      // the browser tries by itself, but not after an answer that is none
      if (source.readyState !== 2) return;
      source.close();
      patience();
      const wait = Math.min(LATE, SOON * 2 ** this.tries) * (0.5 + this.around.chance() / 2);
      this.tries += 1;
      this.calledOff = [this.around.later(wait, () => this.open())];
    };
  }

  private setStale(stale: boolean): void {
    if (stale === this.stale) return;
    this.stale = stale;
    if (this.source) this.say({ is: 'heard', moment: this.moment, changes: [], stale });
    this.tellStale(stale);
  }
}
