import { describe, expect, test } from 'vitest';
import { alike, contradicting, onTheSameMatter, unusualSize } from './history';
import { destinationsOf, rateOf } from '../money/destinations';
import { NOON, person, planFor } from '../testing';

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

describe('one that contradicts', () => {
  const other = (words: string) => [{ name: 'Heron', by: null, at: NOON, words }];
  test.each([
    [
      'Heron: the 7:10 AM is off Thursday, take the Kittiwake 7:40 AM.',
      'Heron: the 7:10 AM is off Thursday, take the Kittiwake 8:10 AM.',
      { theirs: '7:40 AM', mine: '8:10 AM' },
    ],
    ['The Heron is off on Thursday.', 'The Heron is on again on Thursday.', { theirs: 'is off', mine: 'is on' }],
    ['The pier at Mill Quay is closed Friday', 'The pier at Mill Quay is open Friday', { theirs: 'closed', mine: 'open' }],
    ['The 17:30 from Pine Point is late', 'The 17:45 from Pine Point is late', { theirs: '17:30', mine: '17:45' }],
  ])('%s / %s', (said, words, differs) => expect(contradicting(other(said), words)).toMatchObject([differs]));
  test.each([
    ['the same time written otherwise', 'The Heron leaves 7:00 AM Thursday', 'The Heron leaves at 7 am Thursday'],
    ['another matter', 'Berths renew at 9:00 AM', 'The Heron leaves Mill Quay 7:10 AM'],
    ['more of the same', 'The Heron leaves 7:10 AM', 'The Heron leaves 7:10 AM, back 5:30 PM'],
  ])('%s does not', (_what, said, words) => expect(contradicting(other(said), words)).toEqual([]));
  test('it is a hint with its place and when it goes', () => {
    const { summary } = planFor({ words: 'Ottermere: the Heron leaves 8:10 AM Thursday' }, [person(1)], {
      history: { sizes: [], texted: new Map(), others: other('Ottermere: the Heron leaves 7:40 AM Thursday') },
    });
    expect(summary.hints.filter(({ check }) => ['one that contradicts', 'the same matter'].includes(check))).toMatchObject([
      {
        check: 'one that contradicts',
        place: 'words',
        message: expect.stringContaining('says “7:40 AM” where this says “8:10 AM”') as string,
      },
    ]);
  });
});

test('a link that ends while its text is of use is a hint', () => {
  const of = (days: number | undefined) =>
    planFor(
      {
        words: 'Ottermere {link map}',
        links: [{ name: 'map', address: 'https://example.org/', days }],
        no_use_after: { date: '2026-12-05', time: '12:00' },
      },
      [person(1)],
    ).summary.hints.some(({ check }) => check === 'links that end too soon');
  expect([of(1), of(2), of(9), of(undefined)]).toEqual([true, true, false, false]);
});

test('those that a remark speaks of can be looked at', () => {
  const crowd = [
    person(1, { family_name: '' }),
    person(2, { language: 'es' }),
    person(3, { number: '+442079460123', number_kind: 'mobile' }),
  ];
  const plan = planFor({ words: 'Ottermere: {family_name}' }, crowd, {
    history: { sizes: [], texted: new Map([[crowd[0].number ?? '', 4]]), others: [] },
  });
  const steps = [...plan.summary.must_fix, ...plan.summary.hints].flatMap(({ step }) => step ?? []);
  expect(steps).toEqual(['missing_family_name', 'unworded', 'texted_much']);
  expect(steps.map((step) => plan.hinted.get(step)?.people.map(({ id }) => id))).toEqual([[1], [2], [1]]);
});

test('what it costs by where it goes, the dearest first; a number of no line of the rate card is none of them', () => {
  const rates = [
    { prefix: '+1', destination: 'United States, Canada', price_micro: 7500 },
    { prefix: '+44', destination: 'United Kingdom', price_micro: 31_000 },
    { prefix: '+1876', destination: 'Jamaica', price_micro: 90_000 },
  ];
  const { texts } = planFor({}, [
    person(1),
    person(2),
    person(3, { number: '+442079460123' }),
    person(4, { number: '+18765550142' }),
    person(5, { number: '+4915115550142' }),
  ]);
  for (let i = 0; i < texts.count; i += 1) {
    texts.rate[i] = rateOf(rates)(texts.people[i].number ?? '');
    texts.cost[i] = rates[texts.rate[i]]?.price_micro ?? 0;
  }
  expect(destinationsOf(texts, rates)).toEqual([
    { prefix: '+1876', name: 'Jamaica', people: 1, parts: 1, cost_micro: 90_000 },
    { prefix: '+44', name: 'United Kingdom', people: 1, parts: 1, cost_micro: 31_000 },
    { prefix: '+1', name: 'United States, Canada', people: 2, parts: 2, cost_micro: 15_000 },
  ]);
});

test('a field that there is none of is one mistake, not also a value that people lack', () => {
  const { must_fix } = planFor({ words: 'Ottermere: {given_nme}' }, [person(1)]).summary;
  expect(must_fix.map(({ message }) => message)).toEqual(['There is no field “given_nme”.']);
});
