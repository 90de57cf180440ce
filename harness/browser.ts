import { existsSync } from 'node:fs';
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';
import { expect } from 'vitest';
import { find, onTop, settled } from './find';

export interface Visitor {
  page: Page;
  /** Everything pressed with the pointer so far, in words. */
  clicks: string[];
  /** Errors and warnings of the browser's console. */
  trouble: string[];
  /** Presses what has this accessible role and name, with a real pointer, and counts it. */
  click(role: string, name: string | RegExp): Promise<void>;
  find(role: string, name: string | RegExp): Promise<ElementHandle>;
  type(role: string, name: string | RegExp, text: string): Promise<void>;
  /** Opens the value of this name and chooses from its menu. */
  choose(name: string | RegExp, option: string | RegExp): Promise<void>;
  /** Waits until the page's text has this. */
  sees(text: string | RegExp): Promise<void>;
  close(): Promise<void>;
}

/** Debian's, without a desk around it where that is there: it draws for nobody, and takes a quarter less. */
const CHROMIUM = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];
/** How long a press waits for what lies over it to go, ms. */
const PATIENCE = 20_000;
let browser: Browser | undefined;

export async function visit(options: { width?: number; height?: number; night?: boolean } = {}): Promise<Visitor> {
  browser ??= await puppeteer.launch({
    executablePath: CHROMIUM.find((each) => existsSync(each)),
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
  const context = await browser.createBrowserContext();
  const page = await context.newPage();
  // a wait ends with its condition; this only ends what hangs
  page.setDefaultTimeout(120_000);
  await page.setViewport({
    width: options.width ?? 1280,
    height: options.height ?? 800,
    hasTouch: (options.width ?? 1280) < 700,
  });
  await page.emulateMediaFeatures([
    { name: 'prefers-color-scheme', value: options.night ? 'dark' : 'light' },
    { name: 'prefers-reduced-motion', value: 'reduce' },
  ]);
  // esbuild names functions through this helper, which functions sent to the page do not have there
  await page.evaluateOnNewDocument('globalThis.__name = (f) => f');
  const trouble: string[] = [];
  page.on('console', (message) => {
    if (['error', 'warn'].includes(message.type())) trouble.push(message.text());
  });
  page.on('pageerror', (error) => trouble.push(String(error)));
  const clicks: string[] = [];
  const click: Visitor['click'] = async (role, name) => {
    clicks.push(`${role} ${String(name)}`);
    // React may replace the element between finding and pressing, and a note may lie over it until it has been read: then it is found
    // again, for as long as anybody would wait, however slow the machine is
    const began = performance.now();
    for (;;) {
      try {
        const element = await find(page, role, name);
        // what a list has further down is scrolled to, as anybody would
        await element.scrollIntoView();
        await settled(element);
        // the page may still move things into or out of its way, as it would under anybody's hand
        if (!(await onTop(element))) throw new Error('not clickable: something else lies there');
        await element.click();
        return;
      } catch (error) {
        if (performance.now() - began > PATIENCE || !/detached|not clickable/.test(String(error))) throw error;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    }
  };
  return {
    page,
    clicks,
    trouble,
    find: (role, name) => find(page, role, name),
    click,
    async choose(name, option) {
      await click('combobox', name);
      await click('option', option);
      await page.waitForFunction(() => document.querySelector('[role=listbox]') === null);
    },
    async type(role, name, text) {
      const element = await find(page, role, name);
      await element.focus();
      // as a whole, as an input method does (Input Events Level 2): where keys are what is checked, they are pressed
      await page.keyboard.sendCharacter(text);
    },
    async sees(text) {
      await page
        .waitForFunction(
          (wanted, isPattern) =>
            isPattern ? new RegExp(wanted).test(document.body.innerText) : document.body.innerText.includes(wanted),
          { timeout: 60_000, polling: 100 },
          typeof text === 'string' ? text : text.source,
          typeof text !== 'string',
        )
        .catch(async () => {
          throw new Error(
            `Never saw “${String(text)}” on ${page.url()}: ${(await page.evaluate(() => document.body.innerText)).slice(0, 4000)}`,
          );
        });
    },
    async close() {
      await context.close();
      expect(trouble).toEqual([]);
    },
  };
}

export async function signIn(visitor: Visitor, url: string, address = 'ana@ottermere.example'): Promise<void> {
  await visitor.page.goto(url);
  await visitor.type('textbox', 'E-mail address', address);
  await visitor.type('textbox', 'Password', 'heron and kittiwake');
  await visitor.click('button', 'Sign in');
  await visitor.sees('Needs you');
}

export async function closeBrowser(): Promise<void> {
  await browser?.close();
  browser = undefined;
}
