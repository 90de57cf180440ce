import { expect, test } from 'vitest';
import { NOON, person, planFor } from '../testing';

const NAME = { sender: { kind: 'name' as const, name: 'OttermereFB' } };
const crowd = [person(1), person(2)];
const checks = (plan: ReturnType<typeof planFor>) => plan.summary.must_fix.map(({ check }) => check);

test('a question asked from a name, which nobody can answer, must be fixed in whichever language it is asked', () => {
  const asks = { words: 'Ottermere: race on Sunday? Reply 1 yes, 2 no.', opt_out: 'link' as const };
  const plan = planFor(asks, crowd, NAME);
  expect(checks(plan)).toEqual(['question to a name']);
  expect(plan.summary.must_fix[0].message).toBe('“OttermereFB” cannot take replies, so nobody could answer “yes” or “no”.');
  expect(
    checks(
      planFor(
        { ...asks, words: 'Ottermere: race on Sunday.', translations: { fr: 'Course ? Répondez 1 oui, 2 non.' } },
        crowd,
        NAME,
      ),
    ),
  ).toEqual(['question to a name']);
  // a sender that takes replies may ask, and a boat's number is no question
  expect(checks(planFor(asks, crowd))).toEqual([]);
  expect(checks(planFor({ ...asks, words: 'Ottermere: boats 1 and 2 are off.' }, crowd, NAME))).toEqual([]);
});

test('why somebody does not get it before quiet hours is what holds it back: the sender, or the pace that was chosen', () => {
  const many = Array.from({ length: 400 }, (_, i) => person(i, { number: `+1207${2_000_000 + i}` }));
  const message = (part: Parameters<typeof planFor>[0], rate: number) =>
    planFor(part, many, { sender: { parts_per_second: rate }, now: NOON + 4 * 3_600_000 }).summary.hints.find(
      ({ check }) => check === 'does not fit before quiet hours',
    )?.message;
  expect(message({ pace: { kind: 'a_minute', texts: 4 } }, 20)).toMatch(
    /^At the pace that is chosen 1\d\d people do not get it before quiet hours\. /,
  );
  expect(message({}, 20)).toBeUndefined();
  expect(message({}, 0.05)).toMatch(/^Ferry desk takes 0\.05 parts a second, so \d+ people do not get it before quiet hours\. /);
});

test('shown at once a text has few parts, and characters that the carrier shows at once', () => {
  const messages = (part: Parameters<typeof planFor>[0], at_once?: 'plain' | 'none') =>
    planFor({ show_at_once: true, ...part }, crowd, at_once ? { workspace: { at_once } } : {}).summary.must_fix.map(
      ({ message }) => message,
    );
  expect(messages({})).toEqual([]);
  const eleven = { words: 'boat '.repeat(330), opt_out: 'none' as const };
  expect(messages(eleven)).toContain(
    'Shown at once, a text can have 2 parts; the longest has 11. Phones show one part at a time.',
  );
  const dash = { words: 'Ottermere: ice – mind your step.' };
  expect(messages(dash)).toEqual([]);
  expect(messages(dash, 'plain')).toEqual(['The carrier shows only plain characters at once; 2 texts have extended ones.']);
  expect(messages({}, 'plain')).toEqual([]);
  expect(messages({}, 'none')).toEqual(['The carrier takes no texts that are shown at once.']);
  // as any other text it has its parts
  expect(checks(planFor({ ...eleven, show_at_once: undefined }, crowd))).toEqual(['too long']);
});

test('how phones show it is part of what is agreed', () => {
  expect(planFor({ show_at_once: true }, crowd).digest).not.toBe(planFor({}, crowd).digest);
});
