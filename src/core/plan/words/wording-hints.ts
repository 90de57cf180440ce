import { phraseIn, RELATIVE_WORDS } from './relative-words';

const BARE_TIME = /\b(?:1[0-2]|0?[1-9]):[0-5]\d\b(?!\s*(?:[ap]\.?\s?m\b|[ap]\b))/i;

/** The first word that may turn false in a language, or undefined. The longest says most: "good evening" before "evening". */
export function relativeWord(text: string, language = 'en'): string | undefined {
  const found = (RELATIVE_WORDS[language] ?? []).flatMap((phrase) => phraseIn(text, phrase) ?? []);
  return found.sort((a, b) => b.length - a.length).at(0);
}

/** A clock time without AM or PM, or undefined: in English, where it may be either. */
export function bareTime(text: string): string | undefined {
  return BARE_TIME.exec(text)?.[0];
}

/** True when the text says who it is from: a word of the workspace's name stands in it. */
export function saysWho(text: string, name: string): boolean {
  const folded = text.toLowerCase();
  return name
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .some((word) => word.length > 3 && folded.includes(word));
}

/**
 * What looks like a field and goes out as it stands, as it will be read ("{nick}"): two braces are a brace, and whoever writes two around a
 * word means the field more often than the braces. Or undefined.
 */
export function bareField(text: string): string | undefined {
  const word = /\{\{\s*([\p{L}_][\p{L}\p{N}_. ]*?)\s*\}/u.exec(text)?.[1];
  return word === undefined ? undefined : `{${word}}`;
}
