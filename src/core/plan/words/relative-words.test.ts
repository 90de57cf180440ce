import { describe, expect, test } from 'vitest';
import { OFFERED_LANGUAGES } from '../../text/language';
import { contradicting } from '../reach/history';
import { CONTRARY_WORDS, phraseIn, RELATIVE_WORDS } from './relative-words';
import { relativeWord } from './wording-hints';

describe.each(OFFERED_LANGUAGES)('in %s', (language) => {
  test('each word that turns false is found, also as a sentence begins; no part of another word is', () => {
    for (const word of RELATIVE_WORDS[language]) {
      const begins = word[0].toLocaleUpperCase(language) + word.slice(1);
      expect(relativeWord(`${begins}, 7:10`, language)?.toLowerCase()).toBe(word);
      expect(phraseIn(`x${word}x`, word)).toBeUndefined();
    }
  });
  test('contraries about the same matter contradict', () => {
    const about = 'Ottermere Mill Quay Heron Kittiwake Pine Point';
    for (const [a, b] of CONTRARY_WORDS[language])
      expect(
        contradicting([{ name: 'Heron', by: null, at: 0, words: `${about} ${a}` }], `${about} ${b}`),
        `${a}, ${b}`,
      ).toHaveLength(1);
  });
});

test('an apostrophe is an apostrophe; a word of another language is none of this one', () => {
  expect(relativeWord("Aujourd'hui à 7 h 10", 'fr')).toBe("Aujourd'hui");
  expect(relativeWord('Nu Bar at Mill Quay', 'en')).toBeUndefined();
});
