import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { HTTPRequest, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { closeBrowser, signIn, visit } from '../harness/browser';
import { forget, freshDemo, type Demo } from '../harness/demo';
import { Desk } from '../harness/desk';
import { OTTERMERE } from '../harness/ottermere';

const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const VIEWS = [
  '/',
  '/people',
  '/people/23',
  '/people?segment=1',
  '/people?segment=new',
  '/people/dependants',
  '/people/dependants?open=7',
  '/people/bring-in',
  '/people/bring-in/5',
  `/broadcasts/${OTTERMERE.draft}/reach?step=call_list`,
  `/broadcasts/${OTTERMERE.draft}/reach?step=will_get`,
  '/broadcasts',
  `/broadcasts/${OTTERMERE.draft}`,
  `/broadcasts/${OTTERMERE.agreed}`,
  `/broadcasts/${OTTERMERE.draft}/when`,
  `/broadcasts/${OTTERMERE.draft}/short`,
  '/broadcasts/templates',
  '/broadcasts/templates?kind=template&open=1',
  `/broadcasts/${OTTERMERE.draft}/last-look`,
  `/runs/${OTTERMERE.asked}`,
  `/runs/${OTTERMERE.asked}/summary`,
  '/replies',
  '/replies?number=%2B12075550134',
  '/outcomes',
  `/outcomes/compare?ids=${OTTERMERE.last},${OTTERMERE.asked},${OTTERMERE.earlier}`,
  '/outcomes/over-time',
  '/replies/keywords',
  '/replies/keywords/1/poster',
  '/replies/passing-on',
  '/setup/desk',
  '/setup/mail',
  '/phones?show=mailbox',
  '/setup/workspace',
  '/setup/wordings',
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

let demo: Demo;
beforeAll(async () => {
  demo = await freshDemo();
  // something on the bench, with every kind of trouble
  const desk = await new Desk(demo.url).signIn();
  await desk.upload('/api/imports/file?name=junior-families.xlsx', readFileSync('demo/files/junior-families.xlsx'));
});
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
  forget(demo);
});

/** Runs axe on the page that stands there; what it found, in words. */
async function axe(page: Page, options: object): Promise<string[]> {
  // the page's policy allows no inline script, so axe comes in through the debugger's isolated world
  if (!(await page.evaluate('typeof axe === "object"'))) await page.evaluate(axeSource);
  return (await page.evaluate(
    `axe.run(document, ${JSON.stringify({ ...options, resultTypes: ['violations'] })}).then((r) => r.violations.map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160) + ' ' + n.failureSummary).join(' | ')))`,
  )) as string[];
}

/** "1 parts" and its brothers: one of something said in the plural. */
const OF_ONE =
  /(?<![\d,.:/-])1 (?:parts|people|texts|hints|dependants|contacts|guardians|replies|answers|clicks|days|hours|minutes|seconds|recipients|lists|tags|columns|rows|fields|codes|runs|numbers|broadcasts|imports|conditions|languages|links|questions|cards|characters)\b/g;

/**
 * In every page that is opened from here on what moves by itself is written down (Layout Instability API, W3C WICG; what moves within half
 * a second of a press is left out by the browser).
 */
async function watchShifts(page: Page): Promise<void> {
  await page.evaluateOnNewDocument(() => {
    const moved: [number, string][] = [];
    Object.assign(globalThis, { moved });
    const nameOf = (node: Node | null) => (node?.textContent ?? 'gone').slice(0, 40);
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & {
        value: number;
        hadRecentInput: boolean;
        sources: { node: Node | null }[];
      })[])
        if (!entry.hadRecentInput) moved.push([entry.value, entry.sources.map(({ node }) => nameOf(node)).join(', ')]);
    }).observe({ type: 'layout-shift', buffered: true });
  });
}

/** How much has jumped since it was last asked, as a cumulative layout shift; “good” is at most 0.1 (web.dev, Core Web Vitals). */
async function jumped(page: Page): Promise<string[]> {
  const moved = await page.evaluate(() => (globalThis as unknown as { moved: [number, string][] }).moved.splice(0));
  const sum = moved.reduce((all, [value]) => all + value, 0);
  return sum <= 0.1
    ? []
    : [`jumps by ${sum.toFixed(2)}: ${moved.map(([value, what]) => `${value.toFixed(3)} ${what}`).join('; ')}`];
}

/** Where the name of a view stands in its heading row, px from the top of the window; undefined where there is no such row. */
function headAt(): number | undefined {
  const box = document.querySelector('main h1')?.getBoundingClientRect();
  return box && box.height > 2 && box.top < 150 ? Math.round(box.top + box.height / 2) : undefined;
}

test('axe finds nothing on any main view (WCAG 2.2 AA), by day and by night, the heading row is one, and the console is silent', async () => {
  const visitor = await visit();
  const { page } = visitor;
  const heads = new Map<number, string[]>();
  await signIn(visitor, demo.url);
  const all: unknown[] = [];
  const light = async (mode: 'light' | 'dark') => {
    await page.emulateMediaFeatures([
      { name: 'prefers-color-scheme', value: mode },
      { name: 'prefers-reduced-motion', value: 'reduce' },
    ]);
    await page.waitForFunction((wanted) => getComputedStyle(document.documentElement).colorScheme === wanted, {}, mode);
  };
  for (const view of VIEWS) {
    // as by a way within the page; that each opens by its address, too, is held below
    await page.evaluate((to) => {
      // with the router's own count of where it is, as its ways leave it
      const { idx } = history.state as { idx: number };
      history.pushState({ usr: null, key: to, idx: idx + 1 }, '', to);
      dispatchEvent(new PopStateEvent('popstate'));
    }, view);
    await page.waitForNetworkIdle({ concurrency: 2, idleTime: 300 });
    await page
      // what a slow machine still waits for is no view yet
      .waitForFunction(
        () => document.querySelector('h1, h2') !== null && !document.querySelector('[role=status][aria-busy=true]'),
      )
      .catch(async (cause: unknown) => {
        throw new Error(`${view} has no heading: ${await page.evaluate(() => document.body.innerText)}`, { cause });
      });
    const found: string[] = [];
    const head = await page.evaluate(headAt);
    if (head !== undefined) heads.set(head, [...(heads.get(head) ?? []), view]);
    await light('light');
    found.push(
      ...(await axe(page, {
        runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
      })),
    );
    // at night the same page has other colors, and nothing else
    await light('dark');
    found.push(...(await axe(page, { runOnly: { type: 'rule', values: ['color-contrast', 'link-in-text-block'] } })));
    // of one it is one: what is counted is said in the right number
    found.push(...((await page.evaluate(() => document.body.innerText)).match(OF_ONE) ?? []));
    if (found.length > 0) all.push([view, found]);
  }
  expect(all).toEqual([]);
  // the heading row has one height: of all views the name stands in one place, to the rounding of a pixel
  expect(Math.max(...heads.keys()) - Math.min(...heads.keys()), JSON.stringify([...heads])).toBeLessThanOrEqual(1);
  await visitor.close();
});

/** What is too small for a thumb, or makes the page wide. In a sentence a way is as high as its line (WCAG 2.2, 2.5.5, exception “inline”). */
function tooSmall(least: number): string[] {
  const found: string[] = [];
  if (document.documentElement.scrollWidth > innerWidth) found.push(`the page is ${document.documentElement.scrollWidth} wide`);
  const targets = 'a[href], button, input, textarea, [role=button], [role=tab], [role=combobox]';
  for (const element of document.querySelectorAll<HTMLElement>(targets)) {
    // a field is hit anywhere in its frame, a picker's parts too
    const hit = element.closest<HTMLElement>('.MuiInputBase-root, .MuiPickersInputBase-root') ?? element;
    const { width, height, left, right, top } = hit.getBoundingClientRect();
    if (width === 0 || height === 0 || right <= 0 || left >= innerWidth || getComputedStyle(element).visibility === 'hidden')
      continue;
    // what is for those who hear the page, or comes into sight with the keyboard
    if (top < 0 || getComputedStyle(element).clipPath !== 'none' || element.closest('[aria-hidden=true]')) continue;
    if (element.matches('.MuiLink-root:not([data-alone])')) continue;
    if (height < least - 0.5 || width < least - 0.5)
      found.push(
        `${Math.round(width)} x ${Math.round(height)}: ${element.tagName} “${(element.ariaLabel ?? element.innerText).slice(0, 50)}”`,
      );
  }
  return found;
}

test('on a phone no view is wider than it, nothing jumps as it loads, and whatever is pressed alone is at least 44 px high and wide; at 200 % none is wide', async () => {
  const visitor = await visit({ width: 390, height: 844 });
  const { page } = visitor;
  await signIn(visitor, demo.url);
  await watchShifts(page);
  const all: unknown[] = [];
  for (const view of VIEWS) {
    await page.goto(`${demo.url}${view}`);
    await page.waitForFunction(
      () => document.querySelector('h1, h2') !== null && !document.querySelector('[role=status][aria-busy=true]'),
    );
    // what asks again and again is never idle: then it is looked at as it stands
    await page.waitForNetworkIdle({ concurrency: 3, idleTime: 200, timeout: 5000 }).catch(() => undefined);
    const found = [...(await jumped(page)), ...(await page.evaluate(tooSmall, 44))];
    // 1280 px at 200 % (WCAG 2.2, 1.4.4)
    await page.setViewport({ width: 640, height: 400, hasTouch: true });
    const wide = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
    if (wide > 0) found.push(`at 200 % it is ${wide} px too wide`);
    await page.setViewport({ width: 390, height: 844, hasTouch: true });
    if (found.length > 0) all.push([view, found]);
  }
  expect(all).toEqual([]);
  await visitor.close();
});

test('on a phone a plan that comes late moves nothing that is in sight', async () => {
  const visitor = await visit({ width: 390, height: 844 });
  const { page } = visitor;
  await signIn(visitor, demo.url);
  await watchShifts(page);
  let plan: HTTPRequest | undefined;
  await page.setRequestInterception(true);
  page.on('request', (request) => {
    if (plan === undefined && request.url().endsWith(`/${OTTERMERE.draft}/plan`)) plan = request;
    else void request.continue();
  });
  await page.goto(`${demo.url}/broadcasts/${OTTERMERE.draft}`);
  await visitor.sees('counting who will get it');
  await page.waitForNetworkIdle({ idleTime: 200, concurrency: 2 });
  // what was there before it is another matter, held above
  await jumped(page);
  await plan?.continue();
  await visitor.sees('people will get it');
  await visitor.find('link', 'call list');
  expect(await jumped(page)).toEqual([]);
  await visitor.close();
});

describe('the desk at 1280 x 800', () => {
  test('sheet, last look, run, bench and Today need no page scroll, and nothing jumps as they load', async () => {
    const visitor = await visit();
    await watchShifts(visitor.page);
    await signIn(visitor, demo.url);
    for (const view of [
      '/',
      '/people',
      '/people?segment=1',
      '/people/bring-in/5',
      `/broadcasts/${OTTERMERE.draft}`,
      `/broadcasts/${OTTERMERE.agreed}`,
      `/broadcasts/${OTTERMERE.draft}/reach?step=opted_out`,
      `/broadcasts/${OTTERMERE.draft}/when`,
      `/broadcasts/${OTTERMERE.draft}/short`,
      '/broadcasts/templates?kind=template&open=1',
      `/broadcasts/${OTTERMERE.draft}/last-look`,
      '/runs/1',
      `/runs/${OTTERMERE.last}`,
    ]) {
      await visitor.page.goto(`${demo.url}${view}`, { waitUntil: 'networkidle2' });
      const size = await visitor.page.evaluate(() => [
        document.documentElement.scrollWidth - innerWidth,
        document.documentElement.scrollHeight - innerHeight,
      ]);
      expect([view, size, await jumped(visitor.page)]).toEqual([view, [0, 0], []]);
    }
    await visitor.close();
  });

  test('a damaged upload, a past time and a missing fallback each say one clear sentence', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(`${demo.url}/people/bring-in`);
    await visitor.type('textbox', 'Rows or numbers', 'a,b\nc,"d\ne,f');
    await visitor.click('button', 'Read what I pasted');
    await visitor.sees('Row 2 opens a quote (") that is never closed');
    // the refusal itself is a 422 that Chromium writes to its console; it is expected here
    visitor.trouble.length = 0;
    await page.goto(`${demo.url}/broadcasts/${OTTERMERE.draft}`);
    await visitor.sees('people will get it');
    await visitor.sees('Nothing to fix');
    await page.click('[role=group][aria-labelledby] [role=spinbutton][aria-label=Hours]');
    await page.keyboard.type('0900a');
    await visitor.sees('That time is past.');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('button')].some((button) => button.textContent === 'Last look' && button.disabled),
    );
    // the next time that makes sense is offered, and is one press
    await visitor.click('button', /^take \d+:\d\d PM$/);
    await visitor.sees('Nothing to fix');
    await (await visitor.find('textbox', 'Words')).focus();
    await page.keyboard.press('End');
    await page.keyboard.type(' {family_name} {nobody}');
    await visitor.sees('There is no field “nobody”.');
    await visitor.sees(/\d+ people have no “family_name”/);
    await visitor.close();
  });

  test('the main job with the keyboard alone', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await page.goto(demo.url);
    await page.waitForSelector('input[type=email]');
    await page.keyboard.type('ana@ottermere.example');
    await page.keyboard.press('Tab');
    await page.keyboard.type('heron and kittiwake');
    await page.keyboard.press('Enter');
    await visitor.sees('Needs you');
    /** Tabs until what has the focus is named so. */
    const tabTo = async (name: RegExp) => {
      for (let i = 0; i < 140; i += 1) {
        await page.keyboard.press('Tab');
        const here = await page.evaluate(() => {
          const element = document.activeElement;
          return (
            element?.getAttribute('aria-label') ??
            document.getElementById(element?.getAttribute('aria-labelledby') ?? '')?.textContent ??
            element?.textContent ??
            ''
          );
        });
        if (name.test(here.trim())) return;
      }
      throw new Error(`Tab never reached ${String(name)}`);
    };
    await tabTo(/^New broadcast$/);
    await page.keyboard.press('Enter');
    await visitor.sees('people will get it');
    await tabTo(/^Add$/);
    await page.keyboard.press('Enter');
    await page.waitForSelector('[role=option]');
    await page.keyboard.type('Freight');
    await page.waitForFunction(() => document.querySelectorAll('[role=option]').length === 1);
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
    await tabTo(/^Words$/);
    await page.keyboard.type('Ottermere Ferry: freight for the Kittiwake until 3 PM.');
    // Escape, then Tab leaves the editor
    await visitor.sees('Nothing to fix');
    await tabTo(/^Last look$/);
    await page.keyboard.press('Enter');
    await visitor.sees('cannot be called back');
    await tabTo(/^Send to \d+ people now$/);
    await page.keyboard.press('Enter');
    await visitor.sees(/until the first of|delivered/);
    await visitor.close();
  });
});
