import Papa from 'papaparse';
import { afterAll, beforeEach, describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { openDesk, type Desk } from '../../http/testing/desk';

describe.each(ENGINES)('an export, %s', (engine) => {
  let desk: Desk;
  beforeEach(async () => {
    await desk?.close();
    desk = await openDesk(await emptyDb(engine));
    await desk.json('POST', '/api/fields', { label: 'Home landing', type: 'text' });
    const made = await desk.json('POST', '/api/people', {
      given_name: 'Berta',
      family_name: 'Noor',
      number: '+1 207 555 0142',
      reference: 'OF-1',
      language: 'en',
      zone: 'America/New_York',
      fields: { home_landing: 'Mill Quay' },
    });
    expect(made.status).toBe(200);
  });
  afterAll(() => desk.close());
  // read back by a parser that is not ours
  const rows = async (query = '') =>
    Papa.parse<string[]>(
      (await (await desk.ask('get', `/api/people/export.csv${query}`, 'look')).text()).replace(/^\ufeff/, ''),
      {
        skipEmptyLines: true,
      },
    ).data;

  test('gives the columns that are shown, in their order, and what only the table knows', async () => {
    expect(await rows('?columns=number,home_landing,name,added,none')).toEqual([
      ['text number', 'Home landing', 'given name', 'family name', 'added'],
      ['+12075550142', 'Mill Quay', 'Berta', 'Noor', expect.stringMatching(/^\d{4}-\d\d-\d\d$/)],
    ]);
  });

  test('gives everything that can be brought in again where no columns are named', async () => {
    const [headings, berta] = await rows();
    expect(headings).toEqual([
      ...['given name', 'family name', 'text number', 'own reference', 'language', 'time zone', 'born', 'Home landing'],
      ...['tags', 'lists', 'marketing', 'can be texted'],
    ]);
    expect(berta.slice(0, 4)).toEqual(['Berta', 'Noor', '+12075550142', 'OF-1']);
    expect(berta[headings.indexOf('time zone')]).toBe('America/New_York');
  });
});
