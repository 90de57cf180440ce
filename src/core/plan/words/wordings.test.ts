import { expect, test } from 'vitest';
import { person, planFor, wordsOf } from '../testing';
import { wordingsOf } from './wordings';

const people = [person(1), person(2, { language: 'fr' }), person(3, { language: 'es' }), person(4, { language: 'de' })];
const hints = (plan: ReturnType<typeof planFor>) => plan.summary.hints.map((hint) => hint.message);
const French = 'Ottermere : le {send_date as "EEE d MMM"}, le Heron ne part pas.';
const English = 'Ottermere: on {send_date as "EEE, MMM d"} the Heron is off.';

test('everyone gets the words in their language; who has none there gets the first one’s, dates and all', () => {
  const plan = planFor({ words: English, translations: { fr: French } }, people);
  expect(wordsOf(plan)).toEqual({
    1: 'Ottermere: on Wed, Dec 2 the Heron is off.\nSTOP to opt out',
    2: 'Ottermere : le mer. 2 déc., le Heron ne part pas.\nSTOP pour ne plus recevoir',
    // in English, but how to stop is said so that it is understood
    3: 'Ottermere: on Wed, Dec 2 the Heron is off.\nSTOP para no recibir',
    4: 'Ottermere: on Wed, Dec 2 the Heron is off.\nSTOP to opt out',
  });
  expect(plan.summary.languages.map(({ language, worded_in, people: n }) => [language, worded_in, n])).toEqual([
    ['en', 'en', 2],
    ['fr', 'fr', 1],
    ['es', 'en', 1],
  ]);
  expect(hints(plan)).toContain('Spanish (1 person) gets the English words.');
});

test('each language is measured by itself: what is extended in one costs there', () => {
  const plan = planFor(
    { words: 'Ottermere: x'.padEnd(120, 'x'), translations: { fr: 'Ottermere : ç'.padEnd(120, 'x') } },
    people,
  );
  expect(plan.summary.forcing).toEqual([{ language: 'fr', character: 'ç', replacement: 'c', picture: false, at: [12] }]);
  const [en, fr] = plan.summary.languages;
  expect([en.extra_parts, en.extra_micro]).toEqual([0, 0]);
  expect([fr.extra_parts, fr.extra_micro, fr.parts]).toEqual([2, 15_000, 3]);
  expect(plan.summary.extended_cost).toEqual({ parts: 2, cost_micro: 15_000 });
});

test('a broken placeholder names its language, wherever the recipient is', () => {
  const plan = planFor({ words: English, translations: { fr: 'Salut {prenom}' } }, [person(1)]);
  expect(plan.summary.must_fix.map(({ message }) => message)).toEqual(['French: There is no field “prenom”.']);
});

test('what one wording puts in and another forgets is said', () => {
  const plan = planFor(
    {
      words: 'Ottermere, {given_name or "you"}: {link timetable}',
      link: { name: 'timetable', address: 'https://example.org' },
      translations: { fr: 'Ottermere, {family_name or "vous"}' },
    },
    people,
  );
  expect(hints(plan)).toContain(
    'The French words leave out {given_name} and {link timetable} and put in {family_name}, which the English words do not.',
  );
});

test('words in a language that is no longer offered are used for nobody, and a blank wording is none', () => {
  const draft = { words: 'a', translations: { fr: '  ', de: 'b', es: 'c' } };
  expect(wordingsOf(draft, ['en', 'fr', 'es'])).toEqual([
    { language: 'en', words: 'a' },
    { language: 'es', words: 'c' },
  ]);
});

test('other words in one language are another plan', () => {
  const digest = (fr: string) => planFor({ words: English, translations: { fr } }, people).digest;
  expect(digest(French)).toBe(digest(French));
  expect(digest(French)).not.toBe(digest(`${French}!`));
});
