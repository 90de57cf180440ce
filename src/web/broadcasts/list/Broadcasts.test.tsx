import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { BroadcastRow } from '../../../core/api/sending/broadcasts';
import { choose, show } from '../../testing';
import Broadcasts from './Broadcasts';

const row = (id: number, part: Partial<BroadcastRow> = {}): BroadcastRow => ({
  ...{ id, name: `Broadcast ${id}`, state: 'ended', updated_at: '2026-12-02T20:00:00.000Z', words: 'Hello {given_name}' },
  ...{ run_id: id, run_state: 'finished', people: 40, parts: 41, cost_micro: 300_000, due_at: '2026-12-01T20:00:00.000Z' },
  ...{ by: 'Ana', labels: [], goes_on: false, next_at: null },
  ...part,
  called: part.called ?? part.name ?? `Broadcast ${id}`,
});
/** What was asked, with its query; the server has 130 of them. */
const asked: string[] = [];
const rows = Array.from({ length: 130 }, (_, i) => row(i + 1, i === 0 ? { labels: ['ferry'] } : {}));
const put = vi.fn();
beforeEach(() => {
  asked.length = 0;
  // the page is as high as its frame says, in jsdom as well
  vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(700);
  vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(1200);
  vi.stubGlobal('fetch', (address: string, init?: RequestInit) => {
    const url = new URL(address, 'http://desk');
    asked.push(`${init?.method ?? 'GET'} ${url.pathname}${url.search}`);
    const skip = Number(url.searchParams.get('skip') ?? 0);
    let answer: unknown = {};
    if (url.pathname === '/api/labels')
      answer = {
        labels: [
          { label: 'ferry', broadcasts: 1 },
          { label: 'juniors', broadcasts: 2 },
        ],
      };
    else if (url.pathname === '/api/broadcasts' && !init?.method)
      answer = { broadcasts: rows.slice(skip, skip + 100), total: 130 };
    else if (url.pathname.endsWith('/labels')) {
      put(url.pathname, JSON.parse(String(init?.body)));
      answer = JSON.parse(String(init?.body));
    } else if (url.pathname === '/api/broadcasts') answer = { id: 900 };
    return Promise.resolve(new Response(JSON.stringify(answer)));
  });
});
afterEach(() => {
  put.mockReset();
});

test('the next page is asked for when the end comes into sight, and not before', async () => {
  show(<Broadcasts />);
  await screen.findByText('130');
  const table = screen.getByRole('table', { name: 'Broadcasts' });
  expect(asked.filter((each) => each.includes('skip='))).toEqual([]);
  const scroller = table.parentElement as HTMLElement;
  scroller.scrollTop = 100 * 40;
  fireEvent.scroll(scroller);
  await waitFor(() => expect(asked.filter((each) => each.includes('skip='))).toEqual(['GET /api/broadcasts?skip=100']));
});

test('state and label are asked for together and stand in the address', async () => {
  const { router } = show(<Broadcasts />);
  await screen.findByText('130');
  choose('Label', 'juniors');
  await waitFor(() => expect(asked).toContain('GET /api/broadcasts?label=juniors'));
  fireEvent.click(screen.getByRole('button', { name: 'drafts' }));
  await waitFor(() => expect(asked).toContain('GET /api/broadcasts?state=draft&label=juniors'));
  expect(router.state.location.search).toBe('?state=draft&label=juniors');
});

test('a label is put on from the list, also one that is only typed and not yet confirmed', async () => {
  const user = userEvent.setup();
  show(<Broadcasts />);
  await user.click(await screen.findByRole('button', { name: 'Labels: ferry' }));
  const dialog = await screen.findByRole('dialog', { name: 'Labels' });
  await user.click(await within(dialog).findByRole('option', { name: 'juniors' }));
  await user.type(within(dialog).getByRole('combobox', { name: 'Labels' }), 'late boats');
  await user.click(within(dialog).getByRole('button', { name: 'Done' }));
  await waitFor(() =>
    expect(put.mock.calls).toEqual([
      ['/api/broadcasts/1/labels', { labels: ['ferry', 'juniors'] }],
      ['/api/broadcasts/1/labels', { labels: ['ferry', 'juniors', 'late boats'] }],
    ]),
  );
});

test('a copy begins a draft and opens it', async () => {
  const user = userEvent.setup();
  const { router } = show(<Broadcasts />, '/broadcasts', '/broadcasts');
  await user.click((await screen.findAllByRole('button', { name: /^Copy Broadcast/ }))[0]);
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/900'));
});
