/** The standard normal's 97.5 % point: intervals that hold the truth nineteen times of twenty. */
const Z = 1.959963984540054;

/** From and to, each between 0 and 1 (differences: -1 and 1). */
export interface Interval {
  from: number;
  to: number;
}

/**
 * Wilson's score interval for a proportion: all p from which k of n is no further away than `Z` standard errors of p itself
 * (E. B. Wilson 1927, JASA 22:209–212; method 3 of R. G. Newcombe 1998, Statistics in Medicine 17:857–872). Good also where
 * numbers are small or the share is near 0 or 1. Nothing is known from none of none: 0 to 1.
 *
 * @param k of `n`, whole numbers, 0 ≤ k ≤ n
 */
export function shareInterval(k: number, n: number): Interval {
  if (n <= 0) return { from: 0, to: 1 };
  const p = k / n;
  const middle = (p + (Z * Z) / (2 * n)) / (1 + (Z * Z) / n);
  const half = (Z / (1 + (Z * Z) / n)) * Math.sqrt((p * (1 - p)) / n + (Z * Z) / (4 * n * n));
  return { from: Math.max(0, middle - half), to: Math.min(1, middle + half) };
}

/**
 * The difference of two proportions, a − b, from the score intervals of both: method 10 of R. G. Newcombe 1998, Statistics in
 * Medicine 17:873–890.
 */
export function differenceInterval(a: { k: number; n: number }, b: { k: number; n: number }): Interval {
  const [pa, pb] = [a.n > 0 ? a.k / a.n : 0, b.n > 0 ? b.k / b.n : 0];
  if (a.n <= 0 || b.n <= 0) return { from: -1, to: 1 };
  const [ia, ib] = [shareInterval(a.k, a.n), shareInterval(b.k, b.n)];
  const down = Math.sqrt((pa - ia.from) ** 2 + (ib.to - pb) ** 2);
  const up = Math.sqrt((ia.to - pa) ** 2 + (pb - ib.from) ** 2);
  return { from: Math.max(-1, pa - pb - down), to: Math.min(1, pa - pb + up) };
}

/** Whether two shares differ by more than chance explains: their interval leaves out nought. */
export function differ(a: { k: number; n: number }, b: { k: number; n: number }): boolean {
  const { from, to } = differenceInterval(a, b);
  return from > 0 || to < 0;
}
