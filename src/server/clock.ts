import type { Clock } from '../core/clock';

/** A clock that can be set ahead of, or behind, the machine's; with offset 0 it is the machine's. */
export interface MovableClock extends Clock {
  /** Milliseconds added to the machine's time. */
  offset(): number;
  /** Moves the clock forward by `ms`; everyone asleep wakes and looks again. */
  move(ms: number): void;
}

/**
 * The process clock. `offsetMs` makes it the demo's clock.
 * A sleeper wakes when its time has come or when the clock is moved, whichever is first, so waits are always loops.
 */
export function machineClock(offsetMs = 0): MovableClock {
  let offset = offsetMs;
  const wakers = new Set<() => void>();
  return {
    now: () => Date.now() + offset,
    offset: () => offset,
    move(ms) {
      offset += ms;
      for (const wake of [...wakers]) wake();
    },
    sleep(ms, signal) {
      return new Promise((resolve) => {
        if (signal?.aborted) return resolve();
        const done = () => {
          clearTimeout(timer);
          wakers.delete(done);
          signal?.removeEventListener('abort', done);
          resolve();
        };
        const timer = setTimeout(done, Math.max(0, ms));
        wakers.add(done);
        signal?.addEventListener('abort', done);
      });
    },
  };
}
