import { formatDay } from '../../merge/date-pattern';
import type { Repeats } from './repeats';

export const DAY_NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
export const WEEK_NAMES: Readonly<Record<1 | 2 | 3 | 4 | -1, string>> = {
  1: 'first',
  2: 'second',
  3: 'third',
  4: 'fourth',
  '-1': 'last',
};

/** How often, in words: "every month on the first Monday", "every other week on Tuesday and Friday". @param first date it begins on */
export function repeatWords(repeats: Repeats, first: string): string {
  const { every, n, days, on, times, until } = repeats;
  const often = n === 1 ? `every ${every}` : n === 2 ? `every other ${every}` : `every ${n} ${every}s`;
  const end =
    times !== undefined
      ? times === 1
        ? ', once'
        : `, ${times} times`
      : until
        ? ` until ${formatDay(until, 'EEE, MMM d, yyyy', 'en')}`
        : '';
  return `${often}${onWords(every, days, on, first)}${end}`;
}

function onWords(every: Repeats['every'], days: Repeats['days'], on: Repeats['on'], first: string): string {
  const month = every === 'year' ? ` of ${formatDay(first, 'MMMM', 'en')}` : '';
  if (every === 'day') return '';
  if (every === 'week') {
    const named = (days ?? [weekdayOf(first)]).map((day) => DAY_NAMES[day - 1]);
    return ` on ${new Intl.ListFormat('en-GB', { type: 'conjunction' }).format(named)}`;
  }
  if (on === 'last_day') return ` on the last day${month}`;
  if (on) return ` on the ${WEEK_NAMES[on.week]} ${DAY_NAMES[on.day - 1]}${month}`;
  return every === 'year' ? ` on ${formatDay(first, 'MMMM d', 'en')}` : ` on the ${ordinal(Number(first.slice(8)))}`;
}

/** 1 (Monday) to 7. */
export function weekdayOf(date: string): number {
  return new Date(`${date}T12:00:00Z`).getUTCDay() || 7;
}

function ordinal(n: number): string {
  const suffix = n % 100 > 10 && n % 100 < 14 ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th');
  return `${n}${suffix}`;
}
