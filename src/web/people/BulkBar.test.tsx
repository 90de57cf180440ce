import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { choose, serve, show } from '../testing';
import { BulkBar } from './BulkBar';
import type { Sources } from './sources';

const SOURCES = {
  everyone: 50,
  cannot: 2,
  lists: [{ id: 3, name: 'Berth holders', people: 9, filling_import: null, leave_after: null }],
  tags: [{ id: 5, name: 'bicycle', people: 4 }],
  segments: [],
  fields: [{ id: 1, slug: 'landing', label: 'Landing', type: 'text', choices: [], about: 'person', position: 0 }],
} as unknown as Sources;
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
const clear = vi.fn();
const all = vi.fn();
beforeEach(() => {
  answers = { 'POST /api/people/bulk': { id: 8, people: 3 }, 'POST /api/people/bulk/8/undo': { people: 3 } };
  server = serve(answers);
});
afterEach(() => {
  clear.mockReset();
  all.mockReset();
});
const bar = (ids: readonly number[] | undefined, n: number) =>
  show(<BulkBar ids={ids} n={n} total={50} filter={{ list: '3' }} sources={SOURCES} clear={clear} all={all} />);
const bodies = () => server.asked.filter(({ call }) => call.startsWith('POST')).map(({ call, body }) => [call.slice(5), body]);

test('a new tag is made for those who are chosen, told how many, and undone the same way', async () => {
  const user = userEvent.setup();
  bar([1, 2, 4], 3);
  expect(screen.getByRole('button', { name: 'Do it for 3 people' })).toHaveProperty('disabled', true);
  await user.type(screen.getByRole('combobox', { name: 'Tag' }), 'dog aboard');
  await user.click(screen.getByRole('button', { name: 'Do it for 3 people' }));
  await screen.findByText('tagged “dog aboard”, 3 people.');
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() =>
    expect(bodies()).toEqual([
      ['/api/people/bulk', { ids: [1, 2, 4], act: { kind: 'tag', name: 'dog aboard' }, what: 'tagged “dog aboard”' }],
      ['/api/people/bulk/8/undo', {}],
    ]),
  );
});

test('a list is found by its name, or made; those on it already are said', async () => {
  const user = userEvent.setup();
  answers['POST /api/people/bulk'] = { id: 8, people: 1 };
  bar([1, 2, 4], 3);
  choose('What to do with them', 'put on list');
  await user.type(screen.getByRole('combobox', { name: 'List' }), 'Berth holders');
  await user.click(screen.getByRole('button', { name: 'Do it for 3 people' }));
  await screen.findByText('Only 1 person needed it: put on “Berth holders”, 1 person.');
  await user.clear(screen.getByRole('combobox', { name: 'List' }));
  await user.type(screen.getByRole('combobox', { name: 'List' }), 'Morning boat');
  await user.click(screen.getByRole('button', { name: 'Do it for 3 people' }));
  await waitFor(() =>
    expect(bodies().map(([, body]) => (body as { act: object }).act)).toEqual([
      { kind: 'put_on', id: 3 },
      { kind: 'put_on_new', name: 'Morning boat' },
    ]),
  );
});

test('everyone of a filter is changed by the filter, not by those who happen to be loaded', async () => {
  const user = userEvent.setup();
  bar(undefined, 50);
  // so many are written to by a list, not one by one
  expect(screen.queryByRole('button', { name: /^Write to/ })).toBeNull();
  choose('What to do with them', 'take the tag');
  await user.click(screen.getByRole('button', { name: 'Do it for 50 people' }));
  await waitFor(() =>
    expect(bodies()).toEqual([
      ['/api/people/bulk', { filter: { list: '3' }, act: { kind: 'untag', id: 5 }, what: 'took the tag “bicycle”' }],
    ]),
  );
});

test('those who are chosen are written to; one press more chooses all of the filter', async () => {
  const user = userEvent.setup();
  answers['POST /api/broadcasts'] = { id: 31 };
  const { router } = bar([1, 2, 4], 3);
  await user.click(screen.getByRole('button', { name: 'choose all 50 people' }));
  expect(all).toHaveBeenCalledOnce();
  await user.click(screen.getByRole('button', { name: 'Write to 3' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/31/short'));
  expect(bodies()).toEqual([['/api/broadcasts', { name: '', people: [1, 2, 4] }]]);
});
