import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { asItLooks, looksLike, skeletonOf } from './look-alikes';

/**
 * Unicode TR39 (Unicode Security Mechanisms) §4: two strings are confusable when their skeletons are equal. The first pairs are its own
 * examples ("paypal" with Cyrillic а, "scope" all Cyrillic), the rest from its table of confusable characters.
 */
describe('what looks like something else', () => {
  test.each([
    ['paypal', 'pаypаl'],
    ['scope', 'ѕсоре'],
    ['Regulars', 'Rеgulars'],
    ['Class 1', 'Class l'],
    ['Class I', 'Class l'],
    ['OTTER', '0TTER'],
    ['Crew', 'Crеw\u200b'],
    ['modern', 'modem'],
    ['Café', 'Cafe\u0301'],
    ['Mill  Quay', 'Mill Quay'],
    ['Pine\u00a0Point', 'Pine Point'],
  ])('%s and %s', (a, b) => {
    expect(skeletonOf(a)).toBe(skeletonOf(b));
    expect(looksLike(a, ['Kittiwake', b])).toBe(b);
  });

  test.each([
    ['Class 1', 'Class 2'],
    ['Cafe', 'Café'],
    ['Otters', 'OTTERS'],
    ['Mill Quay', 'Mill Key'],
  ])('%s and %s are two', (a, b) => expect(looksLike(a, [b])).toBeUndefined());

  test('a name is not refused for itself', () => expect(looksLike('Crew', ['Crew'])).toBeUndefined());

  test('what comes apart into things that look like others (U+01C4)', () => expect(looksLike('Ǆ', ['DŽ'])).toBe('DŽ'));

  test('a skeleton is its own, whatever the words', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (words) => {
        expect(skeletonOf(skeletonOf(words))).toBe(skeletonOf(words));
      }),
      { numRuns: 2000 },
    ));

  test('words of one script are read as they are; those that only look Latin as they look', () => {
    expect(asItLooks('ЅТОР please')).toBe('stop please');
    expect(asItLooks('Привет')).toBe('Привет');
    expect(asItLooks('l1st')).toBe('l1st');
  });
});
