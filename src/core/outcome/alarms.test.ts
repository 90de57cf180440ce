import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { alarmsOf, saysWrong, type RunSigns } from './alarms';

const well: RunSigns = { delivered: 950, failed: 20, waiting: 10, handed: 980, reason: 'phone off', reasonOf: 12, usual: 0.02 };
const kinds = (signs: Partial<RunSigns>) => alarmsOf({ ...well, ...signs }).map(({ kind }) => kind);

describe('what is wrong with a run', () => {
  test('nothing, as a rule', () => expect(alarmsOf(well)).toEqual([]));
  test('more failures than usual, surely; a few in a few are none', () => {
    expect(alarmsOf({ ...well, failed: 120 })).toEqual([
      { kind: 'failures', words: '120 of 1,070 not delivered; usually 2 of 100.' },
    ]);
    expect(kinds({ delivered: 28, failed: 3 })).toEqual([]);
    expect(kinds({ delivered: 10, failed: 9 })).toEqual([]);
    // where many fail as a rule, it takes more
    expect(kinds({ failed: 120, usual: 0.1 })).toEqual([]);
  });
  test('one reason for everyone is said as such', () => {
    expect(alarmsOf({ ...well, delivered: 0, failed: 40, reason: 'refused by the carrier', reasonOf: 40 })).toEqual([
      { kind: 'one_reason', words: '40 of 40 failed, all for one reason: refused by the carrier.' },
    ]);
  });
  test('receipts that do not come', () => {
    expect(kinds({ waiting: 490 })).toEqual(['slow']);
    expect(kinds({ waiting: 9, handed: 10, delivered: 1, failed: 0, reasonOf: 0 })).toEqual([]);
  });
  test('whatever the figures, at most one word about failures, and never of fewer than twenty', () =>
    fc.assert(
      fc.property(fc.nat(3000), fc.nat(3000), fc.nat(3000), fc.nat(3000), (delivered, failed, waiting, more) => {
        const found = kinds({ delivered, failed, waiting, handed: waiting + more, reasonOf: failed });
        expect(found.filter((kind) => kind !== 'slow').length).toBeLessThanOrEqual(delivered + failed < 20 ? 0 : 1);
      }),
    ));
});

test.each([
  'Is this right? The 5:20 is on Thursday',
  'wrong date',
  'I think the time is wrong',
  'Did you mean the Kittiwake',
  'The link doesn’t work',
  'Isn’t that a mistake',
  'il y a une erreur',
  'le lien ne marche pas',
  'El enlace no funciona',
  'Fecha equivocada',
])('%s says that it is wrong', (text) => expect(saysWrong(text)).toBe(true));
test.each(['Thanks!', 'is the 5:20 running', 'wrong number', 'what time', 'right on', 'OK, merci', ''])('%j does not', (text) =>
  expect(saysWrong(text)).toBe(false),
);
