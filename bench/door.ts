import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import { Dice } from '../src/core/line/simulator/dice';
import { Desk, until } from '../harness/desk';
import { forget, freshDemo } from '../harness/demo';
import { median, say, sayWaits } from './figures';
import { wide } from './hostile';
import { held, Others } from './others';
import { hostileCard, hostileCodes, hostileMail, hostileWorkbook, hostileXliff, KINDS, type Kind } from './handed-in';

const SEED = 72345;
const COUNT = Number(process.env.BENCH_DOOR ?? 1000);
const PHONE = '+12075550171';

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
  const counts = new Map<string, number>();
  const count = (what: string) => counts.set(what, (counts.get(what) ?? 0) + 1);

  // a reply that was passed on by mail: answers with its token are read
  await desk.ask('POST', '/api/passing', {
    what: 'all',
    keyword_id: null,
    broadcast_id: null,
    name: 'Pier',
    way: 'mail',
    address: 'pier@mailbox.example',
    any_hour: true,
  });
  await desk.ask('POST', `/api/phones/${encodeURIComponent(PHONE)}/text`, { to: '72345', text: 'Is the Heron running?' });
  const answersTo = await until(async () => {
    const line = readFileSync(join(demo.folder, 'carrier.journal.mails'), 'utf8').trim().split('\n').at(-1) ?? '';
    return /"replyTo":"([^"]+\+[^"]+@[^"]+)"/.exec(line)?.[1];
  });
  const broadcast = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Hostile' });
  const transport = createTransport({ host: '127.0.0.1', port: mailPort, secure: false, ignoreTLS: true });
  /** Tried again as a mail server does when it is told to. */
  const mail = async (content: string): Promise<void> => {
    const raw = `From: pier@mailbox.example\r\nTo: ${answersTo}\r\n${content}`;
    for (let tries = 0; tries < 20; tries += 1) {
      const said = await transport.sendMail({ envelope: { from: 'pier@mailbox.example', to: answersTo }, raw }).then(
        () => 250,
        (error: { responseCode?: number }) => error.responseCode ?? 0,
      );
      if (said === 451 || said === 421) {
        await sleep(200);
        continue;
      }
      if (said !== 250 && said < 500) throw new Error(`A mail was answered with ${said}: ${content.slice(0, 100)}`);
      count(said === 250 ? 'mails taken' : 'mails refused');
      return;
    }
    count('mails sent away for now');
  };
  const upload = async (kind: Kind, path: string, content: Uint8Array | string): Promise<{ id: number } | undefined> => {
    const bytes = typeof content === 'string' ? Buffer.from(content) : content;
    const asked = () => desk.upload<{ id: number }>(path, bytes);
    const answer = await asked()
      // a kept connection that the server closes in that very moment: browsers ask again, too
      .catch((error: Error) => (error.message === 'fetch failed' ? asked() : Promise.reject(error)))
      .catch((error: Error) => {
        // a refusal is a sentence; anything else is a fault
        if (!/: (?:409|413|422) /.test(error.message)) throw error;
        return undefined;
      });
    count(`${kind} ${answer ? 'read' : 'refused'}`);
    return answer;
  };
  const file = async (kind: Kind, content: Uint8Array | string): Promise<void> => {
    const answer = await upload(kind, '/api/imports/file?name=a', content);
    if (!answer) return;
    for (;;) {
      const each = await desk.ask<{ state: string; at_row: number }>('GET', `/api/imports/${answer.id}`);
      if (each.state === 'failed' || (each.state === 'open' && each.at_row === 0)) break;
      await sleep(250);
    }
    await desk.ask('DELETE', `/api/imports/${answer.id}`).catch(() => undefined);
  };
  const hand: Record<Kind, (dice: Dice, n: number) => Promise<unknown>> = {
    mail: (dice) => mail(hostileMail(dice)),
    xliff: (dice) => upload('xliff', `/api/broadcasts/${broadcast.id}/xliff?language=es`, hostileXliff(dice)),
    codes: (dice, n) => upload('codes', `/api/code-lists?name=Hostile%20${n}`, hostileCodes(dice, n)),
    card: (dice) => file('card', hostileCard(dice)),
    workbook: (dice) => file('workbook', hostileWorkbook(dice)),
  };
  /** Which of them others waited for the longest, and which took the most. */
  const worst: { name: string; wait: number; memory: number }[] = [];
  /** By its number: what one of them was is had again. */
  const one = (n: number) => hand[KINDS[n % KINDS.length]](new Dice(SEED + n), n);
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
  transport.close();
  await demo.stop();
  forget(demo);
}
