import { expect, test } from 'vitest';
import { notFitting, placeInWords } from './not-fitting';

test.each([
  ['', ''],
  ['/words', '“words”'],
  ['/draft/parts_per_second', '“parts per second”'],
  ['/draft/when/times/1', '“times”, number 2'],
  ['/rates/0/price_micro', '“price micro”'],
  ['/0', 'number 1'],
])('a place is said without its path: %s', (path, says) => expect(placeInWords(path)).toBe(says));

test.each([
  [{ keyword: 'minLength', params: { limit: 1 } }, 'a', 'At least 1 character.'],
  [{ keyword: 'maxItems', params: { limit: 2000 } }, [], 'At most 2,000 entries.'],
  [{ keyword: 'type', params: { type: 'integer' } }, 'x', 'That is not a number.'],
  [{ keyword: 'type', params: { type: 'string' } }, 3, 'That cannot be read.'],
  [{ keyword: 'type', params: { type: 'string' } }, null, 'Fill this in.'],
])('what is wrong is one sentence', (error, value, says) => expect(notFitting(error, value)).toBe(says));
