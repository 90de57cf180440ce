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

function minutesOf(time: string): number {
  return Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));
}

/** True when an instant is within quiet hours in the zone. The end minute itself is allowed. */
export function isQuiet(instant: number, zone: string, quiet: QuietHours): boolean {
  const from = minutesOf(quiet.from);
  const to = minutesOf(quiet.to);
  if (from === to) return false;
  const { minutes } = wallClock(instant, zone);
  return from > to ? minutes >= from || minutes < to : minutes >= from && minutes < to;
}

/** The first instant not before this one that is outside quiet hours in the zone. */
export function afterQuiet(instant: number, zone: string, quiet: QuietHours): number {
  if (!isQuiet(instant, zone, quiet)) return instant;
  const { date, minutes } = wallClock(instant, zone);
  const to = minutesOf(quiet.to);
  const day = minutes < to ? date : Temporal.PlainDate.from(date).add({ days: 1 }).toString();
  return Math.max(instant, localInstant(day, quiet.to, zone).instant);
}

/**
 * Like afterQuiet, for a zone that is only a guess: waits until it is allowed in every zone the recipient may be in.
 * Ends after a few rounds when no instant suits all (zones half a day apart): then the last is taken.
 */
export function afterQuietInAll(
  instant: number,
  zones: readonly string[],
  quiet: QuietHours,
  /** The person's own do-not-disturb hours, which hold as well. */
  own?: QuietHours,
): number {
  let at = instant;
  for (let round = 0; round < 6; round += 1) {
    const next = zones.reduce(
      (latest, zone) => Math.max(latest, afterQuiet(at, zone, quiet), own ? afterQuiet(at, zone, own) : at),
      at,
    );
    if (next === at) return at;
    at = next;
  }
  return at;
}
