import { SEPTETS } from './gsm7';

/** Which alphabet a text needs: the plain one (GSM 7-bit) or the extended one (UCS-2). */
export type Alphabet = 'gsm7' | 'ucs2';

export interface Measure {
  alphabet: Alphabet;
  /** Septets or 16-bit units used by the characters, without headers. */
  units: number;
  /** What the carrier bills. An empty text is one part. */
  parts: number;
  /** Units still free in the last part, with the present number of parts. */
  left: number;
}

/** Units of one part: alone, and when concatenated with the 8-bit reference header — TS 23.038, TS 23.040 §9.2.3.24.1. */
export const LIMITS = { gsm7: { alone: 160, joined: 153 }, ucs2: { alone: 70, joined: 67 } } as const;

/** The most parts we hand to a carrier (common practice; the header itself would allow 255). */
export const MOST_PARTS = 10;

/** More than the septets of any text: what a unit weighs that is not in the alphabet. Sums of a block stay small integers. */
const OTHER = 2 ** 24;
const BLOCK = 100;
/** What a line feed weighs between two pieces. */
export const LINE_FEED = 1;
/** Septets of a unit, or OTHER: so that everybody's texts are measured without a question for each character. */
const WEIGHTS = Int32Array.from(SEPTETS, (septets) => (septets === 0 ? OTHER : septets));

/**
 * The septets of a text in the plain alphabet; more than any text has where it needs the extended one. A text weighs what its pieces weigh
 * together: where the same words go to many, they are weighed once.
 */
export function weightOf(text: string): number {
  const length = text.length;
  let units = 0;
  for (let from = 0; from < length && units < OTHER; from += BLOCK) {
    const to = Math.min(length, from + BLOCK);
    let sum = 0;
    for (let i = from; i < to; i += 1) sum += WEIGHTS[text.charCodeAt(i)];
    units = sum < OTHER ? units + sum : OTHER;
  }
  return units;
}

/**
 * Alphabet, units and parts of a text as it goes on the air.
 * Parts are filled character by character: neither an escape pair nor a surrogate pair is divided.
 * @param weight `weightOf` the text, where it is known already
 */
export function measure(text: string, weight = weightOf(text)): Measure {
  const length = text.length;
  if (weight < OTHER) {
    if (weight <= 160) return { alphabet: 'gsm7', units: weight, parts: 1, left: 160 - weight };
    const { parts, last } = fillPlain(text);
    return { alphabet: 'gsm7', units: weight, parts, left: 153 - last };
  }
  if (length <= 70) return { alphabet: 'ucs2', units: length, parts: 1, left: 70 - length };
  const { parts, last } = fillExtended(text);
  return { alphabet: 'ucs2', units: length, parts, left: 67 - last };
}

function fillPlain(text: string): { parts: number; last: number } {
  let parts = 1;
  let used = 0;
  for (let i = 0; i < text.length; i += 1) {
    const septets = SEPTETS[text.charCodeAt(i)];
    if (used + septets > 153) {
      parts += 1;
      used = 0;
    }
    used += septets;
  }
  return { parts, last: used };
}

function isHigh(unit: number): boolean {
  return unit >= 0xd800 && unit <= 0xdbff;
}

function fillExtended(text: string): { parts: number; last: number } {
  let parts = 1;
  let used = 0;
  for (let i = 0; i < text.length;) {
    const size = isHigh(text.charCodeAt(i)) && i + 1 < text.length ? 2 : 1;
    if (used + size > 67) {
      parts += 1;
      used = 0;
    }
    used += size;
    i += size;
  }
  return { parts, last: used };
}

/** The text of each part, in order; `measure(text).parts` of them. */
export function split(text: string): string[] {
  const { alphabet, parts } = measure(text);
  if (parts === 1) return [text];
  const room = LIMITS[alphabet].joined;
  const pieces: string[] = [];
  let start = 0;
  let used = 0;
  for (let i = 0; i < text.length;) {
    const step = alphabet === 'ucs2' && isHigh(text.charCodeAt(i)) && i + 1 < text.length ? 2 : 1;
    const size = alphabet === 'gsm7' ? SEPTETS[text.charCodeAt(i)] : step;
    if (used + size > room) {
      pieces.push(text.slice(start, i));
      start = i;
      used = 0;
    }
    used += size;
    i += step;
  }
  pieces.push(text.slice(start));
  return pieces;
}
