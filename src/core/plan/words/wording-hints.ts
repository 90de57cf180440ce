/** Words that turn false when a text crosses zones or days, or is delayed (need W14). */
const RELATIVE =
  /\b(today|tonight|tomorrow|yesterday|good (?:morning|afternoon|evening)|now|this (?:morning|afternoon|evening))\b/i;
const BARE_TIME = /\b(?:1[0-2]|0?[1-9]):[0-5]\d\b(?!\s*(?:[ap]\.?\s?m\b|[ap]\b))/i;

/** The first word that may turn false, or undefined. */
export function relativeWord(text: string): string | undefined {
  return RELATIVE.exec(text)?.[0];
}

/** A clock time without AM or PM, or undefined. */
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
