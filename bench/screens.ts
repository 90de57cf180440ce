import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { closeBrowser, signIn, visit, type Visitor } from '../harness/browser';
import { forget, freshDemo } from '../harness/demo';
import { Desk, until } from '../harness/desk';
import { say } from './figures';
import { csvFile } from './people';

const PEOPLE = 100_000;
interface Import {
  state: string;
  version: number;
  checked_version: number;
  settings: object;
  facts: { list_id: number };
}

/** What the first page weighs over the wire, and whether the screens keep up with 100,000 people. Needs `npm run build`. */
export async function screens(): Promise<void> {
  const demo = await freshDemo({ CHECK_ANSWERS: '' });
  try {
    await firstPage(demo.url);
    const list = await bringIn(demo.url);
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await scrolling(visitor, demo.url, list);
    await typing(visitor, demo.url, list);
  } finally {
    await closeBrowser();
    await demo.stop();
    forget(demo);
  }
}

/** A thousand replies a minute, for half a minute, while somebody has Replies open. Needs `npm run build`. */
export async function liveReplies(): Promise<void> {
  const demo = await freshDemo({ CHECK_ANSWERS: '' });
  try {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    const desk = await new Desk(demo.url).signIn();
    await visitor.page.goto(`${demo.url}/replies`, { waitUntil: 'domcontentloaded' });
    await visitor.sees('Mabel');
    let sent = 0;
    await frames(visitor, '1,000 replies a minute, live', async () => {
      const began = Date.now();
      while (Date.now() - began < 30_000) {
        sent += 1;
        const number = `1207${2_000_000 + (sent % 400)}`;
        await desk.ask('POST', `/api/phones/${number}/text`, { to: '72345', text: `Question ${sent}: is the 5:20 running?` });
        await new Promise((resolve) => setTimeout(resolve, Math.max(0, began + sent * 60 - Date.now())));
      }
    });
    const waiting = () => desk.ask<{ counts: { waiting: number } }>('GET', '/api/replies').then(({ counts }) => counts.waiting);
    await until(async () => (await waiting()) >= Math.min(400, sent));
    // what is shown is what there is
    await visitor.sees(`waiting ${(await waiting()).toLocaleString('en-US')}`);
    process.stdout.write(`  ${sent} replies in half a minute\n`);
  } finally {
    await closeBrowser();
    await demo.stop();
    forget(demo);
  }
}

/** Today, with an empty cache: everything that came over the wire until nothing more comes. */
async function firstPage(url: string): Promise<void> {
  const visitor = await visit();
  await signIn(visitor, url);
  const wire = await visitor.page.createCDPSession();
  await wire.send('Network.enable');
  await wire.send('Network.setCacheDisabled', { cacheDisabled: true });
  const kinds = new Map<string, string>();
  const bytes = { script: 0, all: 0 };
  wire.on('Network.responseReceived', ({ requestId, type }) => kinds.set(requestId, type));
  wire.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    bytes.all += encodedDataLength;
    if (kinds.get(requestId) === 'Script') bytes.script += encodedDataLength;
  });
  await visitor.page.goto(url, { waitUntil: 'networkidle2' });
  await visitor.sees('Needs you');
  for (const [name, value, most] of [
    ['first page over the wire, JavaScript', bytes.script, 240],
    ['first page over the wire, all of it', bytes.all, 380],
  ] as const)
    say({ name, value: value / 1000, unit: 'kB', against: `${most} kB`, ratio: value / 1000 / most, bar: '≤ 1' });
  await visitor.page.close();
}

/** A list of so many people, brought in as anybody would. */
async function bringIn(url: string): Promise<number> {
  const folder = mkdtempSync(join(tmpdir(), 'bench-screens-'));
  const desk = await new Desk(url).signIn();
  const { id } = await desk.upload<{ id: number }>(
    '/api/imports/file?name=many.csv',
    readFileSync(await csvFile(folder, PEOPLE)),
  );
  rmSync(folder, { recursive: true });
  const one = () => desk.ask<Import>('GET', `/api/imports/${id}`);
  const checked = () =>
    until(async () => {
      const it = await one();
      return it.state === 'open' && it.checked_version === it.version && it;
    }, 600);
  const { settings } = await checked();
  await desk.ask('PUT', `/api/imports/${id}/settings`, { ...settings, list: 'Many' });
  await desk.ask('POST', `/api/imports/${id}/decide`, { version: (await checked()).version });
  return until(async () => {
    const it = await one();
    return it.state === 'done' && it.facts.list_id;
  }, 900);
}

/** Frames drawn while `work` goes on: how many of them took longer than 50 ms. */
async function frames(visitor: Visitor, name: string, work: () => Promise<void>): Promise<void> {
  await visitor.page.evaluate(() => {
    const taken: number[] = [];
    Object.assign(window, { taken });
    let last = performance.now();
    const frame = (now: number) => {
      taken.push(now - last);
      last = now;
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  });
  await work();
  const taken = (await visitor.page.evaluate(() => (window as unknown as { taken: number[] }).taken)).slice(1);
  const late = (taken.filter((ms) => ms > 50).length / taken.length) * 100;
  say({ name: `${name}: frames over 50 ms`, value: late, unit: '%', against: '1 %', ratio: late, bar: '≤ 1' });
  process.stdout.write(`  ${taken.length} frames, the longest ${Math.max(...taken).toFixed(0)} ms\n`);
}

async function scrolling(visitor: Visitor, url: string, list: number): Promise<void> {
  const { page } = visitor;
  await page.goto(`${url}/people?list=${list}`, { waitUntil: 'networkidle2' });
  await visitor.sees(PEOPLE.toLocaleString('en-US'));
  await page.mouse.move(700, 600);
  await frames(visitor, 'scrolling 100,000 people', async () => {
    for (let i = 0; i < 300; i += 1) {
      await page.mouse.wheel({ deltaY: 240 });
      await new Promise((resolve) => setTimeout(resolve, 16));
    }
  });
}

async function typing(visitor: Visitor, url: string, list: number): Promise<void> {
  const { page } = visitor;
  const desk = await new Desk(url).signIn();
  const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: 'Many', list_id: list });
  await page.goto(`${url}/broadcasts/${id}`, { waitUntil: 'networkidle2' });
  await visitor.sees('To');
  await page.focus('[role=textbox][contenteditable=true]');
  await frames(visitor, 'typing words to 100,000 people', () =>
    page.keyboard.type(
      'The 7:10 AM Heron is off tomorrow. Kittiwake leaves 7:40 AM from the same dock; passes stay good on both, and the ' +
        'quay is open from 6:30. Thank you for your patience, and a calm crossing to all of you.',
      { delay: 60 },
    ),
  );
}
