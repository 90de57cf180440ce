import { afterAll, beforeAll, expect, test } from 'vitest';
import { openDemo, type Demo } from '../harness/demo';
import type { Desk } from '../harness/desk';
import type { Visitor } from '../harness/browser';
import { getUp, sitDown } from './support/sit-down';

let demo: Demo;
let desk: Desk;
let ana: Visitor;
beforeAll(async () => {
  ({ demo, desk, ana } = await sitDown());
});
afterAll(() => getUp(demo, ana));

test('the server goes and comes again: the page says that it may be old, and then shows what happened meanwhile', async () => {
  await ana.page.goto(`${demo.url}/replies`);
  await ana.sees('Is the 5:20 still running today?');
  const { port } = new URL(demo.url);
  await demo.stop('SIGKILL');
  await ana.sees('what you see may be old');
  demo = await openDemo(demo.folder, { PORT: port });
  desk = desk.at(demo.url);
  await desk.ask('POST', '/api/phones/12075550166/text', { to: '72345', text: 'Did the Kittiwake take the bikes?' });
  await ana.sees('Did the Kittiwake take the bikes?');
  await ana.page.waitForFunction(() => !document.body.innerText.includes('what you see may be old'));
  // that nothing answered is what a browser writes to its console; it is expected here
  expect(ana.trouble.every((each) => /ERR_|Failed to load/.test(each))).toBe(true);
  ana.trouble.length = 0;
});

test('a second page of the same browser hears by the first one’s stream, and goes on when that is closed', async () => {
  const second = await ana.page.browserContext().newPage();
  const streams: string[] = [];
  second.on('request', (request) => request.url().includes('/api/live') && streams.push(request.url()));
  await second.goto(`${demo.url}/replies`);
  const shows = (words: string) =>
    second.waitForFunction((wanted) => document.body.innerText.includes(wanted), { timeout: 60_000 }, words);
  await shows('Did the Kittiwake take the bikes?');
  await desk.ask('POST', '/api/phones/12075550166/text', { to: '72345', text: 'And the dogs?' });
  await shows('And the dogs?');
  expect(streams).toEqual([]);
  await ana.page.goto('about:blank');
  await desk.ask('POST', '/api/phones/12075550166/text', { to: '72345', text: 'And the cat?' });
  await shows('And the cat?');
  expect(streams).toHaveLength(1);
  await second.close();
});
