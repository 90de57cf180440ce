import { describe, expect, test } from 'vitest';
import { countryOf } from '../people/heading/country-code';
import { phoneHeading } from '../people/heading/phone-heading';
import { saysReference } from '../people/heading/reference-heading';
import { saidAboutTexts, textingHeading } from '../people/heading/texting-heading';
import { bornOf, dayOf } from '../people/day';
import { looksLikePhone } from '../people/match';
import { numberOf, yesOrNo } from '../people/person-fields';
import { SAFE_FIXES } from '../people/mend-number';
import { prepareRow } from '../people/prepare';
import { slugOf, type Target } from '../people/targets';
import { oneLine } from '../text/tidy';
import { readPhone } from './read';
import { findDamage } from './repair';

/** The worst of each kind: what makes an expression begin again at every character. */
const WORST: Record<string, (n: number) => string> = {
  'a number, many blanks and a letter': (n) => `207-555-0142${' '.repeat(n)}x`,
  'digits and an E': (n) => `${'1'.repeat(n)}E`,
  blanks: (n) => `a${' '.repeat(n)}b`,
  'dots and zeros': (n) => `${'0.'.repeat(n / 2)}x`,
  brackets: (n) => `${'('.repeat(n)}2075550142`,
  commas: (n) => '1,'.repeat(n / 2),
  slashes: (n) => `${'207555014/'.repeat(n / 10)}x`,
  underscores: (n) => `${'_'.repeat(n)}x`,
  colons: (n) => `a${':'.repeat(n)}x`,
  negations: (n) => 'no '.repeat(n / 3),
  'ext ext': (n) => `2075550142 ${'ext '.repeat(n / 4)}`,
};
const rules = (match: Target[]) => ({
  match,
  country: 'US',
  fixes: new Set(SAFE_FIXES),
  twoNumbers: 'first' as const,
  dayFirst: false,
  types: new Map(),
  dependantTypes: new Map(),
});
const PARSERS: Record<string, (text: string) => unknown> = {
  findDamage,
  readPhone: (text) => readPhone(text, { country: 'US' }),
  looksLikePhone: (text) => looksLikePhone(text, 'US'),
  textingHeading,
  saidAboutTexts: (text) => saidAboutTexts(text, 'refuses'),
  phoneHeading,
  saysReference,
  countryOf,
  yesOrNo,
  numberOf,
  dayOf: (text) => dayOf(text, true),
  bornOf: (text) => bornOf(text, true, '2026-12-02'),
  slugOf,
  oneLine,
  prepareRow: (text) =>
    prepareRow([text, text, text, text, text], rules(['number', 'full_name', 'tags', 'consent', 'field:note'])),
};

/** The best of several in the processor's own time, so that what else the machine does is not counted, ms. */
function best(work: () => unknown): number {
  let least = Infinity;
  for (let i = 0; i < 7; i += 1) {
    const began = process.cpuUsage();
    work();
    least = Math.min(least, process.cpuUsage(began).user / 1000);
  }
  return least;
}

describe('time grows no faster than the text', () => {
  for (const [name, parse] of Object.entries(PARSERS))
    test(name, () => {
      for (const [what, worst] of Object.entries(WORST)) {
        // eight times the text: some eight times the time when it is linear, sixty-four when it is not. A millisecond is added to
        // both sides, since below it the clock and the machine decide
        const short = best(() => parse(worst(25_000)));
        let long = best(() => parse(worst(200_000)));
        // what is linear is so at some time; what is not never is
        for (let again = 0; again < 5 && (long + 1) / (short + 1) >= 2.6 ** 3; again += 1)
          long = Math.min(
            long,
            best(() => parse(worst(200_000))),
          );
        expect((long + 1) / (short + 1), `${name} of ${what}: ${short.toFixed(2)} → ${long.toFixed(2)} ms`).toBeLessThan(
          2.6 ** 3,
        );
      }
    });
});
