import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { afterAll, describe, expect, test } from 'vitest';
import { ruleTimes } from './rule-dates';
import { localInstant } from '../../zones';

/** RFC 5545 §3.8.5.3, "Example": rule, DTSTART (America/New_York, all at 09:00), and the dates it lists, month by month. */
const RFC: [says: string, rule: string, start: string, dates: string][] = [
  ['daily for 10 occurrences', 'FREQ=DAILY;COUNT=10', '1997-09-02', '1997: 9/2-11'],
  ['daily until December 24, 1997', 'FREQ=DAILY;UNTIL=19971224T000000Z', '1997-09-02', '1997: 9/2-30 10/1-31 11/1-30 12/1-23'],
  [
    'every other day, forever',
    'FREQ=DAILY;INTERVAL=2',
    '1997-09-02',
    '1997: 9/2,4,6,8,10,12,14,16,18,20,22,24,26,28,30 10/2,4,6,8,10,12,14,16,18,20,22,24,26,28,30 11/1,3,5,7,9…',
  ],
  ['every 10 days, 5 occurrences', 'FREQ=DAILY;INTERVAL=10;COUNT=5', '1997-09-02', '1997: 9/2,12,22 10/2,12'],
  [
    'every day in January, for 3 years',
    'FREQ=YEARLY;UNTIL=20000131T140000Z;BYMONTH=1;BYDAY=SU,MO,TU,WE,TH,FR,SA',
    '1998-01-01',
    '1998: 1/1-31 1999: 1/1-31 2000: 1/1-31',
  ],
  ['the same, daily', 'FREQ=DAILY;UNTIL=20000131T140000Z;BYMONTH=1', '1998-01-01', '1998: 1/1-31 1999: 1/1-31 2000: 1/1-31'],
  ['weekly for 10 occurrences', 'FREQ=WEEKLY;COUNT=10', '1997-09-02', '1997: 9/2,9,16,23,30 10/7,14,21,28 11/4'],
  [
    'weekly until December 24, 1997',
    'FREQ=WEEKLY;UNTIL=19971224T000000Z',
    '1997-09-02',
    '1997: 9/2,9,16,23,30 10/7,14,21,28 11/4,11,18,25 12/2,9,16,23',
  ],
  [
    'every other week, forever',
    'FREQ=WEEKLY;INTERVAL=2;WKST=SU',
    '1997-09-02',
    '1997: 9/2,16,30 10/14,28 11/11,25 12/9,23 1998: 1/6,20 2/3,17…',
  ],
  [
    'weekly on Tuesday and Thursday for five weeks',
    'FREQ=WEEKLY;UNTIL=19971007T000000Z;WKST=SU;BYDAY=TU,TH',
    '1997-09-02',
    '1997: 9/2,4,9,11,16,18,23,25,30 10/2',
  ],
  [
    'every other week on Monday, Wednesday and Friday until December 24, 1997',
    'FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR',
    '1997-09-01',
    '1997: 9/1,3,5,15,17,19,29 10/1,3,13,15,17,27,29,31 11/10,12,14,24,26,28 12/8,10,12,22',
  ],
  [
    'every other week on Tuesday and Thursday, for 8 occurrences',
    'FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH',
    '1997-09-02',
    '1997: 9/2,4,16,18,30 10/2,14,16',
  ],
  [
    'monthly on the first Friday for 10 occurrences',
    'FREQ=MONTHLY;COUNT=10;BYDAY=1FR',
    '1997-09-05',
    '1997: 9/5 10/3 11/7 12/5 1998: 1/2 2/6 3/6 4/3 5/1 6/5',
  ],
  [
    'monthly on the first Friday until December 24, 1997',
    'FREQ=MONTHLY;UNTIL=19971224T000000Z;BYDAY=1FR',
    '1997-09-05',
    '1997: 9/5 10/3 11/7 12/5',
  ],
  [
    'every other month on the first and last Sunday for 10 occurrences',
    'FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU',
    '1997-09-07',
    '1997: 9/7,28 11/2,30 1998: 1/4,25 3/1,29 5/3,31',
  ],
  [
    'monthly on the second-to-last Monday for 6 months',
    'FREQ=MONTHLY;COUNT=6;BYDAY=-2MO',
    '1997-09-22',
    '1997: 9/22 10/20 11/17 12/22 1998: 1/19 2/16',
  ],
  [
    'monthly on the third-to-the-last day, forever',
    'FREQ=MONTHLY;BYMONTHDAY=-3',
    '1997-09-28',
    '1997: 9/28 10/29 11/28 12/29 1998: 1/29 2/26…',
  ],
  [
    'monthly on the 2nd and 15th for 10 occurrences',
    'FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15',
    '1997-09-02',
    '1997: 9/2,15 10/2,15 11/2,15 12/2,15 1998: 1/2,15',
  ],
  [
    'monthly on the first and last day for 10 occurrences',
    'FREQ=MONTHLY;COUNT=10;BYMONTHDAY=1,-1',
    '1997-09-30',
    '1997: 9/30 10/1,31 11/1,30 12/1,31 1998: 1/1,31 2/1',
  ],
  [
    'every 18 months on the 10th thru 15th for 10 occurrences',
    'FREQ=MONTHLY;INTERVAL=18;COUNT=10;BYMONTHDAY=10,11,12,13,14,15',
    '1997-09-10',
    '1997: 9/10-15 1999: 3/10-13',
  ],
  [
    'every Tuesday, every other month',
    'FREQ=MONTHLY;INTERVAL=2;BYDAY=TU',
    '1997-09-02',
    '1997: 9/2,9,16,23,30 11/4,11,18,25 1998: 1/6,13,20,27 3/3,10,17,24,31…',
  ],
  [
    'yearly in June and July for 10 occurrences',
    'FREQ=YEARLY;COUNT=10;BYMONTH=6,7',
    '1997-06-10',
    '1997: 6/10 7/10 1998: 6/10 7/10 1999: 6/10 7/10 2000: 6/10 7/10 2001: 6/10 7/10',
  ],
  [
    'every other year in January, February and March for 10 occurrences',
    'FREQ=YEARLY;INTERVAL=2;COUNT=10;BYMONTH=1,2,3',
    '1997-03-10',
    '1997: 3/10 1999: 1/10 2/10 3/10 2001: 1/10 2/10 3/10 2003: 1/10 2/10 3/10',
  ],
  [
    'every third year on the 1st, 100th and 200th day for 10 occurrences',
    'FREQ=YEARLY;INTERVAL=3;COUNT=10;BYYEARDAY=1,100,200',
    '1997-01-01',
    '1997: 1/1 4/10 7/19 2000: 1/1 4/9 7/18 2003: 1/1 4/10 7/19 2006: 1/1',
  ],
  ['every 20th Monday of the year, forever', 'FREQ=YEARLY;BYDAY=20MO', '1997-05-19', '1997: 5/19 1998: 5/18 1999: 5/17…'],
  ['Monday of week number 20, forever', 'FREQ=YEARLY;BYWEEKNO=20;BYDAY=MO', '1997-05-12', '1997: 5/12 1998: 5/11 1999: 5/17…'],
  [
    'every Thursday in March, forever',
    'FREQ=YEARLY;BYMONTH=3;BYDAY=TH',
    '1997-03-13',
    '1997: 3/13,20,27 1998: 3/5,12,19,26 1999: 3/4,11,18,25…',
  ],
  [
    'every Thursday, but only during June, July and August',
    'FREQ=YEARLY;BYDAY=TH;BYMONTH=6,7,8',
    '1997-06-05',
    '1997: 6/5,12,19,26 7/3,10,17,24,31 8/7,14,21,28 1998: 6/4,11,18,25 7/2,9,16,23,30 8/6,13,20,27…',
  ],
  [
    'every Friday the 13th, forever',
    'FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13',
    '1997-09-02',
    '1998: 2/13 3/13 11/13 1999: 8/13 2000: 10/13…',
  ],
  [
    'the first Saturday that follows the first Sunday of the month, forever',
    'FREQ=MONTHLY;BYDAY=SA;BYMONTHDAY=7,8,9,10,11,12,13',
    '1997-09-13',
    '1997: 9/13 10/11 11/8 12/13 1998: 1/10 2/7 3/7 4/11 5/9 6/13…',
  ],
  [
    'every 4 years, the first Tuesday after a Monday in November',
    'FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8',
    '1996-11-05',
    '1996: 11/5 2000: 11/7 2004: 11/2…',
  ],
  [
    'the third instance into the month of one of Tuesday, Wednesday or Thursday, for 3 months',
    'FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3',
    '1997-09-04',
    '1997: 9/4 10/7 11/6',
  ],
  [
    'the second-to-last weekday of the month',
    'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2',
    '1997-09-29',
    '1997: 9/29 10/30 11/27 12/30 1998: 1/29 2/26 3/30…',
  ],
  ['weeks that begin on Monday', 'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO', '1997-08-05', '1997: 8/5,10,19,24'],
  ['weeks that begin on Sunday', 'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU', '1997-08-05', '1997: 8/5,17,19,31'],
  ['a date that does not exist is ignored', 'FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5', '2007-01-15', '2007: 1/15,30 2/15 3/15,30'],
];

/** "1997: 9/2-4,9 10/1" → dates; an ellipsis says that it goes on. */
function listed(dates: string): string[] {
  let year = '';
  return dates
    .replace('…', '')
    .split(' ')
    .flatMap((piece) => {
      if (piece.endsWith(':')) {
        year = piece.slice(0, -1);
        return [];
      }
      const [month, days] = piece.split('/');
      return days.split(',').flatMap((each) => {
        const [from, to = from] = each.split('-').map(Number);
        return Array.from(
          { length: to - from + 1 },
          (_, i) => `${year}-${month.padStart(2, '0')}-${String(from + i).padStart(2, '0')}`,
        );
      });
    });
}

describe.each([
  ['UTC', 0],
  ['Asia/Kathmandu', -345],
  ['Pacific/Honolulu', 600],
] as const)('RFC 5545 §3.8.5.3, in a process whose zone is %s', (zone, offset) => {
  const before = process.env.TZ;
  afterAll(() => {
    process.env.TZ = before;
  });
  test.each(RFC)('%s', (_says, rule, start, dates) => {
    process.env.TZ = zone;
    expect(new Date(2026, 0, 1).getTimezoneOffset()).toBe(offset);
    const want = listed(dates);
    const goesOn = dates.endsWith('…');
    const got = ruleTimes({ rule, start: `${start}T09:00` }, `${start}T00:00`, want.length + 1);
    expect(got.slice(0, want.length)).toEqual(want.map((date) => `${date}T09:00`));
    expect(got.length).toBe(goesOn ? want.length + 1 : want.length);
    // 9 AM stays 9 AM: 13:00 UTC while summer time lasts (to the last Sunday of October, 1997), 14:00 after it
    for (const wall of got.filter((each) => each.startsWith('1997-1'))) {
      const utc = new Date(localInstant(wall.slice(0, 10), wall.slice(11), 'America/New_York').instant).toISOString();
      expect(utc.slice(11, 16)).toBe(wall < '1997-10-26' ? '13:00' : '14:00');
    }
  });
});

describe('through changes of the clock (IANA time zone database)', () => {
  const daily = (from: string, time: string, zone: string) =>
    ruleTimes({ rule: 'FREQ=DAILY;COUNT=3', start: `${from}T${time}` }, `${from}T00:00`, 3).map((wall) => {
      const { instant, note } = localInstant(wall.slice(0, 10), time, zone);
      return [new Date(instant).toISOString().slice(0, 16), note];
    });
  test.each([
    [
      'New York 2026, forward',
      '2026-03-07',
      '02:30',
      'America/New_York',
      ['2026-03-07T07:30', '2026-03-08T07:30', '2026-03-09T06:30'],
      'gap',
    ],
    [
      'New York 2026, back',
      '2026-10-31',
      '01:30',
      'America/New_York',
      ['2026-10-31T05:30', '2026-11-01T05:30', '2026-11-02T06:30'],
      'twice',
    ],
    [
      'New York 2027, forward',
      '2027-03-13',
      '02:30',
      'America/New_York',
      ['2027-03-13T07:30', '2027-03-14T07:30', '2027-03-15T06:30'],
      'gap',
    ],
    [
      'New York 2027, back',
      '2027-11-06',
      '01:30',
      'America/New_York',
      ['2027-11-06T05:30', '2027-11-07T05:30', '2027-11-08T06:30'],
      'twice',
    ],
    [
      'Berlin 2026, forward',
      '2026-03-28',
      '02:30',
      'Europe/Berlin',
      ['2026-03-28T01:30', '2026-03-29T01:30', '2026-03-30T00:30'],
      'gap',
    ],
    [
      'Berlin 2026, back',
      '2026-10-24',
      '02:30',
      'Europe/Berlin',
      ['2026-10-24T00:30', '2026-10-25T00:30', '2026-10-26T01:30'],
      'twice',
    ],
    [
      'Berlin 2027, forward',
      '2027-03-27',
      '02:30',
      'Europe/Berlin',
      ['2027-03-27T01:30', '2027-03-28T01:30', '2027-03-29T00:30'],
      'gap',
    ],
    [
      'Berlin 2027, back',
      '2027-10-30',
      '02:30',
      'Europe/Berlin',
      ['2027-10-30T00:30', '2027-10-31T00:30', '2027-11-01T01:30'],
      'twice',
    ],
    // half an hour, on the first Sunday of October and of April
    [
      'Lord Howe, forward',
      '2026-10-03',
      '02:15',
      'Australia/Lord_Howe',
      ['2026-10-02T15:45', '2026-10-03T15:45', '2026-10-04T15:15'],
      'gap',
    ],
    [
      'Lord Howe, back',
      '2027-04-03',
      '01:45',
      'Australia/Lord_Howe',
      ['2027-04-02T14:45', '2027-04-03T14:45', '2027-04-04T15:15'],
      'twice',
    ],
    [
      'Kathmandu, +05:45, no change',
      '2026-03-28',
      '09:00',
      'Asia/Kathmandu',
      ['2026-03-28T03:15', '2026-03-29T03:15', '2026-03-30T03:15'],
      undefined,
    ],
  ])('%s', (_says, from, time, zone, instants, note) => {
    const got = daily(from, time, zone);
    expect(got.map(([instant]) => instant)).toEqual(instants);
    expect(got.map(([, each]) => each)).toEqual([undefined, note, undefined]);
  });
});

test('skipped dates do not come, extra ones do, each once, in order; COUNT counts what the rule itself gives (§3.3.10)', () => {
  const rule = { rule: 'FREQ=WEEKLY;COUNT=4', start: '2026-12-01T10:00' };
  expect(
    ruleTimes({ ...rule, skip: ['2026-12-08'], extra: ['2026-12-10', '2026-12-15', '2026-11-01'] }, '2026-12-01T00:00', 9),
  ).toEqual(['2026-12-01', '2026-12-10', '2026-12-15', '2026-12-22'].map((date) => `${date}T10:00`));
  expect(ruleTimes({ ...rule, extra: ['2027-01-05'] }, '2026-12-16T00:00', 2)).toEqual(['2026-12-22T10:00', '2027-01-05T10:00']);
});

test('a rule that never comes is none; one that cannot be read is said', () => {
  expect(ruleTimes({ rule: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30', start: '2026-01-01T10:00' }, '2026-01-01T00:00', 3)).toEqual(
    [],
  );
  expect(() => ruleTimes({ rule: 'FREQ=SOMETIMES', start: '2026-01-01T10:00' }, '2026-01-01T00:00', 3)).toThrow();
});

test('wherever one begins to look, the same dates follow', () => {
  const rules = fc.constantFrom(
    'FREQ=DAILY;INTERVAL=3',
    'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,SA',
    'FREQ=MONTHLY;BYMONTHDAY=31',
    'FREQ=MONTHLY;BYDAY=-1FR;COUNT=30',
  );
  fc.assert(
    fc.property(rules, fc.integer({ min: 0, max: 700 }), (rule, days) => {
      const spec = { rule, start: '2026-12-02T10:00' };
      const from = Temporal.PlainDate.from('2026-12-02').add({ days }).toString();
      const all = ruleTimes(spec, '2026-12-02T00:00', 400).filter((wall) => wall >= from);
      expect(ruleTimes(spec, `${from}T00:00`, 5)).toEqual(all.slice(0, 5));
    }),
    { numRuns: 60 },
  );
});
