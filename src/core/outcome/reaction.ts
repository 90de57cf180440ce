/**
 * A reaction to a text, as phones that cannot show it write it: “Liked “Heron is out…””, “👍 to “…””, “A aimé « … »”. Common practice, from
 * memory. Only the quotation tells; whether it quotes words of ours is for whoever has them.
 */
const OPEN = '["“”„«‘‚]';
const CLOSE = '["“”»’]';
const REACTED =
  /^(?:liked|loved|disliked|laughed at|emphasi[sz]ed|questioned|reacted\s.{0,24}?\bto(?: your message)?|removed an? .{1,24}\bfrom|a (?:aimé|adoré|ri à|mis en évidence|remis en question|réagi\s.{0,16}?à)|n.a pas aimé|le (?:gustó|encantó|disgustó)|se rió de|destacó|reaccionó\s.{0,16}?\ba)\s+/iu;
/** An emoji, then what it is about. */
const EMOJI = /^\p{Extended_Pictographic}[\p{M}\ufe0f\u200d\p{Extended_Pictographic}\u{1f3fb}-\u{1f3ff}]*\s*(?:to|à|a|al)?\s+/iu;

/** The words that a reaction quotes, without the sign that they were cut short; undefined when it is none. */
export function quotedByReaction(text: string): string | undefined {
  const whole = text
    .normalize('NFC')
    .replace(/[\u200b-\u200f\u2060\ufeff]/g, '')
    .replace(/\s+/g, ' ')
    .trim();
  const begin = REACTED.exec(whole) ?? EMOJI.exec(whole);
  if (!begin) return undefined;
  const quoted = new RegExp(`^${OPEN} ?(.+?) ?${CLOSE}$`, 'u').exec(whole.slice(begin[0].length))?.[1];
  return quoted?.replace(/ ?(?:…|\.\.\.)$/u, '').trim() || undefined;
}

/** Words that are written otherwise on the way: quotation marks, apostrophes, spaces, and letter case. */
const plain = (words: string) =>
  words
    .normalize('NFKC')
    .replace(/["“”„«»‘’‚'`´]/gu, '')
    .replace(/\s+/g, ' ')
    .trim()
    .toLowerCase();

/** Fewer letters than this may be quoted by chance: “Loved “yes””. */
const LEAST = 8;

/** Whether a reply is nothing but a reaction to one of the texts that went to its number. */
export function isReactionTo(text: string, ours: readonly string[]): boolean {
  const quoted = quotedByReaction(text);
  if (quoted === undefined) return false;
  const words = plain(quoted);
  return words.length >= LEAST && ours.some((each) => plain(each).includes(words));
}
