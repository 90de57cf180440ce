import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { Keyword } from '../../core/api/desk/keywords';
import { choose, serve, show } from '../testing';
import KeywordPoster from './KeywordPoster';
import Keywords from './Keywords';

const keyword = (id: number, word: string, part: Partial<Keyword> = {}): Keyword => ({
  id,
  word,
  sender_id: 1,
  list_id: 5,
  tag_id: null,
  purpose: 'service',
  consent_wording: 'Notices about the morning boats.',
  confirms: 'Ottermere: you are on the list. STOP to get no more.',
  asks_first: false,
  asks: '',
  from_at: '2026-11-01T05:00:00.000Z',
  until_at: null,
  sender: 'Ferry desk',
  address: '72345',
  list: 'Morning boat regulars',
  tag: null,
  signed_up: 78,
  asked: 0,
  last_at: null,
  ended_at: null,
  alike: [],
  ...part,
});
let server: ReturnType<typeof serve>;
beforeEach(() => {
  server = serve({
    'GET /api/keywords': {
      keywords: [keyword(1, 'FERRY'), keyword(2, 'PIKE', { ended_at: '2026-11-20T12:00:00.000Z', signed_up: 4 })],
      workspace: 'Ottermere',
    },
    'GET /api/people/sources': {
      everyone: 10,
      lists: [{ id: 5, name: 'Morning boat regulars', people: 3 }],
      tags: [],
      segments: [],
      fields: [],
    },
    'GET /api/setup': {
      senders: [
        { id: 1, name: 'Ferry desk', kind: 'short', address: '72345' },
        { id: 2, name: 'OttermereFB', kind: 'name', address: 'OttermereFB' },
      ],
    },
    'POST /api/keywords': { id: 9 },
    'POST /api/keywords/1/end': {},
  });
});

test('one that is easily taken for another is pointed out while it is typed; what its answer lacks is said', async () => {
  const user = userEvent.setup();
  show(<Keywords />);
  await user.click(await screen.findByRole('button', { name: 'New keyword' }));
  const word = await screen.findByRole('textbox', { name: /^The word/ });
  await user.type(word, 'FERY');
  await screen.findByText(/It is easily taken for FERRY/);
  await user.clear(word);
  await user.type(word, 'REGATTA');
  await waitFor(() => expect(screen.queryByText(/easily taken/)).toBeNull());
  await screen.findByText('Text REGATTA to 72345');
  const answer = screen.getByRole('textbox', { name: /^What answers them/ });
  await user.clear(answer);
  await user.type(answer, 'You are on the list.');
  await screen.findByText(/It does not say who writes\. It does not say how to stop\./);
});

test('a name takes no replies: it is not offered; what is missing is said and nothing is asked', async () => {
  const user = userEvent.setup();
  show(<Keywords />);
  await user.click(await screen.findByRole('button', { name: 'New keyword' }));
  await screen.findByRole('textbox', { name: /^The word/ });
  expect(screen.getByRole('combobox', { name: 'Texted to' }).textContent).toBe('Ferry desk (72345)');
  await user.click(screen.getByRole('button', { name: 'Add the keyword' }));
  expect(server.acts()).toEqual([]);
  choose('Puts them on the list', 'Morning boat regulars');
  await user.type(screen.getByRole('textbox', { name: /^The word/ }), 'Quay');
  await user.type(screen.getByRole('textbox', { name: /^What they agree to/ }), 'Notices of the quay.');
  await user.click(screen.getByRole('button', { name: 'Add the keyword' }));
  await screen.findByText('“Quay” holds. Put up its poster.');
  expect(server.acts()).toMatchObject([
    ['POST /api/keywords', { word: 'Quay', sender_id: 1, list_id: 5, tag_id: null, asks_first: false }],
  ]);
});

test('one that has ended is shown and cannot be changed', async () => {
  const user = userEvent.setup();
  show(<Keywords />);
  await user.click(await screen.findByRole('button', { name: 'PIKE' }));
  expect((await screen.findByRole<HTMLInputElement>('textbox', { name: /^The word/ })).disabled).toBe(true);
  expect(screen.queryByRole('button', { name: 'Save the keyword' })).toBeNull();
});

test('the poster’s line is its heading, with what must stand beside it; one that is gone says so', async () => {
  show(<KeywordPoster />, '/replies/keywords/1/poster', '/replies/keywords/:id/poster');
  expect((await screen.findByRole('heading', { level: 1 })).textContent).toBe('Text FERRY to 72345');
  expect(document.body.textContent).toContain('Ottermere: Notices about the morning boats.');
  expect(document.body.textContent).toMatch(/STOP to get no more/);
  cleanup();
  show(<KeywordPoster />, '/replies/keywords/99/poster', '/replies/keywords/:id/poster');
  await screen.findByText('No such keyword');
});
