import { describe, expect, test } from 'vitest';
import { EMPTY_DRAFT, type Draft } from '../draft/draft';
import type { Repeats } from './repeats';
import { repeatWords } from './repeat-words';
import { datesFrom, icalRule, nextDate, runOn, upcomingAfter } from './upcoming';

// Wed, Dec 2, 2026
const FIRST = '2026-12-02';
const cases: [Repeats, words: string, rule: string, next: string[]][] = [
  [{ every: 'day', n: 1 }, 'every day', 'FREQ=DAILY', ['2026-12-02', '2026-12-03', '2026-12-04']],
  [{ every: 'day', n: 3, times: 2 }, 'every 3 days, 2 times', 'FREQ=DAILY;INTERVAL=3;COUNT=2', ['2026-12-02', '2026-12-05']],
  [{ every: 'week', n: 1 }, 'every week on Wednesday', 'FREQ=WEEKLY', ['2026-12-02', '2026-12-09', '2026-12-16']],
  [
    { every: 'week', n: 2, days: [2, 5] },
    'every other week on Tuesday and Friday',
    'FREQ=WEEKLY;INTERVAL=2;BYDAY=TU,FR',
    ['2026-12-04', '2026-12-15', '2026-12-18'],
  ],
  [
    { every: 'month', n: 1, on: { week: 1, day: 1 }, times: 6 },
    'every month on the first Monday, 6 times',
    'FREQ=MONTHLY;BYDAY=1MO;COUNT=6',
    ['2026-12-07', '2027-01-04', '2027-02-01'],
  ],
  [{ every: 'month', n: 1 }, 'every month on the 2nd', 'FREQ=MONTHLY;BYMONTHDAY=2', ['2026-12-02', '2027-01-02', '2027-02-02']],
  [
    { every: 'month', n: 1, on: 'last_day' },
    'every month on the last day',
    'FREQ=MONTHLY;BYMONTHDAY=-1',
    ['2026-12-31', '2027-01-31', '2027-02-28'],
  ],
  [
    { every: 'year', n: 1, on: { week: -1, day: 5 }, until: '2028-12-31' },
    'every year on the last Friday of December until Sun, Dec 31, 2028',
    'FREQ=YEARLY;BYMONTH=12;BYDAY=-1FR;UNTIL=20281231T235959Z',
    ['2026-12-25', '2027-12-31', '2028-12-29'],
  ],
  [
    { every: 'year', n: 1 },
    'every year on December 2',
    'FREQ=YEARLY;BYMONTH=12;BYMONTHDAY=2',
    ['2026-12-02', '2027-12-02', '2028-12-02'],
  ],
];

describe('what is said, what RFC 5545 calls it, and when it goes', () => {
  test.each(cases)('%o', (repeats, words, rule, next) => {
    expect(repeatWords(repeats, FIRST)).toBe(words);
    expect(icalRule(repeats, FIRST)).toBe(rule);
    expect(datesFrom({ date: FIRST, repeats }, FIRST, 3)).toEqual(next);
  });
});

test('the run that comes next: today’s while its hour is to come, then the one after it; none after the last', () => {
  const at = { kind: 'at' as const, date: FIRST, time: '16:00', repeats: { every: 'day', n: 1, times: 2 } as Repeats };
  const now = (time: string) => Date.parse(`2026-12-0${time}-05:00`);
  expect(nextDate(at, now('2T15:59:00'), 'America/New_York')).toBe('2026-12-02');
  expect(nextDate(at, now('2T16:00:00'), 'America/New_York')).toBe('2026-12-03');
  expect(nextDate(at, now('3T16:00:00'), 'America/New_York')).toBeUndefined();
  expect(upcomingAfter(at, '2026-12-03', 'America/New_York')).toBeUndefined();
});

test('it is planned ten minutes before its first text; in each recipient’s own time, before anyone’s day has reached it', () => {
  const at = { kind: 'at' as const, date: FIRST, time: '09:00', repeats: { every: 'day', n: 1 } as Repeats };
  const start = Date.parse('2026-12-03T14:00:00Z');
  expect(upcomingAfter(at, FIRST, 'America/New_York')).toEqual({ date: '2026-12-03', at: start, planAt: start - 600_000 });
  // nine o'clock comes first at UTC+14
  expect(upcomingAfter({ ...at, own: true }, FIRST, 'America/New_York')?.planAt).toBe(
    Date.parse('2026-12-02T19:00:00Z') - 600_000,
  );
});

test('what is said of the first date moves with each run: until when it is evenly spread, and when it is of no use any more', () => {
  const draft: Draft = {
    ...EMPTY_DRAFT,
    when: { kind: 'at', date: '2026-12-02', time: '16:00', repeats: { every: 'week', n: 1 } },
    pace: { kind: 'until', date: '2026-12-02', time: '18:00' },
    no_use_after: { date: '2026-12-03', time: '07:00' },
  };
  expect(runOn(draft, '2026-12-16')).toMatchObject({
    when: { date: '2026-12-16', time: '16:00' },
    pace: { kind: 'until', date: '2026-12-16', time: '18:00' },
    no_use_after: { date: '2026-12-17', time: '07:00' },
  });
  expect(runOn(draft, '2026-12-02')).toEqual(draft);
});
