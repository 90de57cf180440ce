import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { foldKeyword, keywordProblem, lookAlike, readKeyword, saysYes } from './sign-up';

const KEYWORDS = [{ folded: 'ferry' }, { folded: 'été' }, { folded: 'otter class' }].map(({ folded }) => ({
  folded: foldKeyword(folded),
}));

describe('a word by which people sign up', () => {
  test.each([
    ['FERRY', 'ferry'],
    ['ferry.', 'ferry'],
    ['“Ferry”!', 'ferry'],
    ['Ferry please', 'ferry'],
    ['  ferry \n', 'ferry'],
    ['ete', 'ete'],
    ['ÉTÉ svp', 'ete'],
    ['Otter  class', 'otter class'],
    ['ferry ⛴️', 'ferry'],
    ['FЕRRУ', 'ferry'],
    ['fеrrу please', 'ferry'],
    ['is the ferry running', undefined],
    ['not ferry', undefined],
    ['ferry ferry', undefined],
    ['ferries', undefined],
    ['', undefined],
    ['⛴️', undefined],
  ])('%j is read as %s', (text, word) => expect(readKeyword(text, KEYWORDS)?.folded).toBe(word));

  test('one that was stored in letters of its own is still found', () =>
    expect(readKeyword('СОР', [{ folded: 'сор' }])).toEqual({ folded: 'сор' }));

  test.each(['stop', 'STOP ALL', 'Help', 'start', 'arrêt', 'baja', 'info', 'unsubscribe', 'cancel'])(
    '%s means something already',
    (word) => expect(keywordProblem(word)).toBe('reserved'),
  );
  test('nor can it be nothing, a sentence, or a yes', () => {
    expect(['', '⛴️', 'a very long word for a poster', 'Yes', 'sí', '22'].map(keywordProblem)).toEqual([
      'empty',
      'empty',
      'long',
      'yes',
      'yes',
      'figure',
    ]);
    expect(keywordProblem('FERRY')).toBeUndefined();
  });

  test.each(['Yes', 'YES!', 'y', 'oui', 'Sí', 'si por favor', 'ok', '👍', 'yes please', '1'])('%s says yes', (text) =>
    expect(saysYes(text)).toBe(true),
  );
  test.each(['no', 'yes but only for the Heron', 'maybe', '', 'not yes', '👎', 'stop'])('%j does not', (text) =>
    expect(saysYes(text)).toBe(false),
  );

  test.each([
    ['FERRY', 'FERY', true],
    ['BOAT5', 'BOATS', true],
    ['LAKE', 'LAKES', true],
    ['OTTER', '0TTER', true],
    ['PIKE', 'BIKE', true],
    ['HERON', 'KITTIWAKE', false],
    ['OTTERS', 'TADPOLES', false],
    ['AB', 'AC', false],
  ])('%s and %s: %s', (a, b, alike) => {
    expect(lookAlike(a, b)).toBe(alike);
    expect(lookAlike(b, a)).toBe(alike);
  });

  test('whatever is written is read without trouble, and never as a word that it does not consist of', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 400 }), (text) => {
        const read = readKeyword(text, KEYWORDS);
        if (read) expect(foldKeyword(text)).toContain(read.folded);
        saysYes(text);
      }),
    ));
});
