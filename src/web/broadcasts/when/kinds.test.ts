import { beforeEach, expect, test } from 'vitest';
import { EMPTY_DRAFT, type Draft } from '../../../core/plan/draft/draft';
import { beginsAtOnce } from './at-once';
import { keepChosen } from './chosen-before';
import { whenOf, type WhenKind } from './kinds';

// Wed, Dec 2, 2026, 3:50 PM Eastern
const NOW = Date.parse('2026-12-02T20:50:00Z');
const ZONE = 'America/New_York';
beforeEach(() => sessionStorage.clear());

/** One way after the other is looked at, as on the sheet. */
function look(draft: Draft, ...kinds: WhenKind[]): Draft['when'] {
  let now = draft;
  for (const kind of kinds) now = { ...now, when: whenOf(kind, now, NOW, ZONE, keepChosen(5, now)) };
  return now.when;
}

test('nothing that was chosen is lost by looking at other ways', () => {
  const once: Draft['when'] = { kind: 'at', date: '2026-12-04', time: '09:15', own: true, current: { most: 50 } };
  const draft = { ...EMPTY_DRAFT, when: once };
  expect(look(draft, 'again', 'once')).toEqual(once);
  expect(look(draft, 'now', 'once')).toEqual(once);
  expect(look(draft, 'now', 'say', 'import', 'again', 'once')).toEqual(once);
  const again: Draft['when'] = {
    kind: 'at',
    date: '2026-12-04',
    time: '09:15',
    own: true,
    repeats: { every: 'month', n: 2, on: 'last_day', until: '2027-06-01' },
  };
  expect(look({ ...EMPTY_DRAFT, when: again }, 'once', 'now', 'again')).toEqual(again);
  const withImports: Draft['when'] = { kind: 'import', list_id: 9, wait: 10 };
  expect(look({ ...EMPTY_DRAFT, when: withImports }, 'once', 'import')).toEqual(withImports);
});

test('the time that was said goes along to the other way', () => {
  const draft: Draft = { ...EMPTY_DRAFT, when: { kind: 'at', date: '2026-12-04', time: '09:15', own: true } };
  expect(look(draft, 'again')).toMatchObject({ date: '2026-12-04', time: '09:15', own: true });
  const later = { ...draft, when: { ...look(draft, 'again'), time: '10:30' } } as Draft;
  expect(look(later, 'once')).toEqual({ kind: 'at', date: '2026-12-04', time: '10:30', own: true });
});

test('each way is found as it was left, also where the other has another time', () => {
  const draft: Draft = { ...EMPTY_DRAFT, when: { kind: 'at', date: '2026-12-04', time: '09:15' } };
  const again = { ...look(draft, 'again'), time: '10:30' } as Draft['when'];
  expect(look({ ...draft, when: again }, 'now', 'again')).toEqual(again);
  expect(look({ ...draft, when: { kind: 'now' } }, 'once')).toEqual(draft.when);
});

test('with each import begins with the list of To; of none or several none is guessed', () => {
  const to = (...ids: number[]): Draft => ({ ...EMPTY_DRAFT, to: ids.map((id) => ({ kind: 'list', id })) });
  expect(look(to(4), 'import')).toEqual({ kind: 'import', list_id: 4 });
  expect(look(to(), 'import')).toEqual({ kind: 'import', list_id: 0 });
  expect(look(to(4, 5), 'import')).toEqual({ kind: 'import', list_id: 0 });
});

test.each([
  ['now', '2026-12-02T20:50:08.000Z', true],
  // a plan that was made a while ago
  ['now', '2026-12-02T20:40:00.000Z', true],
  ['now', '2026-12-03T13:00:00.000Z', false],
  ['at', '2026-12-02T20:50:08.000Z', false],
] as const)('%s with a first at %s begins at once: %s', (kind, first, is) =>
  expect(beginsAtOnce({ when: kind === 'now' ? { kind } : { kind, date: '2026-12-02', time: '15:50' } }, { first }, NOW)).toBe(
    is,
  ),
);
