/**
 * The rate of a sender's line, over all runs, lanes and processes (the generic cell rate algorithm, ITU-T I.371 annex A):
 * `freeAt` is when the line would be free if everything handed over so far had gone evenly.
 */

/** So much may go ahead of the even course, ms: a claim takes a handful of parts at once, not one at a time. */
const SLACK = 250;

/** How many parts may go now. @param rate parts a second */
export function partsFree(freeAt: number, rate: number, now: number): number {
  const even = 1000 / rate;
  const slack = Math.max(0, SLACK - even);
  const from = Math.max(freeAt, now);
  return from > now + slack ? 0 : Math.floor((now + slack - from) / even) + 1;
}

/** When the line would be free after so many parts. */
export function freeAfter(freeAt: number, rate: number, now: number, parts: number): number {
  return Math.max(freeAt, now) + (parts * 1000) / rate;
}

/** When it is worth asking again: half of the slack is free, or the next part may go. */
export function nextFree(freeAt: number, rate: number, now: number): number {
  const slack = Math.max(0, SLACK - 1000 / rate);
  return Math.max(now + 1, Math.ceil(freeAt - slack / 2));
}
