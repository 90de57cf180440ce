import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { signIn, visit, type Visitor } from '../harness/browser';
import { ownDemo } from './support/own-demo';

/** What comes in under a name or a form that is not the address book's, by real clicks: nothing of it is dropped without a word. */
const demo = ownDemo();

async function paste(visitor: Visitor, text: string): Promise<void> {
  await visitor.page.goto(`${demo.url}/people/bring-in`);
  await visitor.type('textbox', 'Rows or numbers', text);
  await visitor.click('button', 'Read what I pasted');
  await visitor.sees('What will happen');
}

/** The address book has somebody. */
async function knows(visitor: Visitor, number: string, first: string, last: string): Promise<void> {
  await paste(visitor, `Mobile,First,Last\n${number},${first},${last}`);
  await visitor.click('button', 'Bring in 1 person');
  await visitor.sees('Done. Rejected rows stay in the rejects file.');
}

describe('a number that somebody has under another name', () => {
  test('is a line of its own, said of all and one by one; by hand it is asked about', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await knows(visitor, '703-555-0171', 'Adaeze', 'Lindqvist');
    await paste(visitor, 'Mobile,First,Last\n703-555-0171,Olu,Marsh\n703-555-0171,Adaeze,Lindqvist\n703-555-0147,Nia,Brook');
    await visitor.sees(/Same number, another name\s+1/);
    await visitor.sees('Olu Marsh, Adaeze Lindqvist has the number');
    await visitor.sees('The name here stays, that of the file is dropped.');
    await visitor.sees(/new people\s+1/);
    await visitor.click('button', /^see 1/);
    await visitor.choose('Row 2, same number as Adaeze Lindqvist', 'another who shares it');
    await visitor.sees(/new people\s+2/);
    await visitor.click('button', 'Bring in 2 people');
    await visitor.sees('Done. Rejected rows stay in the rejects file.');
    await visitor.page.goto(`${demo.url}/people`);
    await visitor.click('button', 'Add a person');
    await visitor.type('textbox', 'Given name', 'Pia');
    await visitor.type('textbox', 'Text number', '703 555 0147');
    await visitor.click('button', 'Add');
    await visitor.sees(/Nia Brook has this number\. A broadcast to both goes to the number once/);
    await visitor.click('button', 'Add all the same');
    await visitor.sees('Pia is there.');
    await visitor.close();
  });
});

describe('a file with the words of each', () => {
  test('names its people in the run as in the last look, and says who has a number here under another name', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await knows(visitor, '703-555-0172', 'Ada', 'Quist');
    const path = join(tmpdir(), `ready-${process.pid}.csv`);
    writeFileSync(
      path,
      'Mobile,Name,Message\n703-555-0172,Olu Marsh,Olu: your berth is B4.\n703-555-0199,Wren Tide,Wren: your berth is C1.\n',
    );
    await visitor.page.goto(`${demo.url}/people/bring-in`);
    const [chooser] = await Promise.all([visitor.page.waitForFileChooser(), visitor.click('button', 'Choose a file')]);
    await chooser.accept([path]);
    await visitor.sees('What will happen');
    await visitor.choose('Message feeds', 'ready-made text');
    await visitor.click('button', 'use it once only');
    await visitor.sees(/2\s+people will get it/);
    await (await visitor.find('textbox', 'Words')).focus();
    await visitor.page.keyboard.type('Ottermere: ');
    await visitor.sees(/Olu Marsh of the file is Ada Quist here: the same number, another name/);
    await visitor.click('button', 'Last look');
    await visitor.click('button', /^Send to 2 people/);
    await visitor.page.waitForFunction(
      () => location.pathname.startsWith('/runs/') && !document.body.innerText.includes('Last look'),
    );
    await visitor.sees('Wren Tide');
    await visitor.sees('Olu Marsh');
    expect(await visitor.page.evaluate(() => document.body.innerText)).not.toContain('Ada Quist');
    await visitor.close();
  });
});

describe('pasted numbers', () => {
  test('by commas and by lines are so many numbers, and go onto a list that is there by one press', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await paste(visitor, 'Mobile\n703-555-0161, 703-555-0162\n703‑555‑0163');
    await visitor.sees(/new people\s+3/);
    await (await visitor.find('combobox', 'Add to list')).focus();
    await visitor.page.keyboard.type('Crew');
    await visitor.click('option', /^Crew/);
    await visitor.click('button', 'Bring in 3 people');
    await visitor.sees('Done. Rejected rows stay in the rejects file.');
    await visitor.close();
  });
});
