import type { Draft } from '../draft/draft';
import type { Repeats } from './repeats';
import { ruleTimes } from './rule-dates';
import { localInstant, wallClock } from '../../zones';

type At = Extract<Draft['when'], { kind: 'at' }>;
const ICAL_DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;
const FREQ = { day: 'DAILY', week: 'WEEKLY', month: 'MONTHLY', year: 'YEARLY' } as const;

/** The rule as RFC 5545 §3.3.10 writes it; `first` is the date it begins on. */
export function icalRule({ every, n, days, on, times, until }: Repeats, first: string): string {
  const parts = [`FREQ=${FREQ[every]}`, ...(n > 1 ? [`INTERVAL=${n}`] : [])];
  if (every === 'week' && days) parts.push(`BYDAY=${days.map((day) => ICAL_DAYS[day - 1]).join(',')}`);
  if (every === 'month' || every === 'year') {
    const month = every === 'year' ? [`BYMONTH=${Number(first.slice(5, 7))}`] : [];
    if (on === 'last_day') parts.push(...month, 'BYMONTHDAY=-1');
    else if (on) parts.push(...month, `BYDAY=${on.week}${ICAL_DAYS[on.day - 1]}`);
    else parts.push(...month, `BYMONTHDAY=${Number(first.slice(8, 10))}`);
  }
  if (times !== undefined) parts.push(`COUNT=${times}`);
  else if (until !== undefined) parts.push(`UNTIL=${until.replaceAll('-', '')}T235959Z`);
  return parts.join(';');
}

/** The next dates on which it goes, from one on (inclusive); none when it never goes (any more). */
export function datesFrom({ date, repeats }: Pick<At, 'date' | 'repeats'>, from: string, most: number): string[] {
  if (!repeats) return from <= date ? [date] : [];
  const rule = { rule: icalRule(repeats, date), start: `${date}T12:00`, skip: repeats.skip, extra: repeats.extra };
  return ruleTimes(rule, `${from}T00:00`, most).map((wall) => wall.slice(0, 10));
}

/** The date of the run that comes next, on the workspace's clock; undefined when none does. */
export function nextDate(at: At, now: number, zone: string): string | undefined {
  const today = wallClock(now, zone).date;
  return datesFrom(at, today, 2).find((date) => date > today || localInstant(date, at.time, zone).instant > now);
}

/**
 * The draft as its run on one date goes: what is said of the first date (no use after, the end of the pace) holds as long after
 * this one.
 */
export function runOn(draft: Draft, date: string): Draft {
  if (draft.when.kind !== 'at' || draft.when.date === date) return draft;
  const days = Math.round((Date.parse(date) - Date.parse(draft.when.date)) / 86_400_000);
  const moved = (each: string) => new Date(Date.parse(each) + days * 86_400_000).toISOString().slice(0, 10);
  return {
    ...draft,
    when: { ...draft.when, date },
    no_use_after: draft.no_use_after && { ...draft.no_use_after, date: moved(draft.no_use_after.date) },
    ...(draft.pace?.kind === 'until' ? { pace: { ...draft.pace, date: moved(draft.pace.date) } } : {}),
  };
}

/** The draft as the next of its runs goes; a draft that goes once is that itself. */
export function nextRun(draft: Draft, now: number, zone: string): Draft {
  if (draft.when.kind !== 'at' || !draft.when.repeats) return draft;
  const date = nextDate(draft.when, now, zone);
  return date === undefined ? draft : runOn(draft, date);
}

/** A run is planned so long before its first text, ms: late enough to know who is there, early enough for very many. */
const LEAD = 600_000;
/** The zone in which every day begins first. */
const FIRST_ZONE = 'Pacific/Kiritimati';

/** A run of a repeated broadcast that is to come: its date, its start on the workspace's clock, and when it is planned, ms. */
export interface Upcoming {
  date: string;
  at: number;
  planAt: number;
}

/** The run after one date; undefined when that was the last. */
export function upcomingAfter(at: At, date: string, zone: string): Upcoming | undefined {
  const dayAfter = new Date(Date.parse(date) + 86_400_000).toISOString().slice(0, 10);
  const [next] = datesFrom(at, dayAfter, 1);
  return next === undefined ? undefined : upcomingOn(at, next, zone);
}

/** In each recipient's own time nobody's may have come before it is planned. */
export function upcomingOn(at: At, date: string, zone: string): Upcoming {
  const start = localInstant(date, at.time, zone).instant;
  const earliest = at.own === true ? Math.min(start, localInstant(date, at.time, FIRST_ZONE).instant) : start;
  return { date, at: start, planAt: earliest - LEAD };
}
