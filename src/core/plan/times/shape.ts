/** The times of a plan as they are held against those of another: by recipient, in the order of going. */
export interface Shape {
  /** When it was made, ms. */
  at: number;
  base: number;
  due: Float64Array;
  count: number;
  /** How many wait for a later window. */
  spilled: number;
}

/** Times by the minute, as they are shown. */
const MINUTE = 60_000;

/**
 * Of a start at once that was shown and is begun now: how many would get it later than the time gone by explains. Everyone may be later
 * by that time (and what is less than a minute is not shown); and so many may have come to wait for a later window as the sender would have
 * taken meanwhile.
 *
 * @param rate parts a second that the sender takes
 */
export function laterThanShown(shown: Shape, now: Shape, rate: number): number {
  const gone = Math.max(0, now.base - shown.base);
  let later = 0;
  for (let i = 0; i < now.count; i += 1) if (now.due[i] - shown.due[i] > gone + MINUTE) later += 1;
  return Math.max(0, later - Math.ceil((gone / 1000) * rate) - 1);
}
