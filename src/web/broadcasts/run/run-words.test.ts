import { expect, test } from 'vitest';
import { stillOpen } from './run-words';

test.each([
  ['finished', { delivered: 40, with_carrier: 1 }, 'all handed over; 1 with the carrier'],
  ['finished', { delivered: 40, with_carrier: 1200, uncertain: 2 }, 'all handed over; 1,200 with the carrier, 2 uncertain'],
  ['stopped', { delivered: 3, with_carrier: 4, not_sent: 9 }, 'the rest is canceled; 4 with the carrier'],
  ['sending', { handing_over: 3, with_carrier: 4 }, 'the last are going; 3 being handed over, 4 with the carrier'],
  // while some have not gone the page tells how long that takes
  ['sending', { planned: 5, with_carrier: 4 }, ''],
  ['finished', { delivered: 41 }, ''],
  ['waiting', { planned: 41 }, ''],
])('what is open of a run that is %s with %j', (state, tally, says) => {
  expect(stillOpen({ state, ended_at: null }, tally as Record<string, number>)).toBe(says);
});
