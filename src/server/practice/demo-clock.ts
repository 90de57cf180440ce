import { iso } from '../../core/clock';
import { machineClock, type MovableClock } from '../clock';
import type { Db } from '../db/db';

/** What is kept of the demo's clock is this much ahead of what it shows, ms, and written again before it is reached. */
const AHEAD = 20_000;
const EVERY = 12_000;

/** The clock of a server, and what keeps it: a demo has its own, which goes on from where it was; all others have the machine's. */
export interface KeptClock {
  clock: MovableClock;
  demo: boolean;
  /** Moves a demo's clock forward, and keeps that first. */
  move(ms: number): Promise<void>;
  /** Ends in an orderly way: it will go on from here. */
  end(): Promise<void>;
}

/**
 * A demo that is ended kindly goes on at the moment at which it stood; one that is killed goes on a little later, and never earlier: what
 * was done before the kill stays in the past.
 * @param failed is told when the clock could not be written
 */
export async function keptClock(db: Db, failed: (error: unknown) => void): Promise<KeptClock> {
  const { rows } = await db.query<{ demo_clock: string | null }>(`SELECT demo_clock FROM workspace`);
  const kept = rows.at(0)?.demo_clock ?? null;
  const demo = kept !== null;
  const clock = machineClock(kept === null ? 0 : Date.parse(kept) - Date.now());
  // one after the other: what is kept last is what was meant last
  let writing: Promise<unknown> = Promise.resolve();
  const write = async (at: number) => {
    if (!demo) return;
    const mine = writing.then(() => db.query(`UPDATE workspace SET demo_clock = $1::timestamptz`, [iso(at)]));
    writing = mine.catch(() => undefined);
    await mine;
  };
  await write(clock.now() + AHEAD);
  const timer = setInterval(() => void write(clock.now() + AHEAD).catch(failed), EVERY);
  timer.unref();
  return {
    clock,
    demo,
    async move(ms) {
      await write(clock.now() + ms + AHEAD);
      clock.move(ms);
    },
    async end() {
      clearInterval(timer);
      await write(clock.now());
    },
  };
}
