/** A small seeded generator (mulberry32), so that Ottermere is the same on every machine. */
export function seeded(seed: number) {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    int: (least: number, most: number) => least + Math.floor(next() * (most - least + 1)),
    pick: <T>(from: readonly T[]): T => from[Math.floor(next() * from.length)],
    chance: (share: number) => next() < share,
  };
}
export type Chance = ReturnType<typeof seeded>;
