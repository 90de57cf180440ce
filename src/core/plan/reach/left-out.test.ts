import { expect, test } from 'vitest';
import { CANNOT_BE_TEXTED, DROP_REASONS, LEFT_OUT_STEPS, LEFT_OUT_WORDS } from './reach';

test('each step by which people leave has words of its own, and the timetable’s comes last', () => {
  expect(LEFT_OUT_STEPS.slice(0, -1)).toEqual([...DROP_REASONS]);
  expect(LEFT_OUT_STEPS.at(-1)).toBe('too_late');
  const words = LEFT_OUT_STEPS.map((step) => LEFT_OUT_WORDS[step]);
  expect(new Set(words).size).toBe(words.length);
  expect(words.every((each) => each.trim() !== '')).toBe(true);
});

test('who cannot be texted at all leaves by steps that there are', () => {
  expect(CANNOT_BE_TEXTED.filter((step) => !DROP_REASONS.includes(step))).toEqual([]);
});
