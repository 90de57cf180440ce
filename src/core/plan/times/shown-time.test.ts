import { expect, test } from 'vitest';
import { shownMoment, shownTime } from './shown-time';
import { person, planFor } from '../testing';

test.each([
  ['00:05', '12:05 AM'],
  ['11:59', '11:59 AM'],
  ['12:00', '12:00 PM'],
  ['23:30', '11:30 PM'],
])('%s is %s, or as it stands', (time, said) => {
  expect(shownTime(time, '12')).toBe(said);
  expect(shownTime(time, '24')).toBe(time);
  expect(shownMoment({ date: '2026-12-03', time }, '12')).toBe(`Thu, Dec 3, ${said}`);
});

test('what a plan says of times is in the workspace’s custom', () => {
  const said = (hours: '12' | '24') =>
    planFor({ when: { kind: 'at', date: '2026-12-02', time: '15:30', own: true } }, [person(1)], { workspace: { hours } }).summary
      .must_fix[0].message;
  expect([said('12'), said('24')]).toEqual([
    'It is past 3:30 PM already where 1 of them is.',
    'It is past 15:30 already where 1 of them is.',
  ]);
});
