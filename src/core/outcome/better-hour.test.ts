import { expect, test } from 'vitest';
import { betterHour } from './better-hour';

const NY = 'America/New_York';
test.each([
  // went, now, and when to try: Eastern is five hours behind in December
  ['at nine: this evening', '2026-12-02T14:00:00Z', '2026-12-02T20:50:00Z', '2026-12-02', '17:30'],
  ['at nine, and it is nearly that evening’s time', '2026-12-02T14:00:00Z', '2026-12-02T22:05:00Z', '2026-12-03', '17:30'],
  ['in the evening: the next morning', '2026-12-02T23:00:00Z', '2026-12-03T02:00:00Z', '2026-12-03', '10:00'],
  ['in an evening long ago, looked at before ten', '2026-11-02T23:00:00Z', '2026-12-03T13:00:00Z', '2026-12-03', '10:00'],
  ['at two exactly, on the last day of the year', '2026-12-31T19:00:00Z', '2026-12-31T19:30:00Z', '2027-01-01', '10:00'],
])('what went %s', (_, went, now, date, time) =>
  expect(betterHour(Date.parse(went), Date.parse(now), NY)).toEqual({ date, time }),
);
