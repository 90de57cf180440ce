import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { EarlierText, PreparedText } from '../../core/api/sending/templates';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { openDesk, type Desk } from '../http/testing/desk';

describe.each(ENGINES)('templates, pieces and texts sent before, %s', (engine) => {
  let desk: Desk;
  const LATE = {
    kind: 'template',
    folder: 'Ferry',
    name: 'Late boat',
    words: { en: 'The Heron is late.', fr: 'Le Heron est en retard.', es: ' ' },
    links: [{ name: 'map', address: 'https://example.org/m' }],
  };
  const make = (part: object = {}) =>
    desk.json<{ id: number; title: string }>('POST', '/api/prepared-texts', { ...LATE, ...part });
  const list = (query: string) => desk.json<{ texts: PreparedText[]; total: number }>('GET', `/api/prepared-texts?${query}`);
  const names = async (query: string) => (await list(query)).texts.map(({ folder, name }) => `${folder}/${name}`);

  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
  });
  afterAll(() => desk.close());

  test('a template is kept in its folder, without blank wordings; its name is there once, in whatever case', async () => {
    expect((await make()).status).toBe(200);
    expect(await make({ name: ' LATE  boat ', folder: 'férry' })).toMatchObject({ status: 409, place: 'name' });
    expect((await make({ folder: 'Class' })).status).toBe(200);
    expect((await list('kind=template')).texts[1]).toMatchObject({
      folder: 'Ferry',
      words: { en: LATE.words.en, fr: LATE.words.fr },
      links: LATE.links,
      version: 1,
    });
    expect((await desk.json<{ folders: string[] }>('GET', '/api/prepared-texts/folders')).folders).toEqual(['Class', 'Ferry']);
    expect((await list('kind=template')).texts[1].words).not.toHaveProperty('es');
  });

  test('a piece is in no folder and brings no links; one without words is refused', async () => {
    expect((await make({ kind: 'piece', name: 'Sign-off' })).status).toBe(200);
    expect((await list('kind=piece')).texts[0]).toMatchObject({ folder: '', links: [], name: 'Sign-off' });
    expect(await make({ kind: 'piece', name: 'Empty', words: { en: '  ' } })).toMatchObject({ status: 422, place: 'words' });
  });

  test.each([
    ['kind=template&search=RETARD', ['Class/Late boat', 'Ferry/Late boat']],
    ['kind=template&search=ferry', ['Ferry/Late boat']],
    ['kind=template&search=%25', []],
    ['kind=piece&search=h%C3%A9ron', ['/Sign-off']],
  ])('?%s', async (query, found) => {
    expect(await names(query)).toEqual(found);
    expect((await list(query)).total).toBe(found.length);
  });

  test('of two who change it at once, the second is refused and told what is kept; a deleted one is not there', async () => {
    const [, text] = (await list('kind=template')).texts;
    const change = (version: number, name: string) =>
      desk.json<{ version: number; kept: string }>('PUT', `/api/prepared-texts/${text.id}`, {
        ...LATE,
        kind: undefined,
        name,
        version,
      });
    expect(await change(1, 'Very late boat')).toMatchObject({ status: 200, version: 2 });
    expect(await change(1, 'Boat')).toMatchObject({ status: 409, kept: 'Your words are still on this page.' });
    expect((await desk.json('DELETE', `/api/prepared-texts/${text.id}`)).status).toBe(200);
    expect((await change(2, 'Boat')).status).toBe(404);
  });

  test('a text that was sent is found by its words in any language, once, as it went last', async () => {
    const { rows } = await desk.app.db.query<{ id: number }>(
      `INSERT INTO broadcast (name, state, draft, created_at, updated_at)
       VALUES ('Pier', 'ended', '{"link": null, "links": [{"name": "map", "address": "https://example.org/m"}], "opt_out": "in_text"}', '2026-01-01Z', '2026-01-01Z') RETURNING id`,
    );
    const sent = (press: string, words: string, day: string, state = 'finished', started: string | null = day) =>
      desk.app.db.query(
        `INSERT INTO run (broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, started_at)
         SELECT $1, $5, $2, '', $3, 'Pier', (SELECT id FROM sender LIMIT 1), 'service', 7, 7, 0,
           $4::timestamptz, $4::timestamptz, $4::timestamptz, $4::timestamptz, $4::timestamptz, $6::timestamptz`,
        [rows[0].id, press, words, day, state, started],
      );
    await sent('p1', 'Pier closed', '2026-02-01T00:00:00Z');
    await sent('p2', 'Pier open', '2026-03-01T00:00:00Z');
    await sent('p3', 'Pier closed', '2026-04-01T00:00:00Z');
    await sent('p4', 'Pier never', '2026-05-01T00:00:00Z', 'waiting', null);
    await desk.app.db.query(`INSERT INTO run_translation (run_id, language, words) SELECT id, 'fr', 'Quai fermé' FROM run`);
    const earlier = (query: string) =>
      desk.json<{ texts: EarlierText[]; total: number }>('GET', `/api/prepared-texts/earlier?${query}`);
    const all = await earlier('');
    expect(all.total).toBe(2);
    expect(all.texts.map(({ words, at }) => [words.en, at.slice(0, 10)])).toEqual([
      ['Pier closed', '2026-04-01'],
      ['Pier open', '2026-03-01'],
    ]);
    expect(all.texts[0]).toMatchObject({ words: { fr: 'Quai fermé' }, links: [{ name: 'map' }], opt_out: 'in_text', people: 7 });
    expect((await earlier('search=ferm%C3%A9')).total).toBe(2);
    expect((await earlier('search=open')).texts).toHaveLength(1);
  });

  test('where one works stands in one’s own session', async () => {
    expect((await desk.json('PUT', '/api/session/place', { place: ' North  Landing ' })).status).toBe(200);
    expect(await desk.json('GET', '/api/session')).toMatchObject({ account: { place: 'North Landing' } });
  });
});
