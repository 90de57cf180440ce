import type { ThreadText } from '../../core/api/desk/replies';
import { showPhone } from '../pieces/phone';

/** What a text of theirs was taken for, where that is not simply a reply. */
export const KIND: Readonly<Record<string, string>> = {
  maybe_stop: 'may mean stop: nothing planned goes to them until you decide',
  help: 'asked for help',
  stop: 'opted out',
  start: 'came back',
  answer: 'answered what was passed on to them',
  reaction: 'a reaction to a text of ours: it needs no answer',
  unread: 'it could not be read, and may mean stop: nothing planned goes to them until you decide',
  auto: 'written by the phone itself: it needs no answer',
};

/** What a text of ours was, where it was neither a broadcast nor somebody's answer. */
const OURS: Readonly<Record<string, string>> = {
  confirmation: 'by itself',
  automatic: 'by itself',
  passed: 'passed on to them',
  alarm: 'told whoever is on duty',
  test: 'a test',
  opt_out: 'how to opt out',
};

/** Who writes: by name, or else by number. */
export const writerOf = (each: { name: string; number: string }): string => each.name || showPhone(each.number);

/** What became of a text of ours, and who wrote it. */
export function oursInWords(text: ThreadText): string {
  const what = text.run_id ? '' : (OURS[text.kind] ?? (text.by ? `by ${text.by}` : ''));
  const state = text.state === null || text.state === 'delivered' ? '' : text.state.replaceAll('_', ' ');
  return [what, state, text.reason ?? ''].filter((words) => words !== '').join(', ');
}

/** The first of some words, for quoting. */
export const quoted = (words: string, most = 160): string =>
  words.length > most ? `${words.slice(0, most - 1).trimEnd()}…` : words;

/** Octets as far as they can be read: letters and figures as such, everything else as its number. */
export function readable(octets: string): string {
  return (octets.match(/[0-9a-f]{2}/gi) ?? [])
    .map((octet) => {
      const code = Number.parseInt(octet, 16);
      return code >= 0x20 && code < 0x7f ? String.fromCharCode(code) : `‹${octet}›`;
    })
    .join('');
}
