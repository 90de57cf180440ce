import { expect, test } from 'vitest';
import { besidePoster, missingIn, posterLine } from './poster';

const poster = {
  word: 'Ferry ',
  address: '72345',
  purpose: 'marketing' as const,
  consent_wording: 'About two texts a month on sailings and offers.',
  asks_first: true,
};

test('a poster says what to text where, and all that has to stand beside it', () => {
  expect(posterLine(poster)).toBe('Text FERRY to 72345');
  expect(besidePoster(poster, 'Ottermere Ferry')).toEqual([
    'Ottermere Ferry: About two texts a month on sailings and offers.',
    'You are asked to answer YES first.',
    'Agreeing is no condition of buying anything.',
    'Message and data rates may apply. Text HELP for help, STOP to get no more.',
  ]);
  expect(
    besidePoster(
      { ...poster, purpose: 'service', asks_first: false, consent_wording: 'Notices of Ottermere Ferry.' },
      'Ottermere Ferry',
    ),
  ).toEqual(['Notices of Ottermere Ferry.', 'Message and data rates may apply. Text HELP for help, STOP to get no more.']);
});

test.each([
  ['You are on the list.', ['who', 'stop']],
  ['Ottermere Ferry: you are on the list. STOP ends it.', []],
  ['Ottermere: vous êtes inscrit. ARRÊT pour finir.', []],
  ['Ottermere: we do it nonstop', ['stop']],
  ['', []],
])('%j lacks %s', (words, lacks) => expect(missingIn(words, 'Ottermere Ferry')).toEqual(lacks));
