import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { BroadcastRow } from '../../../core/api/sending/broadcasts';
import { EMPTY_DRAFT } from '../../../core/plan/draft/draft';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { openDesk, type Desk } from '../../http/testing/desk';

describe.each(ENGINES)('broadcasts as a list, %s', (engine) => {
  let desk: Desk;
  const ids: Record<string, number> = {};
  const make = async (name: string, words: string) => {
    const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name });
    await desk.json('PUT', `/api/broadcasts/${id}`, { name, draft: { ...EMPTY_DRAFT, words }, version: 1 });
    ids[name] = id;
  };
  const label = (name: string, labels: string[]) =>
    desk.json<{ labels: string[] }>('PUT', `/api/broadcasts/${ids[name]}/labels`, { labels });
  const list = (query: string) => desk.json<{ broadcasts: BroadcastRow[]; total: number }>('GET', `/api/broadcasts?${query}`);
  const names = async (query: string) => (await list(query)).broadcasts.map(({ name }) => name).sort();

  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
    await make('Heron', 'The Heron is off. 100% sure.');
    await make('Pike', 'No class today');
    await make('Berths', 'Berths renew');
  });
  afterAll(() => desk.close());

  test('a label is kept once, as it was first written, also for another broadcast', async () => {
    expect((await label('Heron', ['Ferry', ' ferry ', 'Late  boats'])).labels).toEqual(['Ferry', 'Late boats']);
    expect((await label('Pike', ['FERRY', 'juniors'])).labels).toEqual(['Ferry', 'juniors']);
    const used = await desk.json<{ labels: unknown }>('GET', '/api/labels');
    expect(used.labels).toEqual([
      { label: 'Ferry', broadcasts: 2 },
      { label: 'juniors', broadcasts: 1 },
      { label: 'Late boats', broadcasts: 1 },
    ]);
  });

  test('labels are no part of the draft: its version stays, and whoever types is not disturbed', async () => {
    const before = await desk.json<{ version: number }>('GET', `/api/broadcasts/${ids.Berths}`);
    await label('Berths', ['boathouse']);
    const after = await desk.json<{ version: number; labels: string[] }>('GET', `/api/broadcasts/${ids.Berths}`);
    expect([after.version, after.labels]).toEqual([before.version, ['boathouse']]);
  });

  test.each([
    ['label=Ferry', ['Heron', 'Pike']],
    ['label=juniors', ['Pike']],
    ['label=ferry', []],
    ['search=late%20boats', ['Heron']],
    ['search=class', ['Pike']],
    ['search=100%25', ['Heron']],
    ['search=_', []],
    ['label=Ferry&search=class', ['Pike']],
    ['label=Ferry&state=ended', []],
    ['state=draft', ['Berths', 'Heron', 'Pike']],
  ])('?%s', async (query, found) => {
    expect(await names(query)).toEqual(found);
    expect((await list(query)).total).toBe(found.length);
  });

  test('taken back twice, as after an answer that was lost, it is taken back', async () => {
    const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: 'Repeated' });
    const back = (as: string) => desk.json<{ title: string }>('POST', `/api/broadcasts/${id}/set-aside`, { as });
    await desk.app.db.query(`UPDATE broadcast SET state = 'scheduled', goes_on = true WHERE id = $1`, [id]);
    expect((await back('draft')).status).toBe(200);
    expect((await back('draft')).status).toBe(200);
    expect(await back('canceled')).toMatchObject({ title: 'It was taken back already, and is a draft.' });
    await desk.app.db.query(`UPDATE broadcast SET state = 'ended' WHERE id = $1`, [id]);
    expect(await back('draft')).toMatchObject({
      title: 'It has started and cannot be taken back; you can cancel the rest.',
    });
    await desk.app.db.query(`DELETE FROM broadcast WHERE id = $1`, [id]);
  });

  test('a copy has the labels of what it is copied from', async () => {
    const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: '', copy: ids.Pike });
    expect(await desk.json('GET', `/api/broadcasts/${id}`)).toMatchObject({ name: 'Pike, copy', labels: ['Ferry', 'juniors'] });
    await desk.json('DELETE', `/api/broadcasts/${id}`);
  });

  test('a copy begins anew where the first was decided for its own time: hints put aside, an end of its pace, unticked people', async () => {
    const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: 'Paced' });
    const draft = {
      ...EMPTY_DRAFT,
      words: 'Pier closed',
      translations: { fr: 'Quai ferme' },
      links: [{ name: 'map', address: 'https://example.org/m', days: 3 }],
      when: { kind: 'at', date: '2026-12-03', time: '09:00', own: true },
      pace: { kind: 'until', date: '2026-12-03', time: '12:00' },
      dismissed: ['who it is from'],
      unticked: [7],
    };
    expect((await desk.json('PUT', `/api/broadcasts/${id}`, { name: 'Paced', draft, version: 1 })).status).toBe(200);
    const copy = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: '', copy: id });
    const made = await desk.json<{ draft: Record<string, unknown> }>('GET', `/api/broadcasts/${copy.id}`);
    expect(made.draft).toMatchObject({
      words: draft.words,
      translations: draft.translations,
      links: draft.links,
      when: { kind: 'now' },
    });
    expect([made.draft.dismissed, made.draft.pace, made.draft.unticked]).toEqual([undefined, undefined, []]);
    for (const each of [id, copy.id]) await desk.json('DELETE', `/api/broadcasts/${each}`);
  });

  test('what was begun and never touched is no broadcast yet; one without a name is called by its words', async () => {
    const before = await names('');
    const { id } = await desk.json<{ id: number }>('POST', '/api/broadcasts', { name: '' });
    expect(await names('')).toEqual(before);
    const { draft } = await desk.json<{ draft: Record<string, unknown> }>('GET', `/api/broadcasts/${id}`);
    await desk.json('PUT', `/api/broadcasts/${id}`, {
      name: '',
      draft: { ...draft, words: 'Hi {given_name}, the pier is shut today.' },
      version: 1,
    });
    const found = (await list('search=pier%20is%20shut')).broadcasts;
    expect(found.map(({ name, called }) => [name, called])).toEqual([['', 'the pier is shut today']]);
    await desk.json('DELETE', `/api/broadcasts/${id}`);
  });

  test('set aside and changed, it can be put back as it was agreed to; what is neither set aside nor canceled cannot', async () => {
    await make('Aside', 'As it was');
    const id = ids.Aside;
    const put = () => desk.json<{ title?: string; version?: number }>('POST', `/api/broadcasts/${id}/put-back`, {});
    expect(await put()).toMatchObject({ title: 'This broadcast is a draft: there is nothing to put back.' });
    await desk.app.db.query(`UPDATE broadcast SET state = 'set_aside' WHERE id = $1`, [id]);
    const read = () => desk.json<{ version: number; state: string; draft: { words: string } }>('GET', `/api/broadcasts/${id}`);
    for (const words of ['Changed', 'Changed again']) {
      const { version, draft } = await read();
      await desk.json('PUT', `/api/broadcasts/${id}`, { name: 'Aside', draft: { ...draft, words }, version });
    }
    expect(await read()).toMatchObject({ draft: { words: 'Changed again' } });
    await put();
    expect(await read()).toMatchObject({ state: 'set_aside', draft: { words: 'As it was' } });
    await desk.app.db.query(`UPDATE broadcast SET state = 'canceled' WHERE id = $1`, [id]);
    await put();
    expect(await read()).toMatchObject({ state: 'set_aside', draft: { words: 'As it was' } });
    await desk.app.db.query(`DELETE FROM broadcast WHERE id = $1`, [id]);
  });

  test('what is not there cannot be labeled', async () => {
    expect((await desk.json('PUT', '/api/broadcasts/999/labels', { labels: ['x'] })).status).toBe(404);
  });
});
