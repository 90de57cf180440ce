import { expect, test } from 'vitest';
import { person, planFor } from '../testing';

const crowd = [
  ...Array.from({ length: 30 }, (_, i) => person(i + 1)),
  ...Array.from({ length: 12 }, (_, i) => person(i + 100, { zone: 'America/Chicago' })),
  ...Array.from({ length: 5 }, (_, i) => person(i + 200, { zone: 'America/Toronto' })),
];

test('every text stands in the course once, in its zone’s row; zones on one clock are one row', () => {
  const { summary } = planFor({ when: { kind: 'at', date: '2026-12-03', time: '10:00', own: true } }, crowd);
  expect(summary.course).toMatchObject({ from: '2026-12-03T15:00:00.000Z', step_seconds: 30 });
  const rows = summary.course?.zones.map(({ zone, texts }) => [zone, texts.reduce((sum, n) => sum + n, 0)]);
  expect(rows).toEqual([
    ['America/New_York', 35],
    ['America/Chicago', 12],
  ]);
  // theirs an hour later
  expect(summary.course?.zones[1].texts.findIndex((n) => n > 0)).toBe(120);
});

test('a course over days has longer steps, and stays short', () => {
  const slow = planFor({ pace: { kind: 'a_minute', texts: 1 }, allowed: { days: [1], from: '09:00', to: '09:05' } }, crowd);
  expect(slow.summary.course === null || slow.summary.course.zones.every(({ texts }) => texts.length <= 240)).toBe(true);
});

test('a run of two minutes is drawn by the second, not as one bar; one of many texts stays with minutes', () => {
  const { summary } = planFor({ pace: { kind: 'a_minute', texts: 20 } }, crowd);
  expect(summary.course?.step_seconds).toBe(1);
  expect(summary.course?.all.reduce((sum, n) => sum + n, 0)).toBe(47);
  expect(summary.course?.all.filter((n) => n > 0).length).toBeGreaterThan(40);
  // it begins with the first text, however far that is from a whole minute
  expect(summary.course?.all[0]).toBeGreaterThan(0);
  const many = Array.from({ length: 5001 }, (_, i) => person(i + 1));
  expect(planFor({}, many).summary.course?.step_seconds).toBe(60);
});

test('nobody, no course', () => {
  expect(planFor({}, []).summary.course).toBeNull();
});
