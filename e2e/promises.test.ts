import type { HTTPRequest, Page } from 'puppeteer-core';
import { describe, expect, test } from 'vitest';
import { signIn, visit, type Visitor } from '../harness/browser';
import { settled } from '../harness/find';
import { ownDemo } from './support/own-demo';

/** What the sheet promises, held by real clicks: nobody is texted whom it must not reach, and what is asked is asked before. */
const demo = ownDemo();

/** Somebody at the desk with a new broadcast that has nothing yet. */
async function newSheet(): Promise<Visitor> {
  const visitor = await visit();
  await signIn(visitor, demo.url);
  await visitor.page.goto(`${demo.url}/broadcasts`);
  await visitor.find('combobox', 'Label');
  await visitor.click('button', 'New broadcast');
  await visitor.sees('people will get it');
  return visitor;
}

/** The same with words, and to what is chosen. */
async function sheetTo(option: RegExp): Promise<Visitor> {
  const visitor = await newSheet();
  await visitor.click('button', 'Add');
  await visitor.click('option', option);
  await visitor.page.keyboard.press('Escape');
  await (await visitor.find('textbox', 'Words')).focus();
  await visitor.page.keyboard.type('Ottermere Boathouse: closed on Sunday.');
  return visitor;
}

describe('who must not hear about a dependant', () => {
  test('is asked about where nobody knows for whom they are chosen, and dropped by one press', async () => {
    const visitor = await sheetTo(/^Everyone/);
    await visitor.sees(/2 people must not hear about a dependant, and it is not known for whom they are chosen here/);
    await visitor.click('button', 'yes, leave them out');
    await visitor.sees(/Nothing to fix/);
    await visitor.sees(/must not hear about a dependant/);
    // what was answered can be seen, and changed
    await visitor.click('checkbox', /^It is about dependants/);
    await visitor.sees(/Nothing to fix/);
    // and as many cannot be texted as stand on the call list
    const [, cannot] = /(\d+) cannot be texted/.exec(await visitor.page.evaluate(() => document.body.innerText)) ?? [];
    await visitor.click('link', 'call list');
    await visitor.sees(`Call list: those who cannot be texted, ${cannot} people`);
    await visitor.close();
  });

  test('is dropped without being asked where they are on the list for that dependant, whatever the words', async () => {
    const visitor = await sheetTo(/^Parents, Tadpoles/);
    await visitor.sees(/Nothing to fix/);
    await visitor.sees(/must not hear about a dependant/);
    await visitor.close();
  });
});

describe('whom the texts are about', () => {
  test('is said by a press where nobody knows it: only those are named, the sheet and the last look say so', async () => {
    const visitor = await sheetTo(/^Everyone/);
    await visitor.page.keyboard.type(' {dependants.given_name or "All"}: bring dry shoes.');
    await visitor.page.keyboard.press('Escape');
    await visitor.sees(/their text names all that they have/);
    await visitor.click('button', 'name only some');
    await visitor.click('option', /^class Otters, of \d+ people/);
    await visitor.click('button', 'Done');
    await visitor.sees(/names no other dependants/);
    await visitor.page.waitForFunction(() => !document.body.innerText.includes('names all that they have'));
    await visitor.click('button', 'Last look');
    await visitor.sees(/the texts are about class Otters, and name no other dependants/);
    await visitor.close();
  });
});

describe('when it goes', () => {
  test('each in their own time is not lost by looking at again and again; imports go with the list of To, and that is said', async () => {
    const visitor = await sheetTo(/^Parents, Otters/);
    await visitor.click('link', 'as a page, with dates');
    await visitor.click('button', 'once, at a time');
    await visitor.choose('Whose clock', 'each in their own time');
    for (const way of ['again and again', 'now', 'once, at a time']) await visitor.click('button', way);
    await visitor.sees('each in their own time');
    await visitor.click('button', 'with each import');
    await visitor.sees(/Parents, Otters/);
    await visitor.click('button', 'Last look');
    await visitor.sees(/whenever people have been brought into “Parents, Otters”/);
    await visitor.click('button', 'Send it with each import');
    await visitor.sees(/It waits for imports: it goes whenever people have been brought into “Parents, Otters”/);
    await visitor.close();
  });
});

describe('what is put in', () => {
  test('is found by its whole word first, and a link can be made from where it was looked for', async () => {
    const visitor = await sheetTo(/^Parents, Otters/);
    const { keyboard } = visitor.page;
    await keyboard.type(' {one-time');
    await visitor.find('option', /^one-time code/);
    for (let i = 0; i < 'one-time'.length; i += 1) await keyboard.press('Backspace');
    await keyboard.type('new link');
    await visitor.find('option', /^a new link/);
    await keyboard.press('Enter');
    await visitor.sees('never stops working');
    // nothing of what was looked for stays in the words
    await visitor.sees(/closed on Sunday\. ?\n/);
    await visitor.close();
  });
});

describe('a press', () => {
  test('that lands where something has just been said reaches what lies beneath it', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/setup/balance`);
    await visitor.type('textbox', 'Amount to add, USD', '25');
    await visitor.click('button', 'Add to the balance');
    await visitor.sees('$25.00 is on the account.');
    const under = await visitor.page.$eval('.MuiSnackbarContent-root', (said) => {
      const { x, y, width, height } = said.getBoundingClientRect();
      return said.contains(document.elementFromPoint(x + width / 2, y + height / 2));
    });
    expect(under).toBe(false);
    await visitor.close();
  });

  test('beneath a list that comes late meets what stood there: nothing moves when the list comes, or is narrowed', async () => {
    const visitor = await newSheet();
    const { page } = visitor;
    const held = await hold(page, '/api/outcomes');
    await visitor.click('button', 'Add');
    const before = await standsAt(visitor, 'Done');
    await held.release();
    await page.waitForSelector('[role=option]');
    expect(await standsAt(visitor, 'Done')).toEqual(before);
    await page.keyboard.type('no such thing anywhere');
    await page.waitForFunction(() => document.querySelector('[role=option]') === null);
    expect(await standsAt(visitor, 'Done')).toEqual(before);
    await visitor.close();
  });
});

/** Lets no answer to this through until it is said; one is on its way by then. */
async function hold(page: Page, path: string): Promise<{ release: () => Promise<void> }> {
  const waiting: HTTPRequest[] = [];
  let open = false;
  let came: () => void = () => undefined;
  const one = new Promise<void>((resolve) => (came = resolve));
  await page.setRequestInterception(true);
  page.on('request', (request) => {
    if (open || new URL(request.url()).pathname !== path) return void request.continue();
    waiting.push(request);
    came();
  });
  return {
    release: async () => {
      await one;
      open = true;
      await Promise.all(waiting.map((request) => request.continue()));
    },
  };
}

/** Where a button stands once nothing moves it any more, px. */
async function standsAt(visitor: Visitor, name: string): Promise<{ x: number; y: number }> {
  const button = await visitor.find('button', name);
  await settled(button);
  return button.evaluate((each) => {
    const { x, y } = each.getBoundingClientRect();
    return { x, y };
  });
}

describe('the words', () => {
  test('a press anywhere in their box puts the caret there, and letters go into them', async () => {
    const visitor = await sheetTo(/^Parents, Otters/);
    await visitor.page.evaluate(() => (document.activeElement as HTMLElement).blur());
    const box = await visitor.page.$eval('.cm-editor', (editor) => {
      const { left, top, width, height } = editor.getBoundingClientRect();
      return { x: left + width / 2, middle: top + height / 2, foot: top + height - 3 };
    });
    for (const y of [box.middle, box.foot]) {
      await visitor.page.evaluate(() => (document.activeElement as HTMLElement).blur());
      await visitor.page.mouse.click(box.x, y);
      await visitor.page.keyboard.type(' pnf');
    }
    await visitor.sees('closed on Sunday. pnf pnf');
    await visitor.close();
  });

  test('letters struck while anything lies over the page stay on it; Escape shuts what is open', async () => {
    const visitor = await sheetTo(/^Parents, Otters/);
    const { page } = visitor;
    const at = page.url();
    // it has the keyboard once it is open
    const over = () =>
      page.waitForFunction(() => document.activeElement?.closest('.MuiModal-root, .MuiPopper-root') instanceof Element);
    /** One press is enough; how long it takes to go is the machine's. */
    const shut = async () => {
      await page.keyboard.press('Escape');
      await page.waitForFunction(() => document.querySelector('.MuiModal-root:not([aria-hidden=true])') === null);
    };
    for (const [role, name] of [
      ['button', 'Add'],
      ['button', 'Leave out'],
      ['button', 'Label it'],
      ['button', /^to whom/],
      ['button', 'Emoji'],
      ['button', 'Go to'],
      ['button', /look and sign out/],
    ] as const) {
      await visitor.click(role, name);
      await over();
      await page.keyboard.press('p');
      await shut();
      expect(page.url()).toBe(at);
    }
    await visitor.close();
  });
});

describe('what was typed', () => {
  test('is kept where the page is loaded anew in the same moment', async () => {
    const visitor = await sheetTo(/^Parents, Otters/);
    await visitor.page.reload();
    await visitor.sees('Ottermere Boathouse: closed on Sunday.');
    await visitor.sees(/Parents, Otters/);
    await visitor.close();
  });
});
