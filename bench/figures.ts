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

/** Milliseconds of both sides, run in turn after one round that warms up; the best of each, since these machines differ from one moment to the next. */
export async function race(rounds: number, ours: () => unknown, theirs: () => unknown): Promise<[ours: number, theirs: number]> {
  const best: [number, number] = [Infinity, Infinity];
  for (let i = 0; i <= rounds; i += 1)
    for (const [side, work] of [ours, theirs].entries()) {
      const took = await timed(work);
      if (i > 0) best[side] = Math.min(best[side], took);
    }
  return best;
}

export async function timed(work: () => unknown): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

/** How long others waited meanwhile: 99 of 100 within so long. */
export function sayWaits(waits: readonly number[]): void {
  const p99 = [...waits].sort((a, b) => a - b)[Math.floor(waits.length * 0.99)];
  say({
    name: 'others’ requests meanwhile, 99 of 100 within',
    value: p99,
    unit: 'ms',
    against: '250 ms',
    ratio: p99 / 250,
    bar: '≤ 1',
  });
}

/** The most memory that the process held, of what was seen of it, MB. */
export function sayMemory(name: string, rss: readonly number[]): void {
  const most = Math.max(...rss);
  say({ name, value: most, unit: 'MB', against: '1,200 MB', ratio: most / 1200, bar: '≤ 1' });
}

/** Keeps results from being optimized away. */
export const sink = { value: 0 };

/** Processor time of what was timed, ms for each, beside its row: of the database's thread, and of the others of the process. */
export function sayCpu(took: { database: number; process: number }, count: number, each: string): void {
  const [database, others] = [took.database / count, (took.process - took.database) / count];
  process.stdout.write(
    `  processor a ${each}: ${database.toFixed(3)} ms in the database’s thread, ${others.toFixed(3)} in others\n`,
  );
}
