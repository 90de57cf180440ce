import { Temporal } from 'temporal-polyfill';

/** Wall-clock times in zones, through daylight-saving changes. Instants are milliseconds since 1970 (UTC). */

/** What a local time turned out to be: once, in a gap (it does not exist), or twice. */
export type LocalTime = { instant: number; note?: 'gap' | 'twice' };

/**
 * The instant of a wall-clock date and time (`2026-12-02`, `16:30`) in a zone. In a gap the clock's own move forward is
 * taken (02:30 becomes 03:30); of two, the earlier. Both are noted so that they can be said.
 * @throws RangeError for a date, time or zone that cannot be read
 */
export function localInstant(date: string, time: string, zone: string): LocalTime {
  const plain = Temporal.PlainDateTime.from(`${date}T${time}`);
  const earlier = plain.toZonedDateTime(zone, { disambiguation: 'earlier' });
  const later = plain.toZonedDateTime(zone, { disambiguation: 'later' });
  if (earlier.epochMilliseconds === later.epochMilliseconds) return { instant: earlier.epochMilliseconds };
  // in a gap the wall clock of either answer differs from what was asked for
  const exists = earlier.toPlainDateTime().equals(plain);
  return exists ? { instant: earlier.epochMilliseconds, note: 'twice' } : { instant: later.epochMilliseconds, note: 'gap' };
}

/**
 * The instant at which hours that are shut begin (`shuts`) or end (`opens`) by the wall clock. Where that time comes twice, or never, it is the
 * earliest for what shuts and the latest for what opens: nothing is open then by one of two clocks only.
 */
export function edgeInstant(edge: 'shuts' | 'opens', date: string, time: string, zone: string): number {
  const disambiguation = edge === 'shuts' ? 'earlier' : 'later';
  return Temporal.PlainDateTime.from(`${date}T${time}`).toZonedDateTime(zone, { disambiguation }).epochMilliseconds;
}

/** Wall clock of an instant in a zone. */
export function wallClock(instant: number, zone: string): { date: string; time: string; minutes: number } {
  const zoned = Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone);
  return {
    date: zoned.toPlainDate().toString(),
    time: `${String(zoned.hour).padStart(2, '0')}:${String(zoned.minute).padStart(2, '0')}`,
    minutes: zoned.hour * 60 + zoned.minute,
  };
}

export function isZone(zone: string): boolean {
  try {
    Temporal.Now.zonedDateTimeISO(zone);
    return true;
  } catch {
    return false;
  }
}

/** Quiet hours of a day as wall-clock times, e.g. 21:00 to 08:00; equal times mean none. */
export interface QuietHours {
  from: string;
  to: string;
}
