import { expect, test } from 'vitest';
import { alike, onTheSameMatter, unusualSize } from './history';
import { NOON, person, planFor } from './testing';

test.each([
  [[40, 42, 38, 41, 40], 1200, 42],
  [[40, 42, 38, 41, 40], 60, undefined],
  // too few to be unusual against
  [[40, 42], 1200, undefined],
  [[2, 3, 2, 2, 1], 12, undefined],
])('sizes %o, now %d', (sizes, people, largest) => expect(unusualSize(sizes, people)).toBe(largest));

test('how much two texts say the same', () => {
  const heron = '{given_name}: the 7:10 AM Heron is off on Thursday. Kittiwake leaves 7:40 AM.';
  expect(alike(heron, heron)).toBe(1);
  expect(alike(heron, 'The Heron is off Thursday; take the Kittiwake at 7:40 AM.')).toBeGreaterThan(0.3);
  expect(alike(heron, 'Berths renew on Jan 15.')).toBe(0);
  expect(alike('', '')).toBe(0);
});

test('what is scheduled and says the same is a hint, with whose it is and when; so are an unusual size and people texted much', () => {
  const crowd = Array.from({ length: 70 }, (_, i) => person(i + 1));
  const words = 'Ottermere: the Heron is off on Thursday.';
  const { summary } = planFor({ words }, crowd, {
    history: {
      sizes: [10, 12, 40, 9, 11],
      texted: new Map([
        [crowd[0].number ?? '', 3],
        [crowd[1].number ?? '', 2],
        ['+12075559999', 9],
      ]),
      others: [
        { name: 'Heron', by: 'Ben Holm', at: NOON + 3_600_000, words: 'Ottermere: the Heron is off on Thursday. Sorry.' },
        { name: 'Berths', by: null, at: NOON, words: 'Berths renew in January' },
      ],
    },
  });
  const of = (check: string) => summary.hints.filter((hint) => hint.check === check).map(({ message }) => message);
  expect(of('unusual size')).toEqual(['70 people is far more than any of your last 5 broadcasts had (40).']);
  expect(of('texted much lately')).toEqual(['1 person has had 3 texts or more in the last 7 days.']);
  expect(of('the same matter')).toEqual(['“Heron” by Ben Holm says much the same and goes Wed, Dec 2, 4:50 PM.']);
  expect(onTheSameMatter([], words)).toEqual([]);
});
