import { describe, expect, test } from 'vitest';
import { EMPTY_DRAFT, type Draft } from '../draft/draft';
import { sinceTest, testedPart } from './since-test';

const draft = (part: Partial<Draft> = {}): Draft => ({
  ...EMPTY_DRAFT,
  words: 'The Heron is off.',
  translations: { fr: 'Le Heron est à quai.' },
  links: [{ name: 'map', address: 'https://example.org/m' }],
  sender_id: 1,
  ...part,
});
const since = (part: Partial<Draft>) => sinceTest(testedPart(draft()), draft(part), ['en', 'fr', 'es']);

describe('what has changed since a test', () => {
  test('nothing, where only people, times or checks are others', () => {
    expect(
      since({ to: [{ kind: 'everyone' }], when: { kind: 'at', date: '2026-12-03', time: '09:00' }, dismissed: ['quiet hours'] }),
    ).toEqual([]);
    expect(since({ translations: { fr: ' Le Heron est à quai.', es: ' ' }, code_list_id: null })).toEqual([]);
  });
  test.each<[string, Partial<Draft>, string]>([
    ['words', { words: 'The Heron is back.' }, 'the English words'],
    ['words of another language', { translations: { fr: 'Le Heron revient.' } }, 'the French words'],
    ['words that came', { translations: { fr: 'Le Heron est à quai.', es: 'Hola' } }, 'the Spanish words'],
    ['a link that leads elsewhere', { links: [{ name: 'map', address: 'https://example.org/n' }] }, 'the link “map”'],
    ['a link that ends', { links: [{ name: 'map', address: 'https://example.org/m', days: 3 }] }, 'the link “map”'],
    ['a link that went', { links: [] }, 'the link “map”'],
    ['the way out', { opt_out: 'after' }, 'how one opts out'],
    ['its wording', { opt_out_words: { en: 'STOP to end' } }, 'how one opts out'],
    ['the sender', { sender_id: 2 }, 'the sender'],
    ['codes', { code_list_id: 4 }, 'the list of codes'],
  ])('%s', (_what, part, said) => expect(since(part)).toEqual([said]));
});
