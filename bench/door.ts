import { setTimeout as sleep } from 'node:timers/promises';
import { createServer, type AddressInfo } from 'node:net';
import { Desk } from '../harness/desk';
import { forget, freshDemo } from '../harness/demo';
import { median, say, sayWaits } from './figures';
import { wide } from './hostile';
import { held, Others } from './others';
import { handOver } from './hand-over';
import { KINDS } from './handed-in';

const COUNT = Number(process.env.BENCH_DOOR ?? 1000);

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => resolve(port));
    });
  });
}

/**
 * A thousand hostile mails, translations, lists of codes, cards and workbooks, each as it would come in (by the mail port, by upload), one
 * after the other into the built server, while others look at people: how long they wait, and how much memory the server takes above
 * rest. What an upload answers is a refusal with a sentence or what was read; anything else is a fault. Needs `npm run build` before.
 */
export async function door(): Promise<void> {
  const mailPort = await freePort();
  const demo = await freshDemo({ MAIL_PORT: String(mailPort) });
  const desk = await new Desk(demo.url).signIn();
  const pid = demo.child.pid ?? 0;
  const { counts, one, file, close } = await handOver(demo, desk, mailPort);
  /** Which of them others waited for the longest, and which took the most. */
  const worst: { name: string; wait: number; memory: number }[] = [];
  // some of everything first, so that threads are there and the database's page cache (128 MB) is as on a server in use
  for (let i = 0; i < 40; i += 1) await one(100_000 + i);
  await file('card', wide(60));
  await sleep(10_000);
  const others = new Others({ url: demo.url, cookie: desk.cookie, pid });
  await sleep(3000);
  await others.seen();
  const rest = held(pid);
  await sleep(5000);
  const idle = await others.seen();
  process.stdout.write(
    `  others wait ${median(idle.waits).toFixed(0)} ms when nothing goes on, ${Math.max(...idle.waits).toFixed(0)} ms at most; ${rest.toFixed(0)} MB at rest\n`,
  );
  counts.clear();
  const waits: number[] = [];
  let peak = rest;
  for (let n = 1; n <= COUNT; n += 1) {
    await one(n);
    const seen = await others.seen();
    waits.push(...seen.waits);
    peak = Math.max(peak, seen.most);
    worst.push({
      name: `${KINDS[n % KINDS.length]} ${n}`,
      wait: Math.max(0, ...seen.waits),
      memory: Math.max(0, seen.most - rest),
    });
  }
  await others.end();
  for (const [what, n] of [...counts].sort()) process.stdout.write(`  ${n} ${what}\n`);
  for (const by of ['wait', 'memory'] as const)
    for (const each of worst.sort((a, b) => b[by] - a[by]).slice(0, 6))
      process.stdout.write(`    ${each.wait.toFixed(0)} ms, ${each.memory.toFixed(0)} MB: ${each.name}\n`);
  sayWaits(waits);
  const longest = Math.max(...waits);
  say({
    name: 'others’ requests meanwhile, at most',
    value: longest,
    unit: 'ms',
    against: '1,000 ms',
    ratio: longest / 1000,
    bar: '≤ 1',
  });
  say({
    name: `memory above rest (${rest.toFixed(0)} MB) meanwhile, at most`,
    value: peak - rest,
    unit: 'MB',
    against: '200 MB',
    ratio: (peak - rest) / 200,
    bar: '≤ 1',
  });
  close();
  await demo.stop();
  forget(demo);
}
