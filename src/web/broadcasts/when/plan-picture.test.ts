import { expect, test } from 'vitest';
import { rangeOf, ticksOf } from './PlanPicture';

const ZONE = 'America/New_York';
const at = (time: string) => Date.parse(`2026-12-02T${time}-05:00`);

test('two minutes are drawn as two minutes, with a mark each minute', () => {
  const [from, to] = rangeOf(at('16:30:00'), at('16:32:10'));
  expect([from, to]).toEqual([at('16:28:00'), at('16:35:00')]);
  expect(ticksOf(from, to, ZONE, 8)).toHaveLength(8);
});

test('a day is drawn as a day: marks where a clock has them, at most so many', () => {
  const [from, to] = rangeOf(at('09:00:00'), at('21:00:00'));
  const ticks = ticksOf(from, to, ZONE, 8);
  expect(ticks.length).toBeLessThanOrEqual(9);
  expect(ticks.map((tick) => new Date(tick).getUTCMinutes())).toEqual(ticks.map(() => 0));
});
