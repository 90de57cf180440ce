import { afterAll, expect, test } from 'vitest';
import { Desk } from '../harness/desk';
import { forget, freshDemo } from '../harness/demo';
import { FigureRuns } from '../harness/figure-runs';

const environment = { CARRIER_PROFILE: JSON.stringify({ outcomes: 'mixed', latency: [5, 400], doubled: 0.05, early: 0.03 }) };
let runs: FigureRuns | undefined;
afterAll(async () => {
  if (!runs) return;
  await runs.demo.stop();
  forget(runs.demo);
});

test('figures of runs that were killed while they went are those of the message center’s journal, counted by a second implementation', async () => {
  const demo = await freshDemo(environment);
  runs = new FigureRuns(demo, new Desk(demo.url), environment, 20261202);
  await runs.begin();
  await runs.batch(['Alpha run', 'Bravo run', 'Charlie run']);
  await runs.answer('Charlie run');
  expect(await runs.differences()).toEqual([]);
});
