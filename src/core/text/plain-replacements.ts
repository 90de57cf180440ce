import { SEPTETS } from './gsm7';

/**
 * Characters that force the extended alphabet, with a plain replacement that reads the same.
 * Letters lose their accent only where the plain alphabet has no such letter.
 */
const REPLACEMENTS = new Map<string, string>([
  ...[...'‘’‚‛′`´ʼ'].map((c): [string, string] => [c, "'"]),
  ...[...'“”„‟″«»'].map((c): [string, string] => [c, '"']),
  ...[...'–—‐‑‒―−'].map((c): [string, string] => [c, '-']),
  ['…', '...'],
  ['•', '-'],
  ['·', '-'],
  ['×', 'x'],
  ['½', '1/2'],
  ['¼', '1/4'],
  ['¾', '3/4'],
  ['№', 'No.'],
  ['™', ''],
  ['®', ''],
  ['©', ''],
  ['°', ' deg'],
  ['œ', 'oe'],
  ['Œ', 'OE'],
  ['ç', 'c'],
  ...[...'\u00a0\u2009\u202f\u2007\u2002\u2003\t'].map((c): [string, string] => [c, ' ']),
  ...[...'\u200b\u200c\u200d\ufeff\u2060\u00ad\u200e\u200f\u202a\u202c\ufe0f'].map((c): [string, string] => [c, '']),
]);

export interface Forcing {
  /** The character (whole code point) that is not in the plain alphabet. */
  character: string;
  /** Positions in UTF-16 units. */
  at: number[];
  /** Plain words for it, or undefined when nothing reads the same (an emoji, another script). */
  replacement: string | undefined;
}

/** A plain replacement that reads the same, `''` for something invisible, or undefined. */
export function plainFor(character: string): string | undefined {
  const known = REPLACEMENTS.get(character);
  if (known !== undefined) return known;
  const bare = character.normalize('NFKD').replace(/\p{M}/gu, '');
  return bare !== '' && bare !== character && [...bare].every((c) => SEPTETS[c.charCodeAt(0)] > 0) ? bare : undefined;
}

/** Every character that forces the extended alphabet, in order of first appearance. */
export function forcing(text: string): Forcing[] {
  const found = new Map<string, Forcing>();
  let at = 0;
  for (const character of text) {
    if (character.length > 1 || SEPTETS[character.charCodeAt(0)] === 0) {
      const known = found.get(character);
      if (known) known.at.push(at);
      else found.set(character, { character, at: [at], replacement: plainFor(character) });
    }
    at += character.length;
  }
  return [...found.values()];
}

/** The text with every replaceable character replaced. */
export function plain(text: string): string {
  let out = '';
  for (const character of text)
    out += character.length === 1 && SEPTETS[character.charCodeAt(0)] > 0 ? character : (plainFor(character) ?? character);
  return out;
}
