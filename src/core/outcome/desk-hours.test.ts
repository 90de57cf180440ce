import { expect, test } from 'vitest';
import { atDesk } from './desk-hours';

const at = (time: string) => Date.parse(time);
const WEEK = { days: [1, 2, 3, 4, 5], from: '08:00', to: '17:00' };

test.each([
  ['2026-12-02T08:00:00-05:00', true],
  ['2026-12-02T07:59:00-05:00', false],
  ['2026-12-02T16:59:59-05:00', true],
  ['2026-12-02T17:00:00-05:00', false],
  ['2026-12-05T12:00:00-05:00', false],
])('on weekdays from eight to five, %s: %s', (time, there) => expect(atDesk(WEEK, at(time), 'America/New_York')).toBe(there));

test('hours past midnight belong to the day they began on, in the zone of the desk', () => {
  const night = { days: [5], from: '22:00', to: '02:00' };
  expect(atDesk(night, at('2026-12-05T01:30:00-05:00'), 'America/New_York')).toBe(true);
  expect(atDesk(night, at('2026-12-04T01:30:00-05:00'), 'America/New_York')).toBe(false);
  expect(atDesk(night, at('2026-12-05T04:00:00Z'), 'America/New_York')).toBe(true);
  expect(atDesk(night, at('2026-12-05T04:00:00Z'), 'UTC')).toBe(false);
});
