import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { openDemo, prepareDemo, forget, freshDemo } from '../harness/demo';
import { say } from './figures';
import { held } from './others';

/** How long nobody does anything, s. */
const IDLE = 120;

/** Processor time that a process has used, ms. */
function used(pid: number): number {
  const stat = readFileSync(`/proc/${pid}/stat`, 'latin1')
    .replace(/^.*\) /, '')
    .split(' ');
  return (Number(stat[11]) + Number(stat[12])) * 10;
}

/** The built demo, started on a folder that is there already: how soon its first page comes, what it costs while nobody asks, and what it holds. */
export async function standing(): Promise<void> {
  await prepareDemo();
  const first = await freshDemo();
  await first.stop();
  const began = performance.now();
  const demo = await openDemo(first.folder);
  const page = await fetch(demo.url);
  await page.text();
  const pid = demo.child.pid ?? 0;
  const ready = (performance.now() - began) / 1000;
  const cpu = used(pid) / 1000;
  say({
    name: 'second start of the demo, to its first page',
    value: ready,
    unit: 's',
    against: '5 s',
    ratio: ready / 5,
    bar: '≤ 1',
  });
  say({ name: 'processor for it', value: cpu, unit: 's', against: 'what it takes by the clock', ratio: cpu / ready, bar: '—' });
  // what a start leaves to do is done
  await sleep(75_000);
  const before = used(pid);
  await sleep(IDLE * 1000);
  const share = (used(pid) - before) / (IDLE * 10);
  say({
    name: 'processor while nobody does anything',
    value: share,
    unit: '% a core',
    against: '0.5 %',
    ratio: share / 0.5,
    bar: '≤ 1',
  });
  const memory = held(pid);
  say({
    name: 'memory of the server with the demo',
    value: memory,
    unit: 'MB',
    against: '450 MB',
    ratio: memory / 450,
    bar: '≤ 1',
  });
  await demo.stop();
  forget(demo);
}
