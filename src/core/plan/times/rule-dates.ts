import { RRuleTemporal } from 'rrule-temporal';
import { Temporal } from 'temporal-polyfill';

/** A recurrence of RFC 5545 with its exceptions (§3.8.5.1) and extra dates (§3.8.5.2); local dates are `YYYY-MM-DD`. */
export interface DateRule {
  /** The value of an RRULE (§3.3.10), without its name; its UNTIL, if any, is local, too. */
  rule: string;
  /** DTSTART as a wall clock, e.g. `1997-09-02T09:00`. */
  start: string;
  skip?: readonly string[];
  extra?: readonly string[];
}

/**
 * Wall-clock date-times of a rule from a moment on, in order, as `YYYY-MM-DDTHH:MM`. Recurrence is a matter of the wall clock
 * (§3.3.10: local time stays), so it is computed on a clock without changes, and which instant each is, in which zone, is decided
 * afterwards; that is why neither the process's zone nor a gap can make a date of it go missing.
 *
 * @param from wall clock, the first that may be answered
 * @throws Error for a rule that cannot be read
 */
export function ruleTimes({ rule, start, skip = [], extra = [] }: DateRule, from: string, most: number): string[] {
  const parsed = new RRuleTemporal({ rruleString: `RRULE:${rule}`, dtstart: onOneClock(start) });
  const skipped = new Set(skip);
  const free = (wall: string) => !skipped.has(wall.slice(0, 10));
  const time = start.slice(11, 16);
  const more = extra.map((date) => `${date}T${time}`).filter((wall) => wall >= from && free(wall));
  const found = new Set<string>();
  let after = onOneClock(from);
  // a window at a time, twice as wide each time there is too little in it
  for (let days = 32; found.size < most && days <= WIDEST; days *= 2) {
    const until = after.add({ days });
    for (const each of between(parsed, after, until)) {
      const wall = new Date(each.epochMilliseconds).toISOString().slice(0, 16);
      if (free(wall)) found.add(wall);
    }
    after = until;
  }
  return [...new Set([...found, ...more])].sort().slice(0, most);
}

/** Days that are looked at in one step at most; what has not come in twice that never comes. */
const WIDEST = 32 * 2 ** 11;

const onOneClock = (wall: string) => Temporal.PlainDateTime.from(wall).toZonedDateTime('UTC');

function between(rule: RRuleTemporal, from: Temporal.ZonedDateTime, until: Temporal.ZonedDateTime): Temporal.ZonedDateTime[] {
  try {
    return rule.between(from, until, true);
  } catch {
    // the package gives up on a rule that never comes
    return [];
  }
}
