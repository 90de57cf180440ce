import { expect, test } from 'vitest';
import { measure } from '../text/measure';
import { OFFERED_LANGUAGES } from '../text/language';
import { formatDay, patternProblem } from './date-pattern';
import { dayPattern, greetingIn } from './day-order';

test.each([
  ['en', 'Wed, Dec 2'],
  ['fr', 'mer. 2 déc.'],
  ['de', 'Mi, 2. Dez'],
  ['nl', 'wo 2 dec'],
])('a day in %s stands in its order (Unicode CLDR)', (language, written) =>
  expect(formatDay('2026-12-02', dayPattern(language), language)).toBe(written),
);

test.each(OFFERED_LANGUAGES)(
  '%s: a pattern that is one of ours and says what Intl says; a greeting that costs no part',
  (language) => {
    for (const weekday of [true, false]) {
      const pattern = dayPattern(language, weekday);
      expect(patternProblem(pattern)).toBeUndefined();
      const intl = new Intl.DateTimeFormat(language, {
        ...{ timeZone: 'UTC', day: 'numeric', month: 'short' },
        ...(weekday ? { weekday: 'short' } : {}),
      });
      const digits = (text: string) => text.replace(/[^\p{L}\p{N}]/gu, '').toLowerCase();
      expect(digits(formatDay('2026-12-02', pattern, language)).slice(0, 4)).toBe(
        digits(intl.format(Date.UTC(2026, 11, 2))).slice(0, 4),
      );
    }
    expect(measure(greetingIn(language)).alphabet).toBe('gsm7');
  },
);
