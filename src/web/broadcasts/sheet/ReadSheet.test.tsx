import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import { serve, show } from '../../testing';
import { broadcastOf, draftOf } from '../testing';
import { ReadSheet } from './ReadSheet';

let server: ReturnType<typeof serve>;
beforeEach(() => {
  server = serve({
    'GET /api/people/sources': { lists: [{ id: 3, name: 'Berth holders', people: 362 }], tags: [], segments: [], fields: [] },
    'POST /api/broadcasts/32/set-aside': {},
    'POST /api/broadcasts/32/put-back': { version: 9 },
    'POST /api/broadcasts': { id: 40 },
  });
});
const read = (part: Partial<BroadcastAnswer>) => show(<ReadSheet broadcast={broadcastOf(part)} />, '/broadcasts/32', '*');
const run = { id: 9, state: 'waiting', people: 41, due_at: '2026-12-02T22:30:00.000Z' };

test('a scheduled one stands there as its sheet: to whom, which words, when, how many; and is set aside to be edited', async () => {
  read({
    state: 'scheduled',
    name: '',
    draft: draftOf({
      to: [{ kind: 'list', id: 3 }],
      words: 'Ottermere: {given_name}, no boat today.',
      translations: { fr: 'Ottermere : pas de bateau.' },
      when: { kind: 'at', date: '2026-12-02', time: '17:30' },
      pace: { kind: 'a_minute', texts: 12 },
    }),
    run,
  });
  // without a name it is called by its words
  expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Ottermere: no boat today');
  await screen.findByRole('link', { name: 'Berth holders' });
  expect(document.body.textContent).toContain('Ottermere: given name, no boat today.');
  expect(document.body.textContent).toContain('Ottermere : pas de bateau.');
  expect(document.body.textContent).toMatch(/On .*Dec 2 at 5:30\sPM, Eastern time/);
  expect(document.body.textContent).toContain('12 texts a minute.');
  expect(screen.getByRole('complementary', { name: 'Tally' }).textContent).toMatch(/people41.*goes5:30\sPM/);
  expect(screen.queryByRole('button', { name: /Take .* away/ })).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'Set aside and edit' }));
  expect(server.acts()).toEqual([['POST /api/broadcasts/32/set-aside', { as: 'set_aside' }]]);
});

test('a canceled one is put back as it was, which leads to its last look and sends nothing', async () => {
  const { router } = read({ state: 'canceled' });
  await userEvent.click(screen.getByRole('button', { name: 'Put it back as it was' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/32/last-look'));
  expect(server.acts()).toEqual([['POST /api/broadcasts/32/put-back', {}]]);
});

test('one that has ended leads to its run, and is copied', async () => {
  const { router } = read({ state: 'ended', run: { ...run, state: 'finished' } });
  expect(screen.getByRole('link', { name: 'Open its run' }).getAttribute('href')).toBe('/runs/9');
  await userEvent.click(screen.getByRole('button', { name: 'Copy it' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/40'));
});
