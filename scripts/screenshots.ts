import { mkdirSync } from 'node:fs';
import { forget, freshDemo } from '../harness/demo';
import { closeBrowser, signIn, visit } from '../harness/browser';
import { OTTERMERE } from '../harness/ottermere';

/** Remakes docs/screenshots from a fresh demo. `npm run build` first. */
const OUT = 'docs/screenshots';
mkdirSync(OUT, { recursive: true });
const demo = await freshDemo();
const VIEWS: [string, string, { night?: boolean; width?: number; height?: number }][] = [
  ['/', 'today', {}],
  ['/people', 'people', {}],
  ['/people/23', 'person', {}],
  ['/outcomes/over-time', 'over-time', {}],
  ['/replies/keywords', 'keywords', {}],
  [`/broadcasts/${OTTERMERE.draft}/reach?step=call_list`, 'reach', { night: true }],
  [`/broadcasts/${OTTERMERE.draft}`, 'sheet', {}],
  [`/broadcasts/${OTTERMERE.draft}`, 'sheet-night', { night: true }],
  [`/broadcasts/${OTTERMERE.draft}`, 'sheet-phone', { width: 390, height: 844 }],
  [`/broadcasts/${OTTERMERE.draft}/when`, 'when', {}],
  [`/broadcasts/${OTTERMERE.draft}/last-look`, 'last-look', {}],
  [`/runs/${OTTERMERE.asked}`, 'run', {}],
  ['/replies', 'replies', {}],
  ['/outcomes', 'outcomes', {}],
  ['/setup/workspace', 'setup', {}],
  ['/start', 'start', {}],
  ['/broadcasts', 'broadcasts', {}],
];
for (const [path, name, options] of VIEWS) {
  const visitor = await visit(options);
  await signIn(visitor, demo.url);
  await visitor.page.goto(`${demo.url}${path}`, { waitUntil: 'networkidle2' });
  await new Promise((resolve) => setTimeout(resolve, 1500));
  await visitor.page.screenshot({ path: `${OUT}/${name}.png` });
  await visitor.page.close();
}
// the bench with the damaged file on it, and the phones once something has arrived
const visitor = await visit();
await signIn(visitor, demo.url);
await visitor.page.goto(`${demo.url}/people/bring-in`);
const [chooser] = await Promise.all([visitor.page.waitForFileChooser(), visitor.click('button', 'Choose a file')]);
await chooser.accept(['demo/files/junior-families.xlsx']);
await visitor.sees('What will happen');
await visitor.click('button', 'Row 4, as it will be stored');
await new Promise((resolve) => setTimeout(resolve, 800));
await visitor.page.screenshot({ path: `${OUT}/import-bench.png` });
await visitor.page.goto(`${demo.url}/phones`);
for (let i = 0; i < 2; i += 1) await visitor.click('button', '1 hour on');
await visitor.sees('Pike class');
await visitor.page.screenshot({ path: `${OUT}/phones.png` });
await closeBrowser();
await demo.stop();
forget(demo);
process.exit(0);
