import type { Draft } from '../draft/draft';
import { localInstant } from '../../zones';

export interface Pace {
  /** Least time from one text to the next, ms; 0 as fast as the sender goes. */
  perText: number;
  /** When the last should have gone, for an even pace. */
  until?: number;
  wrong?: string;
}

/**
 * How far apart texts go so that the people at the desk can answer: so many a minute, or evenly until a time of the workspace's wall
 * clock. The sender's own rate still holds; a pace only ever slows it down.
 *
 * @param base when the first goes, ms
 * @param texts how many go
 */
export function paceOf(draft: Pick<Draft, 'pace'>, zone: string, base: number, texts: number): Pace {
  const { pace } = draft;
  if (!pace) return { perText: 0 };
  if (pace.kind === 'a_minute') return { perText: 60_000 / pace.texts };
  let until: number;
  try {
    until = localInstant(pace.date, pace.time, zone).instant;
  } catch {
    return { perText: 0, wrong: 'The time until which it is spread is not a date and time.' };
  }
  if (until <= base) return { perText: 0, wrong: 'The time until which it is spread comes before it would go.' };
  // the last one goes at that time, not one interval before it
  return { perText: (until - base) / Math.max(1, texts - 1), until };
}
