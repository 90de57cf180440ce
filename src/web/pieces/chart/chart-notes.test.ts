import { expect, test } from 'vitest';
import { notesAlong } from './chart-notes';

const FROM = Date.parse('2026-12-02T20:00:00Z');
const at = (minutes: number) => new Date(FROM + minutes * 60_000).toISOString();

test('what happened stands where it happened; what lies outside is not of the picture', () => {
  const events = [
    { at: at(-30), what: 'agreed' },
    { at: at(-0.5), what: 'words changed' },
    { at: at(2.5), what: 'paused' },
    { at: at(9.8), what: 'went on' },
    { at: at(600), what: 'put right' },
  ];
  const starts = Array.from({ length: 10 }, (_, i) => FROM + i * 60_000);
  expect(notesAlong(events, starts, 60_000)).toEqual([
    { at: 0, says: 'words changed' },
    { at: 2.5, says: 'paused' },
    { at: 9, says: 'went on' },
  ]);
});

test('minutes in which nothing was have no place: what happened in them stands between those beside it', () => {
  const starts = [FROM, FROM + 60_000, FROM + 300_000];
  expect(notesAlong([{ at: at(3), what: 'line broke' }], starts, 60_000)).toEqual([{ at: 1.5, says: 'line broke' }]);
  expect(notesAlong([{ at: at(3), what: 'line broke' }], [], 60_000)).toEqual([]);
});
