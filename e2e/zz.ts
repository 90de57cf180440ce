import { mkdirSync, writeFileSync } from 'node:fs';
import { closeBrowser, signIn, visit } from '../harness/browser';
import { forget, freshDemo } from '../harness/demo';
import { Desk } from '../harness/desk';
import { readFileSync } from 'node:fs';
const VIEWS = process.env.VIEWS?.split(' ') ?? [
  '/',
  '/people',
  '/people/23',
  '/people?segment=1',
  '/people?segment=new',
  '/people/dependants',
  '/people/bring-in',
  '/people/bring-in/5',
  '/broadcasts/32/reach?step=call_list',
  '/broadcasts',
  '/broadcasts/32',
  '/broadcasts/31',
  '/broadcasts/32/when',
  '/broadcasts/32/short',
  '/broadcasts/templates',
  '/broadcasts/templates?kind=template&open=1',
  '/broadcasts/32/last-look',
  '/runs/27',
  '/runs/27/summary',
  '/replies',
  '/replies?number=%2B12075550134',
  '/outcomes',
  '/outcomes/compare?ids=28,27,24',
  '/outcomes/over-time',
  '/replies/keywords',
  '/replies/keywords/1/poster',
  '/replies/passing-on',
  '/setup/desk',
  '/setup/mail',
  '/phones?show=mailbox',
  '/setup/workspace',
  '/setup/senders',
  '/setup/prices',
  '/setup/balance',
  '/setup/carrier',
  '/setup/fields',
  '/setup/team',
  '/setup/account',
  '/setup/record',
  '/setup/api',
  '/start',
  '/phones',
];
const modes = (process.env.MODES ?? 'light phone').split(' ');
const demo = await freshDemo();
const desk = await new Desk(demo.url).signIn();
await desk.upload('/api/imports/file?name=junior-families.xlsx', readFileSync('demo/files/junior-families.xlsx'));
mkdirSync('/tmp/shots', { recursive: true });
const visitor = await visit();
const { page } = visitor;
await signIn(visitor, demo.url);
const small: Record<string, string[]> = {};
for (const mode of modes) {
  await page.setViewport(
    mode === 'phone'
      ? { width: 390, height: 844, hasTouch: true, isMobile: true }
      : mode === 'double'
        ? { width: 640, height: 400 }
        : { width: 1280, height: 800 },
  );
  await page.emulateMediaFeatures([
    { name: 'prefers-color-scheme', value: mode === 'night' ? 'dark' : 'light' },
    { name: 'prefers-reduced-motion', value: 'reduce' },
  ]);
  for (const view of VIEWS) {
    await page.goto(demo.url + view, { waitUntil: 'networkidle2' });
    await page
      .waitForFunction(() => !document.querySelector('[role=status][aria-busy=true]'), { timeout: 8000 })
      .catch(() => console.log('busy', view));
    await page.screenshot({ path: `/tmp/shots/${mode}-${view.replace(/[^a-z0-9]+/gi, '_')}.png` as `${string}.png` });
    if (mode !== 'light' && mode !== 'night') {
      const found = await page.evaluate(() => {
        const out: string[] = [];
        if (document.documentElement.scrollWidth > innerWidth) out.push(`WIDE ${document.documentElement.scrollWidth}`);
        for (const e of document.querySelectorAll<HTMLElement>(
          'a[href], button, input, [role=button], [role=tab], [role=combobox], textarea',
        )) {
          const r = e.getBoundingClientRect();
          if (r.width === 0 || r.height === 0 || getComputedStyle(e).visibility === 'hidden') continue;
          if (e.closest('[aria-hidden=true]')) continue;
          if (
            e.tagName === 'A' &&
            !e.hasAttribute('data-alone') &&
            [...(e.parentElement?.childNodes ?? [])].some((n) => n.nodeType === 3 && /[a-z]{2}/i.test(n.textContent ?? ''))
          )
            continue;
          if (e.closest('.MuiInputBase-root')) {
            const b = e.closest('.MuiInputBase-root')!.getBoundingClientRect();
            if (b.height >= 44) continue;
          }
          if (r.height < 44 || r.width < 44)
            out.push(
              `${Math.round(r.width)}x${Math.round(r.height)} ${e.tagName} ${(e.getAttribute('aria-label') ?? e.textContent ?? '').slice(0, 40)}`,
            );
        }
        return out;
      });
      small[`${mode} ${view}`] = found;
    }
  }
}
writeFileSync('/tmp/shots/small.json', JSON.stringify(small, null, 1));
await closeBrowser();
await demo.stop();
forget(demo);
