import { expect, test } from 'vitest';
import { EMPTY_DRAFT } from '../../../core/plan/draft/draft';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { openDesk } from '../../http/testing/desk';
import { dummiesIn, linkedForTest } from './test-links';

const NOW = Date.parse('2026-12-02T20:50:00Z');

test.each(ENGINES)(
  'links of a test lead where they will lead, each its own, and are counted for nobody, on %s',
  async (engine) => {
    const desk = await openDesk(await emptyDb(engine));
    const { db } = desk.app;
    const links = dummiesIn(
      {
        ...EMPTY_DRAFT,
        links: [
          { name: 'more', address: 'https://example.org/more' },
          { name: 'empty', address: '' },
        ],
      },
      'https://bell.example.org/',
    );
    expect(links.map(({ name }) => name)).toEqual(['more', 'opt_out']);
    const [more, out] = links.map(({ dummy }) => dummy);
    const words = `Ottermere: ${more} and once more ${more}\nNo more texts: ${out}`;
    const bodies = await db.transaction(async (tx) => [
      await linkedForTest(tx, words, links, { number: '+12075550190', language: 'en' }, NOW),
      await linkedForTest(tx, words, links, { number: '+12075550191', language: 'fr' }, NOW),
      await linkedForTest(tx, 'No link at all', links, { number: '+12075550190', language: 'en' }, NOW),
    ]);
    expect(bodies[2]).toBe('No link at all');
    // as long as what was measured
    for (const body of bodies.slice(0, 2)) expect(body).toHaveLength(words.length);
    const tokens = bodies.flatMap((body) => [...body.matchAll(/\/[lo]\/([2-9a-z]{12})/g)].map(([, token]) => token));
    expect(new Set(tokens).size).toBe(4);
    expect(tokens[0]).toBe(tokens[1]);
    const followed = await desk.ask('GET', `/l/${tokens[0]}`, undefined, {
      headers: { accept: 'text/html' },
      redirect: 'manual',
    });
    expect([followed.status, followed.headers.get('location')]).toEqual([302, 'https://example.org/more']);
    const { rows } = await db.query(
      `SELECT test, number, opt_out, language, clicked_at, opens, machine_at FROM link ORDER BY number, opt_out`,
    );
    const link = { test: true, clicked_at: null, opens: 0, machine_at: null };
    expect(rows).toEqual([
      { ...link, number: '+12075550190', opt_out: false, language: 'en' },
      { ...link, number: '+12075550190', opt_out: true, language: 'en' },
      { ...link, number: '+12075550191', opt_out: false, language: 'fr' },
      { ...link, number: '+12075550191', opt_out: true, language: 'fr' },
    ]);
    await desk.close();
  },
);
