import { split as splitSms } from 'split-sms';
import { count } from 'sms-length';
import { expect, test } from 'vitest';
import { person, planFor } from './testing';

/** Names as they are in lake towns: with letters that are plain (é, ü), that are not (ç, â, ł), and none at all. */
const GIVEN = [
  'Ana',
  'Océane',
  'François',
  'Müge',
  'Zoë',
  'Łucja',
  'Peñélope',
  'Jo',
  'Bronwen',
  '',
  'Δημήτρης',
  'Nuño',
  '山田',
  'Aurélie 🎉',
];
const LANDINGS = [
  'North Landing',
  'Mill Quay',
  'Upper Saltmarsh Landing',
  '[dock 3]',
  'Côte Saint-Hélier',
  '',
  '~the quay~',
  '€5 pier',
];
const LANGUAGES = ['en', 'fr', 'es', null];
const TAILS = [
  '',
  ' Bring your pass.',
  ' Bring your pass and be there ten minutes before it leaves; bicycles go last, dogs on a lead.',
];

/**
 * Parts of 100,000 texts as a plan renders and counts them, in three languages with accents, extensions and emoji in what is merged
 * in, against two general-purpose counters of the registry. split-sms agrees on every one; sms-length divides the length by the room
 * of a part, so it may be lower where an escape or surrogate pair would be cut, and nowhere else.
 */
test('parts of 100,000 rendered texts in three languages against two second opinions', { timeout: 600_000 }, () => {
  const people = Array.from({ length: 100_000 }, (_, i) =>
    person(i + 1, {
      number: `+1${String(2_010_000_000 + i)}`,
      given_name: GIVEN[i % GIVEN.length],
      language: LANGUAGES[i % LANGUAGES.length],
      fields: { landing: LANDINGS[Math.floor(i / 7) % LANDINGS.length], more: TAILS[Math.floor(i / 3) % TAILS.length] },
    }),
  );
  const { texts, summary } = planFor(
    {
      words:
        '{given_name or "neighbor"}: the 7:10 AM Heron from {landing or "the quay"} is off {send_date + 1 day as "EEEE, MMMM d"}. Ottermere{more or "."}',
      translations: {
        fr: '{given_name or "voisin"} : le Heron de 7 h 10 de {landing or "Mill Quay"} ne part pas {send_date + 1 day as "EEEE d MMMM"}. Ottermere{more or "."}',
        es: '{given_name or "vecino"}: el Heron de las 7:10 de {landing or "Mill Quay"} no sale el {send_date + 1 day as "EEEE d MMMM"}. Ottermere{more or "."}',
      },
    },
    people,
    {
      types: [
        ['landing', 'choice'],
        ['more', 'text'],
      ],
    },
  );
  expect(texts.count).toBe(100_000);
  const seen = new Map<number, number>();
  const differ: string[] = [];
  for (let i = 0; i < texts.count; i += 1) {
    const text = texts.write(i);
    const parts = texts.parts[i];
    seen.set(parts, (seen.get(parts) ?? 0) + 1);
    if (splitSms(text).parts.length !== parts) differ.push(text);
    const theirs = count(text).messages;
    const pairs = /[\^{}\\[\]~|€]|[\ud800-\udbff]/.test(text);
    if (pairs ? theirs > parts : theirs !== parts) differ.push(text);
  }
  expect(differ).toEqual([]);
  // one, two, three and more parts all occur, and what the plan sums up is what was counted
  expect(seen.size).toBeGreaterThanOrEqual(3);
  expect(new Map(summary.distribution.map(({ parts, people: n }) => [parts, n]))).toEqual(seen);
  expect(summary.parts).toBe([...seen].reduce((sum, [parts, n]) => sum + parts * n, 0));
});
