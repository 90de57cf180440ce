import { expect, test } from 'vitest';
import { takeUp } from './take-up';

const ANA = { name: 'Ana', number: '212-555-0142', place: '' };

test('words come in each language with whoever writes in them; links come along, and nothing is shared with what was taken', () => {
  const links = [{ name: 'map', address: 'https://example.org/m' }];
  const ready = { words: { fr: 'Ici {writer_name}', en: 'This is {writer_name}, {writer_place}' }, links };
  const { part, missing } = takeUp(ready, ['en', 'fr'], ANA);
  expect(part).toEqual({
    words: 'This is Ana, {writer_place}',
    translations: { fr: 'Ici Ana' },
    link: null,
    links,
  });
  expect(part.links?.[0]).not.toBe(links[0]);
  expect(missing).toEqual(['writer_place']);
});

test('opt-out wording comes only from what was sent; without words in the first language there are none', () => {
  expect(takeUp({ words: { fr: 'Salut' }, links: [], opt_out: 'none' }, ['en', 'fr'], ANA).part).toMatchObject({
    words: '',
    translations: { fr: 'Salut' },
    opt_out: 'none',
  });
});
