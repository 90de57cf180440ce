import { expect, test } from 'vitest';
import { differences } from './differences';
import { DROP_REASONS } from '../reach/reach';

const plan = (part: object = {}) => ({
  ...{ chosen: 45, people: 41, parts: 41, cost_micro: 307_500, fallback: 2, opt_out_words: 'STOP to opt out' },
  ...{ first: '2026-12-02T22:30:00.000Z', last: '2026-12-02T22:32:00.000Z' },
  sender: { id: 1, name: 'Ferry desk', kind: 'short' as const, address: '72345', reply_days: null },
  dropped: {
    ...(Object.fromEntries(DROP_REASONS.map((reason) => [reason, 0])) as Record<(typeof DROP_REASONS)[number], number>),
    too_late: 0,
    opted_out: 4,
  },
  ...part,
});

test('the same figures differ in nothing', () => expect(differences(plan(), plan())).toEqual([]));

test('somebody who opted out meanwhile: fewer people, parts, money, and the reason', () =>
  expect(
    differences(plan(), plan({ people: 40, parts: 40, cost_micro: 300_000, dropped: { ...plan().dropped, opted_out: 5 } })),
  ).toEqual([
    { of: 'people', kind: 'count', before: 41, after: 40 },
    { of: 'text parts', kind: 'count', before: 41, after: 40 },
    { of: 'cost', kind: 'money', before: 307_500, after: 300_000 },
    { of: 'opted out', kind: 'count', before: 4, after: 5 },
  ]));

test('seconds are not shown and so are no difference; a minute is', () => {
  expect(differences(plan(), plan({ first: '2026-12-02T22:30:59.999Z' }))).toEqual([]);
  expect(differences(plan(), plan({ last: '2026-12-02T22:33:00.000Z' }))).toMatchObject([{ of: 'last', kind: 'time' }]);
  expect(differences(plan(), plan({ last: null }))).toMatchObject([{ of: 'last', after: null }]);
});

test('a reason that only one of them knows counts from zero', () =>
  expect(differences(plan({ dropped: {} }), plan({ dropped: { too_late: 3 } }))).toEqual([
    { of: 'no allowed hour in time', kind: 'count', before: 0, after: 3 },
  ]));
