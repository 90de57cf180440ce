/**
 * Quantiles of values that are given as how often each occurs: between two values in proportion, as SQL's percentile_cont and the
 * handbooks' type 7 have them (R. J. Hyndman and Y. Fan, Sample quantiles in statistical packages, 1996). NaN where there are none.
 */
export function quantilesOf(counts: ReadonlyMap<number, number>, wanted: readonly number[]): number[] {
  const sorted = [...counts].filter(([, n]) => n > 0).sort(([a], [b]) => a - b);
  let total = 0;
  for (const [, n] of sorted) total += n;
  const valueAt = (index: number): number => {
    let before = 0;
    for (const [value, n] of sorted) {
      before += n;
      if (index < before) return value;
    }
    return NaN;
  };
  return wanted.map((share) => {
    const at = (total - 1) * share;
    const low = Math.floor(at);
    const from = valueAt(low);
    return low === at ? from : from + (valueAt(low + 1) - from) * (at - low);
  });
}
