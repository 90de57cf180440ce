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

/**
 * A picture as it is seen and erased, however many code points make it: a pair that is a flag, a digit in a key, a sign with its color and
 * what is joined to it (Unicode Technical Standard 51, 1.4.9, emoji sequences, without tags).
 */
const PICTURE =
  /\p{Regional_Indicator}{2}|[0-9#*]\ufe0f?\u20e3|\p{Extended_Pictographic}(?:\ufe0f|\p{Emoji_Modifier})?(?:\u200d\p{Extended_Pictographic}(?:\ufe0f|\p{Emoji_Modifier})?)*/gu;

export interface Forcing {
  /** What is not in the plain alphabet: a code point, or a picture whole. */
  character: string;
  /** Positions in UTF-16 units. */
  at: number[];
  /** Plain words for it, or undefined when nothing reads the same (an emoji, another script). */
  replacement: string | undefined;
  /** A picture that can go without a word changing. */
  picture: boolean;
}

/** A plain replacement that reads the same, `''` for something invisible, or undefined. */
export function plainFor(character: string): string | undefined {
  const known = REPLACEMENTS.get(character);
  if (known !== undefined) return known;
  // a digit in a key is that digit
  if (/^[0-9#*]\ufe0f?\u20e3$/.test(character)) return character[0];
  const bare = character.normalize('NFKD').replace(/\p{M}/gu, '');
  return bare !== '' && bare !== character && [...bare].every((c) => SEPTETS[c.charCodeAt(0)] > 0) ? bare : undefined;
}

/** The text in pieces as they are seen: code points, and pictures whole. */
function* seen(text: string): Generator<string> {
  let from = 0;
  for (const { 0: picture, index } of text.matchAll(PICTURE)) {
    yield* text.slice(from, index);
    yield picture;
    from = index + picture.length;
  }
  yield* text.slice(from);
}

/** Every character that forces the extended alphabet, in order of first appearance. */
export function forcing(text: string): Forcing[] {
  const found = new Map<string, Forcing>();
  let at = 0;
  for (const character of seen(text)) {
    if (character.length > 1 || SEPTETS[character.charCodeAt(0)] === 0) {
      const known = found.get(character);
      if (known) known.at.push(at);
      else {
        const replacement = plainFor(character);
        const picture = replacement === undefined && character.match(PICTURE) !== null;
        found.set(character, { character, at: [at], replacement, picture });
      }
    }
    at += character.length;
  }
  return [...found.values()];
}

/** The text with every replaceable character replaced. */
export function plain(text: string): string {
  let out = '';
  for (const character of seen(text))
    out += character.length === 1 && SEPTETS[character.charCodeAt(0)] > 0 ? character : (plainFor(character) ?? character);
  return out;
}

/** Without this picture: of the spaces around it one is left, and words that it kept apart stay apart. */
export function withoutPicture(text: string, picture: string): string {
  return text.split(picture).reduce((before, after) => {
    if (/ $/.test(before) && /^[.,;:!?]/.test(after)) return before.slice(0, -1) + after;
    if (/\s$/.test(before)) return before + after.replace(/^ /, '');
    return /[\p{L}\p{N}]$/u.test(before) && /^[\p{L}\p{N}]/u.test(after) ? `${before} ${after}` : before + after;
  });
}
