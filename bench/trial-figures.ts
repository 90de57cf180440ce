import { Desk } from '../harness/desk';
import { forget, freshDemo } from '../harness/demo';
import { FigureRuns } from '../harness/figure-runs';

/** npm run trial:figures (`-- 20`): so many random runs with kills, each one's figures against a second implementation's. */
const count = Number(process.argv[2] ?? 20);
const environment = { CARRIER_PROFILE: JSON.stringify({ outcomes: 'mixed', latency: [5, 600], doubled: 0.05, early: 0.03 }) };
const demo = await freshDemo(environment);
const runs = new FigureRuns(demo, new Desk(demo.url), environment, Date.now() % 1_000_003);
runs.timesToo = true;
await runs.begin();
const name = (i: number) => `Figures ${[...String(i)].map((digit) => 'ABCDEFGHIJ'[Number(digit)]).join('')}`;
for (let i = 0; i < count; i += 4) {
  const names = Array.from({ length: Math.min(4, count - i) }, (_, at) => name(i + at));
  await runs.batch(names);
  await runs.answer(names[names.length - 1]);
  process.stdout.write(`${i + names.length} of ${count} runs have gone\n`);
}
const wrong = await runs.differences();
for (const each of wrong) process.stdout.write(`DIFFERS ${each}\n`);
process.stdout.write(`${runs.count} runs, ${wrong.length} differences\n`);
await runs.demo.stop();
forget(runs.demo);
process.exit(wrong.length === 0 ? 0 : 1);
