import { mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { describe, expect, test } from 'vitest';
import { signIn, visit, type Visitor } from '../harness/browser';
import { OTTERMERE } from '../harness/ottermere';
import { ownDemo } from './support/own-demo';

interface Expected {
  file: string;
  first: Record<string, number>;
  fixes: string[];
  then: Record<string, number>;
  says: string[];
}

const demo = ownDemo();

async function choose(visitor: Visitor, path: string): Promise<void> {
  await visitor.page.goto(`${demo.url}/people/bring-in`);
  const [chooser] = await Promise.all([visitor.page.waitForFileChooser(), visitor.click('button', 'Choose a file')]);
  await chooser.accept([path]);
  await visitor.sees('What will happen');
}
const counts = async (visitor: Visitor, wanted: Record<string, number>) => {
  for (const [words, n] of Object.entries(wanted)) await visitor.sees(new RegExp(`${words}\\s+${n}\\b`));
};

describe('the damaged demo files through the bench', () => {
  const all = readdirSync('demo/files')
    .filter((name) => name.endsWith('.expected.json'))
    .map((name) => JSON.parse(readFileSync(`demo/files/${name}`, 'utf8')) as Expected);
  test.each(all.map((each) => [each.file, each] as const))('%s comes to what was counted by hand', async (file, expected) => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await choose(visitor, resolve(`demo/files/${file}`));
    await counts(visitor, expected.first);
    for (const fix of expected.fixes) await visitor.click('button', fix);
    await counts(visitor, expected.then);
    for (const words of expected.says) await visitor.sees(words);
    const people = expected.then['new people'] + expected.then.changed;
    await visitor.type('textbox', 'Add to list', `From ${file}`);
    await visitor.click('button', `Bring in ${people} people`);
    await visitor.click('link', 'See them in People');
    await visitor.sees(`From ${file}`);
    await visitor.sees(new RegExp(`Write to ${people + expected.then.unchanged}\\b`));
    await visitor.close();
  });

  test('a cell that keeps its row out is corrected where it stands, and put back; what to match is found by typing', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    const file = join(mkdtempSync(join(tmpdir(), 'corrected-')), 'crew.csv');
    writeFileSync(file, 'Mobile,First,Remark\n907-555-01,Jo,x\n907-555-0143,Leo,y\n');
    await choose(visitor, file);
    await counts(visitor, { 'new people': 1, rejected: 1 });
    await visitor.click('combobox', 'Remark feeds');
    await visitor.find('option', /^not brought in/);
    await visitor.page.keyboard.type('tag');
    await visitor.page.keyboard.press('Enter');
    await visitor.sees('every column comes in');
    await visitor.click('button', 'correct it: Mobile, row 2');
    await visitor.page.keyboard.type('42');
    await visitor.page.keyboard.press('Enter');
    await counts(visitor, { 'new people': 2, rejected: 0 });
    await visitor.click('button', 'put back: Mobile, row 2');
    await counts(visitor, { 'new people': 1, rejected: 1 });
    await visitor.close();
  });

  test('a row is a junior with two parents: one text names both juniors of a contact', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/people?search=4015550101`);
    await visitor.click('link', 'Adaeze Lindqvist');
    await visitor.sees('Noor');
    await visitor.sees('Otto');
    await visitor.sees('Sami Lindqvist');
    await visitor.page.goto(`${demo.url}/people/dependants`);
    await visitor.type('textbox', 'Find by name', 'otto');
    await visitor.sees(/Otto\s+Otters/);
    await visitor.close();
  });

  test('the match is remembered, the rejects come back cleanly, and an import is undone', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await choose(visitor, resolve('demo/files/crew.vcf'));
    await visitor.sees('The columns are matched as last time.');
    await visitor.sees(/unchanged\s+4/);
    await visitor.page.goto(`${demo.url}/people/bring-in`);
    await visitor.type('textbox', 'Rows or numbers', 'Mobile,First\n7O3-555-O188,Undone\n1.2E+5,Lost');
    await visitor.click('button', 'Read what I pasted');
    await visitor.sees(/rejected\s+2/);
    await visitor.click('button', /^take \+1 703 555 0188$/);
    await visitor.sees(/new people\s+1/);
    await visitor.click('button', 'Bring in 1 person');
    await visitor.sees('Done. Rejected rows stay in the rejects file.');
    const rejects = (await visitor.page.evaluate(
      `fetch(location.pathname.replace('/people/bring-in', '/api/imports') + '/rejects.csv').then((r) => r.text())`,
    )) as string;
    expect(rejects.replace(/^\ufeff/, '').split('\r\n')).toEqual([
      'Mobile,First,why it did not come in',
      '1.2E+5,Lost,digits lost for good',
      '',
    ]);
    await visitor.click('button', 'Undo this import…');
    await visitor.click('button', 'Undo the import');
    await visitor.sees('Taken back. Everything is as it was before.');
    await visitor.page.goto(`${demo.url}/people/bring-in`);
    await visitor.type('textbox', 'Rows or numbers', rejects.replace(/^\ufeff/, '').replace('1.2E+5', '703-555-0189'));
    await visitor.click('button', 'Read what I pasted');
    await visitor.sees(/new people\s+1/);
    await visitor.sees('1 column not brought in');
    await visitor.close();
  });

  test('used once: a file with texts of its own reaches its people and not the address book', async () => {
    const visitor = await visit();
    await signIn(visitor, demo.url);
    await visitor.page.goto(`${demo.url}/people/bring-in`);
    await visitor.type(
      'textbox',
      'Rows or numbers',
      'Mobile;Message\n703-555-0101;Your kayak is ready.\n703-555-0102;Your canoe is ready.',
    );
    await visitor.click('button', 'Read what I pasted');
    await visitor.sees(/new people\s+2/);
    await visitor.click('button', 'use it once only');
    await visitor.sees('people will get it');
    await visitor.sees(/Your (kayak|canoe) is ready\./);
    await visitor.page.goto(`${demo.url}/people?search=7035550101`);
    await visitor.sees('Nobody here matches');
    await visitor.close();
  });
});

describe('segments, many at once, and the ledger', () => {
  test('a segment is built as a sentence, kept, written to, and says why someone is out', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(`${demo.url}/people`);
    await visitor.click('button', 'New segment');
    await visitor.click('option', 'pass ends');
    await visitor.sees('is within the next');
    await visitor.sees(/\d+ now, \d+ can be texted/);
    await visitor.type('textbox', 'Name of the segment', 'Ending soon');
    await visitor.click('button', 'Keep as a segment');
    // its own id is in the address once it is kept
    await page.waitForFunction(() => /segment=\d+/.test(location.search));
    const segment = /segment=(\d+)/.exec(page.url())?.[1];
    await visitor.click('button', /^Write to \d+$/);
    await visitor.sees(/[1-9]\d+\s+people will get it/);
    await visitor.sees('Ending soon');
    await page.goto(`${demo.url}/people/23?segment=${segment}`);
    await visitor.sees(/Why (not )?in this/);
    await visitor.close();
  });

  test('members over 60 at one landing, no text for 30 days, not crew: 12 clicks', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(`${demo.url}/people`);
    await visitor.find('button', 'New segment');
    visitor.clicks.length = 0;
    // a new segment begins with its first condition; each is found by typing, and said as the sentence that it becomes
    await visitor.click('button', 'New segment');
    await visitor.click('option', 'is on Berth holders');
    await visitor.click('button', 'and…');
    await visitor.click('option', 'age');
    await page.keyboard.type('60');
    await visitor.click('button', 'and…');
    await visitor.click('option', 'home landing is North Landing');
    await visitor.click('button', 'and…');
    await page.keyboard.type('no text');
    await visitor.click('option', 'got no text in the last 30 days');
    await visitor.click('button', 'and…');
    await page.keyboard.type('not crew');
    await visitor.click('option', 'is not on Crew and staff');
    await visitor.sees(/\d+ now, \d+ can be texted/);
    await visitor.click('textbox', 'Name of the segment');
    await page.keyboard.type('North Landing, over 60');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => /segment=\d+/.test(location.search));
    expect(visitor.clicks.length, visitor.clicks.join('\n')).toBeLessThanOrEqual(12);
    await visitor.close();
  });

  test('many are tagged at once, told how many, and it is undone', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(`${demo.url}/people?list=2`);
    await page.waitForSelector('tbody input[type=checkbox]');
    await page.click('tbody input[type=checkbox]');
    await visitor.sees('1 person chosen');
    await visitor.click('button', 'choose all 30 people');
    await visitor.type('textbox', 'Tag', 'winter crew');
    await visitor.click('button', 'Do it for 30 people');
    await visitor.sees('tagged “winter crew”, 30 people');
    await visitor.sees(/winter crew\s+30/);
    await visitor.click('button', 'Undo');
    await visitor.sees(/winter crew\s+0/);
    await visitor.close();
  });

  test('the ledger opens each step, unticks one person, and prints a call list', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(`${demo.url}/broadcasts/${OTTERMERE.draft}/reach?step=will_get`);
    await visitor.sees(/Will get it, [\d,]+ people/);
    await visitor.click('button', 'untick for this one');
    await visitor.sees('unticked by you');
    await visitor.click('link', /^unticked by you: 1/);
    await visitor.sees('Unticked by you, 1 person');
    await visitor.click('link', /call list/);
    await visitor.sees('Call list: those who cannot be texted');
    await visitor.find('button', 'Print the call list');
    await visitor.close();
  });

  test('typed numbers: read as they are typed, those that are none said', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(demo.url);
    await visitor.click('button', 'New broadcast');
    await visitor.sees('people will get it');
    await visitor.click('button', 'Add');
    await visitor.click('button', 'Typed or pasted numbers…');
    await visitor.type('textbox', 'Numbers', '703-555-0101, +1 703 555 0102; 12\n7035550101');
    await visitor.sees('2 numbers, 1 written twice, 1 that are none:');
    await visitor.click('button', 'Add 2');
    await visitor.sees(/2\s+people will get it/);
    await visitor.close();
  });

  test('a line lookup says its cost before, is paid, and is not paid twice', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(`${demo.url}/people?list=2`);
    await visitor.click('button', 'look up lines…');
    await visitor.sees(/\d+ numbers may be mobile or fixed; the carrier tells for \$0\.\d\d/);
    await visitor.click('button', /^Look up \d+$/);
    await visitor.sees(/\d+ looked up for \$0\.\d\d: \d+ fixed lines/);
    await page.goto(`${demo.url}/people?list=2`);
    await visitor.click('button', 'look up lines…');
    await visitor.sees('Of every number here it is known what line it is.');
    await visitor.close();
  });

  test('by hand: a person added, what they said written down, why not in a segment, merged', async () => {
    const visitor = await visit();
    const { page } = visitor;
    await signIn(visitor, demo.url);
    await page.goto(`${demo.url}/people`);
    await visitor.click('button', 'Add a person');
    await visitor.type('textbox', 'Given name', 'Zebulon');
    await visitor.type('textbox', 'Text number', '12');
    await visitor.click('button', 'Add');
    await visitor.sees('too short for any country');
    visitor.trouble.length = 0; // the refusal is a 422 that the browser writes to its console
    await (await visitor.find('textbox', 'Text number')).focus();
    for (let i = 0; i < 2; i += 1) await page.keyboard.press('Backspace');
    await page.keyboard.type('703-555-0177');
    await visitor.click('button', 'Add');
    await visitor.sees('Zebulon is there.');
    await page.goto(`${demo.url}/people?segment=1`);
    await visitor.type('textbox', /^Find by name/, 'zebulon');
    await visitor.click('link', 'why not in this');
    await visitor.sees('Why not in this');
    await visitor.click('button', 'write down what they said');
    await visitor.type('textbox', 'Evidence', 'binder 3');
    await visitor.click('button', 'Write it down');
    await visitor.sees(/marketing\s+granted, in person \(binder 3\)/);
    await visitor.click('button', 'they said stop');
    await visitor.sees(/opted out, .*told us/);
    await visitor.click('button', 'Merge with another…');
    await visitor.type('textbox', 'Find the other', 'Adaeze Lindqvist');
    await visitor.click('button', 'Merge Adaeze Lindqvist +1 401 555 0101');
    await visitor.click('button', 'Merge Adaeze Lindqvist into Zebulon');
    await visitor.sees(/second phone\s+\+14015550101/);
    await visitor.sees('Noor');
    await visitor.close();
  });
});
