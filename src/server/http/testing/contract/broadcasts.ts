import { expect } from 'vitest';
import { EMPTY_DRAFT, type Draft } from '../../../../core/plan/draft/draft';
import type { Asking, There } from './asking';

/** A run beside another, which is the same once more. */
async function compared({ call, desk }: Asking, run: number): Promise<void> {
  const { rows: columns } = await desk.app.db.query<{ names: string }>(
    `SELECT string_agg(column_name, ', ') AS names FROM information_schema.columns WHERE table_schema = 'public' AND table_name = 'run' AND is_generated = 'NEVER'`,
  );
  await desk.app.db.query(
    `INSERT INTO run (${columns[0].names}) SELECT ${columns[0].names} FROM (SELECT (jsonb_populate_record(NULL::run, to_jsonb(run) || '{"id": 9001, "press_id": "once more"}')).* FROM run WHERE id = $1) AS again`,
    [run],
  );
  await call('get', '/api/outcomes/compare', { query: { ids: `${run},9001` } });
  await desk.app.db.query(`DELETE FROM run WHERE id = 9001`);
}

/** A broadcast, from its draft to its run. */
export async function askBroadcasts(asking: Asking, { list, ana }: There) {
  const { call, desk, asked } = asking;
  const { id: broadcast } = await call<{ id: number }>('post', '/api/broadcasts', { body: { name: '', list_id: list } });
  const params = { id: broadcast };
  const { draft: first } = await call<{ draft: Draft }>('get', '/api/broadcasts/:id', { params });
  const later = new Date(desk.app.clock.now() + 30 * 86_400_000).toISOString().slice(0, 10);
  const draft: Draft = {
    ...EMPTY_DRAFT,
    ...first,
    to: [{ kind: 'list', id: list }],
    words: 'Ottermere: {given_name or "neighbor"}, the Heron is off.',
    when: { kind: 'at', date: later, time: '12:00' },
  };
  const { version } = await call<{ version: number }>('put', '/api/broadcasts/:id', {
    params,
    body: { name: 'Heron', draft, version: 1 },
  });
  await call('put', '/api/broadcasts/:id/labels', { params, body: { labels: ['ferry'] } });
  await call('get', '/api/labels');
  const given = await call<{ id: number }>('post', '/api/code-lists', { query: { name: 'Winter' }, raw: 'A-1\nA-2' });
  await call('post', '/api/code-lists/:id/codes', { params: { id: given.id }, raw: 'A-3' });
  await call('get', '/api/code-lists');
  await call('get', '/api/codes', { query: { search: 'A-1' } });
  await call('delete', '/api/code-lists/:id', { params: { id: given.id } });
  const words = { folder: 'Ferry', name: 'Late', words: { en: 'Late' }, links: [] };
  const prepared = await call<{ id: number }>('post', '/api/prepared-texts', { body: { ...words, kind: 'template' } });
  await call('get', '/api/prepared-texts', { query: { kind: 'template', search: 'late' } });
  await call('get', '/api/prepared-texts/folders');
  await call('put', '/api/prepared-texts/:id', { params: { id: prepared.id }, body: { ...words, name: 'Later', version: 1 } });
  await call('delete', '/api/prepared-texts/:id', { params: { id: prepared.id } });
  await call('put', '/api/session/place', { body: { place: 'Mill Quay' } });
  const xliff = await desk.ask('GET', `/api/broadcasts/${params.id}/xliff?language=fr`, 'manage');
  asked.add('get /api/broadcasts/:id/xliff');
  const translated = (await xliff.text()).replace(/<source[^>]*>([^]*?)<\/source>/g, '$&<target>$1</target>');
  await call('post', '/api/broadcasts/:id/xliff', { params, query: { language: 'fr' }, raw: translated });
  const { path } = await call<{ path: string }>('post', '/api/session/calendar');
  await call('get', '/calendar/:token', { params: { token: path.split('/')[2] }, as: undefined });
  await call('delete', '/api/session/calendar');
  await call('get', '/api/broadcasts', { query: { search: 'heron', label: 'ferry' } });
  const { digest, plan } = await call<{ digest: string; plan: { people: number; must_fix: unknown[] } }>(
    'post',
    '/api/broadcasts/:id/plan',
    { params, body: { draft } },
  );
  expect([plan.people, plan.must_fix]).toEqual([2, []]);
  await call('post', '/api/broadcasts/:id/shorter', { params, body: { draft, language: 'en' } });
  await call('post', '/api/broadcasts/:id/proof', { params, body: { draft, which: 'usual', index: 0 } });
  await call('post', '/api/broadcasts/:id/proofs', { params, body: { draft } });
  await call('post', '/api/broadcasts/:id/people', { params, body: { draft, step: 'will_get', skip: 0 } });
  await call('post', '/api/broadcasts/:id/about', { params, body: { draft } });
  await call('post', '/api/numbers/read', { body: { text: '+1 207 555 0142, 12' } });
  await call('put', '/api/session/own-number', { body: { number: '+1 207 555 0199' } });
  const code = await desk.app.db.query<{ body: string }>(
    `SELECT body FROM outbound WHERE kind = 'test' ORDER BY id DESC LIMIT 1`,
  );
  await call('post', '/api/session/own-number/code', { body: { code: code.rows[0].body.slice(0, 6) } });
  await call('post', '/api/links/check', { body: { addresses: ['http://127.0.0.1:1/'] } });
  await call('post', '/api/broadcasts/:id/here', { params, body: { tab: 'tab-of-a-test', place: 'words' } });
  await call('post', '/api/broadcasts/:id/rehearse', { params, body: { draft } });
  const tester = await call<{ id: number }>('post', '/api/testers', {
    body: { name: 'Pier', number: '+12075550190', copies: false },
  });
  await call('put', '/api/testers/:id', { params: { id: tester.id }, body: { copies: true } });
  await call('get', '/api/testers');
  await call('post', '/api/broadcasts/:id/test', {
    params,
    body: { draft, which: 'usual', index: 0, me: true, testers: [tester.id] },
  });
  await call('delete', '/api/testers/:id', { params: { id: tester.id } });
  const { run_id: run } = await call<{ run_id: number }>('post', '/api/broadcasts/:id/press', {
    params,
    body: { version, digest, press_id: 'contract-press-1' },
  });
  // it is planned in the background; the run answers in every state of it
  for (;;) {
    const { run: now } = await call<{ run: { state: string } }>('get', '/api/runs/:id', { params: { id: run } });
    if (now.state === 'waiting') break;
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  await desk.app.db.query(`UPDATE run SET asks = 'more people' WHERE id = $1`, [run]);
  await call('post', '/api/runs/:id/agree', { params: { id: run }, body: {} });
  await call('get', '/api/prepared-texts/earlier', { query: { search: 'a' } });
  const { recipients } = await call<{ recipients: { id: number }[] }>('get', '/api/runs/:id/recipients', {
    params: { id: run },
  });
  await call('get', '/api/runs/:id/recipients/kinds', { params: { id: run } });
  await call('get', '/api/runs/:id/recipients/:text/parts', { params: { id: run, text: recipients[0].id } });
  await call('get', '/api/runs/:id/recipients.xlsx', { params: { id: run }, query: { language: 'en' } });
  await call('put', '/api/lists/:id/rule', { params: { id: list }, body: { leave_after: 2 } });
  const { rows: alarm } = await desk.app.db.query<{ id: number }>(
    `INSERT INTO alarm (run_id, kind, words, at) VALUES ($1, 'slow', 'No receipts.', '2026-12-02') RETURNING id`,
    [run],
  );
  await call('post', '/api/alarms/:id/seen', { params: { id: alarm[0].id } });
  await call('get', '/api/runs/:id/recipients.csv', { params: { id: run } });
  await call('get', '/api/day', { query: { date: later } });
  await call('get', '/api/today');
  await call('post', '/api/broadcasts/:id/set-aside', { params, body: { as: 'set_aside' } });
  await call('post', '/api/broadcasts/:id/put-back', { params });
  await desk.app.db.query(
    `UPDATE run SET state = 'sending', called_off = false, ended_at = NULL, started_at = pressed_at WHERE id = $1`,
    [run],
  );
  await call('post', '/api/runs/:id/other-day', { params: { id: run }, body: {} });
  await call('post', '/api/runs/:id/pause', { params: { id: run } });
  await call('post', '/api/runs/:id/resume', { params: { id: run } });
  await call('post', '/api/runs/:id/cancel-rest', { params: { id: run } });
  await call('get', '/api/outcomes', { query: { label: 'ferry', from: '2026-01-01' } });
  await call('get', '/api/outcomes/which');
  await call('get', '/api/outcomes/over-time', { query: { from: '2026-01-01' } });
  await call('get', '/api/runs/:id/tally', { params: { id: run } });
  await call('get', '/api/outcomes.csv');
  await call('get', '/api/outcomes.xlsx');
  await compared(asking, run);
  const { id: other } = await call<{ id: number }>('post', '/api/broadcasts', { body: { name: 'Gone', people: [ana] } });
  await call('delete', '/api/broadcasts/:id', { params: { id: other } });
}
