import { describe, expect, test } from 'vitest';
import { measure } from '../../text/measure';
import { lastReplyDay, replyEnding } from './reply-window';
import { NOON, person, planFor, wordsOf } from '../testing';

const WINDOW = { sender: { reply_days: 3 } };

describe('a sender that reads replies for three days', () => {
  test('says until when, in the language and by the calendar of each recipient', () => {
    // 3:50 PM in New York is 5:50 AM of the day after in Tokyo, whose texts wait for eight o'clock there
    const plan = planFor({}, [person(1), person(2, { language: 'fr', zone: 'Asia/Tokyo' })], WINDOW);
    expect(wordsOf(plan)).toEqual({
      1: 'Ottermere: the Heron is off.\nReplies are read until Sat, Dec 5\nSTOP to opt out',
      2: "Ottermere: the Heron is off.\nRéponses lues jusqu'au 6/12\nSTOP pour ne plus recevoir",
    });
    expect(plan.summary.languages.map(({ replies }) => replies)).toEqual([
      'Replies are read until Sat, Dec 5',
      "Réponses lues jusqu'au 5/12",
      'Leemos respuestas hasta el 5/12',
    ]);
    expect(plan.summary.sender?.reply_days).toBe(3);
  });

  test('adds nothing where the words say it, with a date written as they like', () => {
    const words = 'Race? Reply by {reply_until as "EEEE, MMMM d"}.';
    expect(wordsOf(planFor({ words, opt_out: 'none' }, [person(1)], WINDOW))).toEqual({
      1: 'Race? Reply by Saturday, December 5.',
    });
  });

  test('names a later day for whom the text goes on a later day', () => {
    // ten parts a second: 40,000 people take until after quiet hours have begun
    const many = Array.from({ length: 40_000 }, (_, i) => person(i, { number: `+1207${2_000_000 + i}` }));
    const plan = planFor({ opt_out: 'none' }, many, { ...WINDOW, now: NOON + 5 * 3_600_000 });
    const days = new Set(Array.from({ length: plan.texts.count }, (_, i) => plan.texts.write(i).replace(/^.*\n/, '')));
    expect([...days]).toEqual(['Replies are read until Sat, Dec 5', 'Replies are read until Sun, Dec 6']);
  });

  test('cannot be moved by the words, and is not there for a sender without an end', () => {
    const must = (words: string, sender: object) =>
      planFor({ words }, [person(1)], { sender }).summary.must_fix.map(({ message }) => message);
    expect(must('Reply by {reply_until + 2 days}', { reply_days: 3 })).toEqual([
      'The last day for replies is set with the sender: it cannot be moved here.',
    ]);
    expect(must('Reply by {reply_until}', { reply_days: null })).toEqual([
      'The sender reads replies without an end: there is no last day for them. Take it out, or set one in Setup.',
    ]);
  });
});

test('a name takes no replies: its texts say nothing of them', () => {
  const plan = planFor({ opt_out: 'none' }, [person(1)], { sender: { kind: 'name', address: 'Ottermere', reply_days: 3 } });
  expect(wordsOf(plan)).toEqual({ 1: 'Ottermere: the Heron is off.' });
});

test.each(['en', 'fr', 'es', 'de', 'it', 'pt', 'nl', 'pl', 'sv', 'da', 'no', 'fi'])(
  'in %s it stays in the plain alphabet on every day of a leap year',
  (language) => {
    const ending = replyEnding(language);
    const forced = Array.from({ length: 366 }, (_, i) => lastReplyDay('2028-01-01', i))
      .map((day) => ending.render(() => day, language).text)
      .filter((text) => measure(text).alphabet !== 'gsm7');
    expect([...forced]).toEqual([]);
  },
);
