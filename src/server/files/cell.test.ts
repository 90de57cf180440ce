import { expect, test } from 'vitest';
import { cellText, localTime, serialOf } from './cell';

test('a moment stands as the clock of its zone shows it, also in the night of a change', () => {
  expect(localTime('2026-12-02T21:30:05Z', 'America/New_York')).toBe('2026-12-02 16:30:05');
  expect(localTime('2026-11-01T05:59:59Z', 'America/New_York')).toBe('2026-11-01 01:59:59');
  expect(localTime('2026-11-01T06:00:00Z', 'America/New_York')).toBe('2026-11-01 01:00:00');
});

test('days as programs count them (ECMA-376 part 1, §18.17.4.1): 2026-12-02 is 46358; what is before March 1900 is text', () => {
  // as a spreadsheet shows it for DATEVALUE("2026-12-02"); from memory, and by SheetJS in write-xlsx.test
  expect(serialOf({ day: '2026-12-02' })).toBe(46_358);
  expect(serialOf({ at: '2026-12-02T17:00:00Z', zone: 'America/New_York' })).toBe(46_358.5);
  expect(serialOf({ day: '1900-03-01' })).toBe(61);
  expect(serialOf({ day: '1900-02-28' })).toBeUndefined();
});

test('where there is only text', () =>
  expect([cellText(null), cellText(3), cellText({ day: '2026-12-02' }), cellText('0042')]).toEqual([
    '',
    '3',
    '2026-12-02',
    '0042',
  ]));
