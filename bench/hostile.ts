import { readFileSync } from 'node:fs';
import { Desk } from '../harness/desk';
import { forget, freshDemo } from '../harness/demo';
import { CELLS, CONTAINERS, HOSTILE } from '../src/server/files/many-files';
import { median, say, sayWaits } from './figures';

/** Memory that a process holds, MB. */
const held = (pid: number) => Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))?.[1] ?? 0) / 1000;

interface Import {
  state: string;
  at_row: number;
}

/** A sheet of a few rows that hold more than any page should: 199 columns of long cells. */
export const wide = (rows: number) => {
  const cells = Array.from({ length: 198 }, (_, i) => `${i} ${'lorem ipsum '.repeat(300)}`).join(',');
  return `${Array.from({ length: 199 }, (_, i) => `H${i}`).join(',')}\n${Array.from({ length: rows }, (_, i) => `207-555-${1000 + i},${cells}`).join('\n')}`;
};

/**
 * Every hostile file of the tests, and every damaged phone cell in every container, uploaded to the built server one after the
 * other, while others look at people: how long they wait, and how much memory it takes above rest. Needs `npm run build` before.
 */
export async function hostile(): Promise<void> {
  const demo = await freshDemo();
  const desk = await new Desk(demo.url).signIn();
  const pid = demo.child.pid ?? 0;
  const outcomes = { read: 0, refused: 0 };
  const take = async (content: Uint8Array | string) => {
    const bytes = typeof content === 'string' ? Buffer.from(content) : content;
    const answer = await desk.upload<{ id: number }>('/api/imports/file?name=a.csv', bytes).catch((error: Error) => {
      // a refusal is a sentence; anything else is a fault
      if (!/: 422 /.test(error.message)) throw error;
      return undefined;
    });
    if (answer === undefined) {
      outcomes.refused += 1;
      return;
    }
    for (;;) {
      const each = await desk.ask<Import>('GET', `/api/imports/${answer.id}`);
      if (each.state === 'failed' || (each.state === 'open' && each.at_row === 0)) break;
      // as the page does, which hears of changes four times a second
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
    await desk.ask('GET', `/api/imports/${answer.id}/rows`);
    outcomes.read += 1;
    await desk.ask('DELETE', `/api/imports/${answer.id}`).catch(() => undefined);
  };
  const row = (cell: string) => [
    ['First name', 'Mobile'],
    ['Good', '+1 207 555 0198'],
    ['Test', cell],
    ['Also', '+1 207 555 0199'],
  ];
  // once of everything, so that threads and pages are there
  for (const [, make] of CONTAINERS) await take((await make(row('207-555-0142'))) ?? '');
  const cold = held(pid);
  // and one that fills the database's page cache (128 MB), as it is on any server that has been in use
  await take(wide(60));
  await new Promise((resolve) => setTimeout(resolve, 5000));
  const rest = held(pid);
  const waits: number[] = [];
  let most = rest;
  let peak = rest;
  let asking = true;
  const others = (async () => {
    while (asking) {
      const began = performance.now();
      await desk.ask('GET', '/api/people');
      waits.push(performance.now() - began);
      most = Math.max(most, held(pid));
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  })();
  // which of them others waited for the longest, and which took the most
  const worst: { name: string; wait: number; memory: number }[] = [];
  const watched = async (name: string, content: Uint8Array | string) => {
    const from = waits.length;
    most = held(pid);
    await take(content);
    peak = Math.max(peak, most);
    worst.push({ name, wait: Math.max(0, ...waits.slice(from)), memory: most - rest });
  };
  await new Promise((resolve) => setTimeout(resolve, 3000));
  process.stdout.write(`  others wait ${median(waits).toFixed(0)} ms when nothing goes on\n`);
  waits.length = 0;
  for (const [name, content] of HOSTILE) await watched(name, content);
  await watched('198 columns of long cells', wide(60));
  for (const [cell] of CELLS.slice(0, Number(process.env.BENCH_CELLS ?? CELLS.length)))
    for (const [name, make] of CONTAINERS) {
      const content = await make(row(cell));
      if (content !== undefined) await watched(`${cell.slice(0, 30)} in ${name}`, content);
    }
  asking = false;
  await others;
  process.stdout.write(`  ${outcomes.read} hostile and damaged files read, ${outcomes.refused} refused with a sentence\n`);
  for (const by of ['wait', 'memory'] as const)
    for (const each of worst.sort((a, b) => b[by] - a[by]).slice(0, 8))
      process.stdout.write(`    ${each.wait.toFixed(0)} ms, ${each.memory.toFixed(0)} MB: ${each.name}\n`);
  sayWaits(waits);
  say({
    name: `memory above rest (${rest.toFixed(0)} MB; ${cold.toFixed(0)} before a first large file) during all of them, at most`,
    value: peak - rest,
    unit: 'MB',
    against: '200 MB',
    ratio: (peak - rest) / 200,
    bar: '≤ 1',
  });
  await demo.stop();
  forget(demo);
}
