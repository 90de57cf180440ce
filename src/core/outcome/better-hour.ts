import { addDays } from '../people/day';
import { localInstant, wallClock } from '../zones';

const MORNING = '10:00';
const EVENING = '17:30';
/** Before this on the clock counts as the first half of the day. */
const HALF = '14:00';
const AHEAD = 30 * 60_000;

/**
 * When to try those again whose phones were off: in the other half of the day, at its next time that leaves half an hour to look the
 * draft over. Common practice, not from a published source; it can be changed like any time.
 *
 * @param went when the text went, ms
 * @returns a date and a time on the zone's wall clock
 */
export function betterHour(went: number, now: number, zone: string): { date: string; time: string } {
  const time = wallClock(went, zone).time < HALF ? EVENING : MORNING;
  const today = wallClock(now, zone).date;
  const date = localInstant(today, time, zone).instant >= now + AHEAD ? today : addDays(today, 1);
  return { date, time };
}
