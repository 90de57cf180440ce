/** Positions by due second; within a second in the order of going. */
export function byDue(due: Float64Array, count: number): number[] {
  let first = Infinity;
  for (let i = 0; i < count; i += 1) if (due[i] < first) first = due[i];
  const keys = new Float64Array(count);
  // second and position in one number: sorted natively
  for (let i = 0; i < count; i += 1) keys[i] = Math.floor((due[i] - first) / 1000) * 2 ** 21 + i;
  keys.sort();
  return Array.from(keys, (key) => key % 2 ** 21);
}

/** The first and the last due time. */
export function span(due: Float64Array, count: number): { first: string | null; last: string | null } {
  let first = Infinity;
  let last = -Infinity;
  for (let i = 0; i < count; i += 1) {
    if (due[i] < first) first = due[i];
    if (due[i] > last) last = due[i];
  }
  return count === 0 ? { first: null, last: null } : { first: new Date(first).toISOString(), last: new Date(last).toISOString() };
}
