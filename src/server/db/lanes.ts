import { LANES, type Lane } from './db';

/** A lock with three queues: whoever releases it hands it to the first waiter of the most urgent queue. */
export class LaneLock {
  private held = false;
  private readonly waiting: Record<Lane, (() => void)[]> = { interface: [], dispatch: [], bulk: [] };

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
      if (this.held) this.waiting[lane].push(take);
      else take();
    });
  }

  private next(): void {
    for (const lane of LANES) {
      const take = this.waiting[lane].shift();
      if (take) return take();
    }
    this.held = false;
  }
}
