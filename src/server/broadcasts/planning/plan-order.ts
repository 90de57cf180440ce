import { positionsBy } from '../../../core/plan/times/positions';

/** Positions by due second; within a second in the order of going. */
export function byDue(due: Float64Array, count: number): Uint32Array {
  let first = Infinity;
  for (let i = 0; i < count; i += 1) if (due[i] < first) first = due[i];
  return positionsBy((i) => Math.floor((due[i] - first) / 1000), count);
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
