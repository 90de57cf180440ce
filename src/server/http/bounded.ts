import { Problem } from './problem';

/** Deeper than anything of ours nests, by far; what walks over a body may do so by calling itself. */
const MOST_DEEP = 32;
/** Keys, and values in lists: ten thousand people unticked are the most there is. */
const MOST_VALUES = 60_000;
const [QUOTE, BACKSLASH, OPEN, CLOSE, OPEN_LIST, CLOSE_LIST, COMMA] = [0x22, 0x5c, 0x7b, 0x7d, 0x5b, 0x5d, 0x2c];

/**
 * How deep and how much a JSON text (RFC 8259) is, from its bytes, before anything is made of it.
 * @throws Problem 400 when it is more than this server reads
 */
export function refuseBoundless(bytes: Uint8Array): void {
  let deep = 0;
  let values = 0;
  let inText = false;
  for (let i = 0; i < bytes.length; i += 1) {
    const byte = bytes[i];
    if (inText) {
      if (byte === BACKSLASH) i += 1;
      else if (byte === QUOTE) inText = false;
    } else if (byte === QUOTE) inText = true;
    else if (byte === OPEN || byte === OPEN_LIST) {
      deep += 1;
      values += 1;
      if (deep > MOST_DEEP) throw beyond('is nested deeper than this server reads');
    } else if (byte === CLOSE || byte === CLOSE_LIST) deep -= 1;
    else if (byte === COMMA && (values += 1) > MOST_VALUES) throw beyond('holds more values than this server reads at once');
  }
}

const beyond = (how: string) =>
  new Problem(400, 'request', `The request ${how}.`, { place: 'body', kept: 'Nothing was changed.' });

/** Names that every object has of itself: as keys of what comes in they are nobody's. */
const OF_ITSELF = new Set(['__proto__', 'constructor', 'prototype']);

/** The place of a key that every object has of itself, at any depth; undefined when there is none. */
export function ownKey(value: unknown, at = ''): string | undefined {
  if (value === null || typeof value !== 'object') return undefined;
  for (const key of Object.keys(value)) {
    const place = at === '' ? key : `${at}.${key}`;
    if (OF_ITSELF.has(key)) return place;
    const found = ownKey((value as Record<string, unknown>)[key], place);
    if (found !== undefined) return found;
  }
  return undefined;
}
