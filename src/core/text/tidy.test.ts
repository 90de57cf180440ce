import fc from 'fast-check';
import { expect, test } from 'vitest';
import { brokenPlace, isBroken, oneLine } from './tidy';

test('a name keeps its letters and loses what cannot be seen', () => {
  expect(oneLine('  Zoë\u202e \u0000Marsh\r\n')).toBe('Zoë Marsh');
  expect(oneLine('Jo\u200b\ud83dReyes')).toBe('Jo \ufffdReyes');
  expect(oneLine('\u2066\u200f ')).toBe('');
  expect(oneLine('👩‍🚀 نیک\u200cنام')).toBe('👩‍🚀 نیک\u200cنام');
});

test('what is tidied is tidy (property)', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      expect(oneLine(oneLine(text))).toBe(oneLine(text));
      expect(isBroken(oneLine(text))).toBe(false);
    }),
  );
});

test('broken text is found with its place', () => {
  expect(brokenPlace({ name: 'a', fields: { note: ['x', 'b\0'] } })).toBe('fields.note.1');
  expect(brokenPlace({ name: '\ud800' })).toBe('name');
  expect(brokenPlace({ ['a\0']: 1 })).toBe('a');
  expect(brokenPlace({ name: '👩', n: 1, none: null })).toBeUndefined();
});
