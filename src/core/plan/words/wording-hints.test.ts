import { expect, test } from 'vitest';
import { person, planFor } from '../testing';
import { bareField, bareTime, relativeWord, saysWho } from './wording-hints';

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

test('a word between two braces looks like a field and is none; a field, and a brace alone, are what they look like', () => {
  expect(bareField('Hello {{nick}, your pass is ready.')).toBe('{nick}');
  expect(bareField('Hello {{ given_name }}, your pass is ready.')).toBe('{given_name}');
  for (const words of ['Hello {given_name or "neighbor"}.', 'A smile {{: and a brace }', 'Set {{1, 2} apart', '']) {
    expect(bareField(words)).toBeUndefined();
  }
});

test('it is said on the sheet, in whichever wording it stands, and the text is written as it says', () => {
  const hint = (part: Parameters<typeof planFor>[0]) =>
    planFor(part, [person(1)]).summary.hints.find(({ check }) => check === 'a field that is none')?.message;
  const words = 'Ottermere: hello {{nick}';
  expect(hint({ words })).toBe('“{nick}” goes out as it stands here: two braces are a brace. For a field write one.');
  expect(planFor({ words }, [person(1)]).texts.write(0)).toContain('hello {nick}');
  expect(hint({ words: 'Ottermere: hello.', translations: { fr: 'Bonjour {{prenom}}' } })).toContain('“{prenom}”');
  expect(hint({ words: 'Ottermere: hello {given_name or "you"}.' })).toBeUndefined();
});
