import fc from 'fast-check';
import { expect, test } from 'vitest';
import { overTime, type RunFigures } from './over-time';

const run = (at: string, part: Partial<RunFigures> = {}): RunFigures => ({
  at: Date.parse(at),
  delivered: 100,
  answers: 10,
  clicked: 5,
  linked: 50,
  opted_out: 1,
  spent_micro: 750_000,
  sender: 'Ferry desk',
  labels: [],
  ...part,
});
const ZONE = 'America/New_York';

test('by the hour and day where the workspace is, over the change of the clocks', () => {
  // 9 AM on both sides of Sunday, November 1, 2026, when the clocks go back
  const { hours, weekdays, months } = overTime([run('2026-10-31T13:00:00Z'), run('2026-11-01T14:00:00Z')], ZONE);
  expect(hours[9]).toMatchObject({ runs: 2, delivered: 200, answers: 20 });
  expect(weekdays.map(({ runs }) => runs)).toEqual([0, 0, 0, 0, 0, 1, 1]);
  expect(months.map(({ month, runs }) => [month, runs])).toEqual([
    ['2026-10', 1],
    ['2026-11', 1],
  ]);
});

test('a month without runs stands there with nothing; a run with two labels counts with each', () => {
  const { months, labels, senders } = overTime(
    [
      run('2025-11-05T15:00:00Z', { labels: ['ferry', 'fog'] }),
      run('2026-02-05T15:00:00Z', { sender: 'Boathouse', spent_micro: 1 }),
    ],
    ZONE,
  );
  expect(months.map(({ month }) => month)).toEqual(['2025-11', '2025-12', '2026-01', '2026-02']);
  expect(labels.map(({ name, spent_micro }) => [name, spent_micro])).toEqual([
    ['ferry', 750_000],
    ['fog', 750_000],
    ['', 1],
  ]);
  expect(senders.map(({ name }) => name)).toEqual(['Ferry desk', 'Boathouse']);
  expect(overTime([], ZONE).months).toEqual([]);
});

test('each way of taking runs together holds every run once, but for labels', () =>
  fc.assert(
    fc.property(fc.array(fc.integer({ min: Date.UTC(2020, 0), max: Date.UTC(2030, 0) }), { maxLength: 40 }), (times) => {
      const all = overTime(
        times.map((at) => ({ ...run('2026-01-01T00:00:00Z'), at })),
        ZONE,
      );
      for (const each of [all.hours, all.weekdays, all.months, all.senders])
        expect(each.reduce((sum, { runs }) => sum + runs, 0)).toBe(times.length);
    }),
  ));
