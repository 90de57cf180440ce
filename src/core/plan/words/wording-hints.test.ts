import { expect, test } from 'vitest';
import { bareTime, relativeWord, saysWho } from './wording-hints';

test('words that turn false when they are read later', () => {
  expect(relativeWord('The Heron is off tomorrow')).toBe('tomorrow');
  expect(relativeWord('Good evening, members')).toBe('Good evening');
  expect(relativeWord('The Heron is off Thu, Dec 3')).toBeUndefined();
});

test('times without AM or PM', () => {
  expect(bareTime('Kittiwake leaves 7:40')).toBe('7:40');
  expect(bareTime('Kittiwake leaves 7:40 AM, 12:15 p.m. and 19:40')).toBeUndefined();
});

test('whether the text says who it is from', () => {
  expect(saysWho('OTTERMERE: no boats', 'Ottermere Ferry & Boathouse')).toBe(true);
  expect(saysWho('No boats', 'Ottermere Ferry & Boathouse')).toBe(false);
});
