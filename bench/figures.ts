/** One figure of npm run bench: ours against a floor measured in the same run. */
export interface Figure {
  name: string;
  value: number;
  unit: string;
  against: string;
  ratio: number;
  bar: string;
}

export const figures: Figure[] = [];

export function say(figure: Figure): void {
  figures.push(figure);
  process.stdout.write(
    `${figure.name.padEnd(58)} ${figure.value.toLocaleString('en-US', { maximumFractionDigits: 1 }).padStart(12)} ${figure.unit.padEnd(9)} ${figure.ratio.toFixed(2).padStart(6)} × ${figure.against} (bar ${figure.bar})\n`,
  );
}

export const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** Milliseconds of both sides, run in turn; the median counts. */
export async function race(rounds: number, ours: () => unknown, theirs: () => unknown): Promise<[ours: number, theirs: number]> {
  const times: [number[], number[]] = [[], []];
  for (let i = 0; i < rounds; i += 1) for (const [side, work] of [ours, theirs].entries()) times[side].push(await timed(work));
  return [median(times[0]), median(times[1])];
}

export async function timed(work: () => unknown): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

/** Keeps results from being optimized away. */
export const sink = { value: 0 };
