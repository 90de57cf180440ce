import { distance } from 'fastest-levenshtein';
import { fold } from '../text/fold';
import { asItLooks } from '../text/look-alikes';
import { classifyReply } from './keywords';

/** What may stand around a word by which people sign up: "Ferry please", "the word FERRY". */
const AROUND = new Set(['please', 'pls', 'plz', 'thanks', 'thank', 'you', 'merci', 'svp', 'gracias', 'por', 'favor']);
/** Whole answers that mean yes, in the languages offered; from memory of common practice. */
const YES = new Set(['yes', 'y', 'yeah', 'yep', 'yup', 'sure', 'ok', 'okay', 'oui', 'o', 'ouais', 'si', 'sip', 'claro', '1']);

/** A word for signing up as it is read: case, accents, quotes and signs aside, and whatever letters it only looks as if it were written in. */
export function foldKeyword(word: string): string {
  return (fold(asItLooks(word)).match(/[\p{L}\p{N}]+/gu) ?? []).join(' ');
}

/** The keyword that a reply consists of, politeness and signs aside; a word within a sentence signs nobody up. */
export function readKeyword<K extends { folded: string }>(text: string, keywords: readonly K[]): K | undefined {
  const words = foldKeyword(text.slice(0, 200));
  const bare = words
    .split(' ')
    .filter((word) => !AROUND.has(word))
    .join(' ');
  // one that was made before words were read as they look is stored in its own letters
  return keywords.find(({ folded }) => [words, bare].includes(foldKeyword(folded)));
}

/** Whether a reply plainly says yes to being asked whether they want to be signed up. */
export function saysYes(text: string): boolean {
  if (/^\s*(?:👍|✅|👌)/u.test(text)) return true;
  const words = foldKeyword(text.slice(0, 200))
    .split(' ')
    .filter((word) => !AROUND.has(word));
  return words.length > 0 && words.length <= 2 && words.every((word) => YES.has(word));
}

export type WordProblem = 'empty' | 'long' | 'reserved' | 'yes' | 'figure';

/** Why a word cannot be one by which people sign up; undefined when it can. */
export function keywordProblem(word: string): WordProblem | undefined {
  const folded = foldKeyword(word);
  if (folded === '') return 'empty';
  if (folded.length > 20) return 'long';
  if (classifyReply(word) !== 'reply') return 'reserved';
  if (saysYes(word)) return 'yes';
  // what answers a question with choices
  return /^[\d ]+$/.test(folded) ? 'figure' : undefined;
}

/** Signs that are taken for each other on a poster and on a keypad. */
const TAKEN_FOR: Readonly<Record<string, string>> = { '0': 'o', '1': 'l', i: 'l', '5': 's', '8': 'b', '2': 'z' };

/**
 * Whether two words are easily taken for each other: one letter apart (two for long ones), the same but for look-alikes and spaces,
 * or one the other's beginning.
 */
export function lookAlike(a: string, b: string): boolean {
  const plain = (word: string) =>
    foldKeyword(word)
      .replaceAll(' ', '')
      .replace(/[01i582]/g, (sign) => TAKEN_FOR[sign] ?? sign);
  const [one, other] = [plain(a), plain(b)];
  if (one === other) return true;
  const shorter = Math.min(one.length, other.length);
  if (shorter >= 3 && (one.startsWith(other) || other.startsWith(one))) return true;
  return shorter >= 3 && distance(one, other) <= (shorter >= 8 ? 2 : 1);
}
