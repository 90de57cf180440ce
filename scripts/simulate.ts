import { play } from '../src/core/line/simulator/history';
import { planOf } from '../src/core/line/simulator/plan';
import { shrink } from '../src/core/line/simulator/shrink';

/** npm run simulate -- 100000 [first]: plays so many histories of the line; a seed that fails prints its shortest history. */
const count = Number(process.argv[2] ?? 100_000);
const first = Number(process.argv[3] ?? 1);
const began = performance.now();
let events = 0;
let failed = 0;
for (let seed = first; seed < first + count; seed += 1) {
  const verdict = play(planOf(seed));
  events += verdict.events;
  if (verdict.problems.length === 0) continue;
  failed += 1;
  const shortest = shrink(planOf(seed));
  process.stdout.write(
    `seed ${seed}: ${verdict.problems.join('; ')}\n${JSON.stringify(shortest)}\n${play(shortest, {}, true).story.join('\n')}\n\n`,
  );
  if (failed >= 5) break;
}
const seconds = (performance.now() - began) / 1000;
process.stdout.write(
  `${count.toLocaleString('en-US')} histories, ${events.toLocaleString('en-US')} events, ${seconds.toFixed(1)} s\n`,
);
process.stdout.write(`${count - failed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
