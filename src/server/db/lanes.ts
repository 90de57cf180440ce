import { LANES, type Lane } from './db';

/** Nobody waits longer than this because more urgent lanes keep coming, ms. */
const LONGEST = 700;

interface Waiting {
  take(): void;
  since: number;
}

/**
 * A lock with three queues: whoever releases it hands it to the first waiter of the most urgent queue, but a waiter that has
 * waited long goes first, whatever its lane: no lane starves another.
 */
export class LaneLock {
  private held = false;
  private readonly waiting: Record<Lane, Waiting[]> = { interface: [], dispatch: [], bulk: [] };

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** Resolves with the release function once it is this caller's turn. */
  acquire(lane: Lane): Promise<() => void> {
    return new Promise((resolve) => {
      const take = () => {
        this.held = true;
        let released = false;
        resolve(() => {
          if (released) return;
          released = true;
          this.next();
        });
      };
      if (this.held) this.waiting[lane].push({ take, since: this.now() });
      else take();
    });
  }

  private next(): void {
    const due = this.now() - LONGEST;
    const chosen =
      [...LANES].reverse().find((lane) => this.waiting[lane].length > 0 && this.waiting[lane][0].since < due) ??
      LANES.find((lane) => this.waiting[lane].length > 0);
    if (chosen === undefined) {
      this.held = false;
      return;
    }
    this.waiting[chosen].shift()?.take();
  }
}
