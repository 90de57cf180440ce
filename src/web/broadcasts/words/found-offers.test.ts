import { expect, test } from 'vitest';
import { offersFound } from './found-offers';
import { mergeFields } from '../../pieces/words/field-names';
import { offersFor } from './put-in';

const custom = ['second phone', 'home landing', 'code name'].map((label) => ({
  slug: label.replace(' ', '_'),
  label,
  type: 'text' as const,
  about: 'person' as const,
}));
const offers = offersFor({
  fields: [...mergeFields(undefined, true), ...custom],
  reader: undefined,
  today: '2026-12-02',
  language: 'en',
  first: 'en',
  sender: 'Ferry desk',
  workspace: 'Ottermere',
  links: ['more', 'timetable'],
  pieces: [],
  codes: true,
  fromFile: false,
  ofWriter: false,
});
const found = (typed: string) => offersFound(offers, typed).map(({ label }) => label);

test('a whole word goes before the beginning of one, and that before its inside', () => {
  // "a month after sending" has an m-o-…, and no "more"
  expect(found('more')).toEqual(['link more']);
  // a whole word first, in the order given
  expect(found('code')).toEqual(['code name', 'one-time code']);
  expect(found('name').slice(0, 2)).toEqual(['given name', 'family name']);
  expect(found('land')).toEqual(['home landing']);
  expect(found('eek')).toEqual(['a week after sending']);
  expect(found('zzz')).toEqual([]);
});

test('hyphens, underscores, case and accents do not matter, and a field is found by its slug', () => {
  for (const typed of ['one-time', 'one time', 'One-Ti', 'opt-out l', 'given_na', 'GIVEN'])
    expect(found(typed).length, typed).toBeGreaterThan(0);
  expect(found('opt-out link')).toEqual(['opt-out link']);
  expect(found('given_name')).toContain('given name');
  expect(found('')).toHaveLength(offers.length);
});
