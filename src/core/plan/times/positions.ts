/** Bits that a double leaves beside a key of 32 for a position: 2^53 is where whole numbers end (ECMA-262, §6.1.6.1). */
const BESIDE = 2 ** 21;

/**
 * Positions 0 to `count` - 1 by their keys (whole numbers from 0 to below 2^32); of equal keys the earlier position first.
 * As long as there are few enough, key and position are one number and sorted natively, five times as fast as by a comparison.
 */
export function positionsBy(key: (position: number) => number, count: number): Uint32Array {
  const positions = new Uint32Array(count);
  if (count <= BESIDE) {
    const both = new Float64Array(count);
    for (let i = 0; i < count; i += 1) both[i] = key(i) * BESIDE + i;
    both.sort();
    for (let i = 0; i < count; i += 1) positions[i] = both[i] % BESIDE;
    return positions;
  }
  const keys = new Float64Array(count);
  for (let i = 0; i < count; i += 1) {
    keys[i] = key(i);
    positions[i] = i;
  }
  return positions.sort((a, b) => keys[a] - keys[b] || a - b);
}
