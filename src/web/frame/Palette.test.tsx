import { fireEvent, screen, waitFor } from '@testing-library/react';
import { beforeEach, expect, test, vi } from 'vitest';
import { serve, show } from '../testing';
import Palette from './Palette';

const close = vi.fn();
let server: ReturnType<typeof serve>;
beforeEach(() => {
  close.mockReset();
  server = serve({
    'GET /api/people/sources': {
      everyone: 3,
      cannot: 0,
      lists: [{ id: 7, name: 'Berth holders', people: 3, filling_import: null, leave_after: null }],
      tags: [],
      segments: [],
      fields: [],
    },
    'GET /api/people': {
      people: [{ id: 9, given_name: 'Berta', family_name: 'Noor', number: '+12075550142' }],
    },
    'GET /api/outcomes': { runs: [], total: 0 },
    'GET /api/broadcasts': { broadcasts: [], total: 0 },
    'POST /api/broadcasts': { id: 31 },
    'GET /api/keywords': { keywords: [{ id: 4, word: 'LAKE', list: 'Lake news', tag: null }], workspace: 'Ottermere' },
    'GET /api/prepared-texts': { texts: [{ id: 5, name: 'Boat is late' }], total: 1 },
  });
});
/** Types, and waits until the list is narrowed to it: what stood in it before is another element then. */
const type = async (value: string) => {
  fireEvent.change(screen.getByRole('combobox', { name: 'Go to' }), { target: { value } });
  await waitFor(() => expect(screen.queryByText('Practice phones')).toBeNull());
};

test('a list is found by its name and gone to with Enter', async () => {
  const { router } = show(<Palette close={close} />);
  await type('berth');
  // the first that fits begins a broadcast to it; the next is the list itself
  await screen.findByText('A broadcast to Berth holders');
  fireEvent.click(await screen.findByText('Berth holders'));
  await waitFor(() => expect(router.state.location.pathname + router.state.location.search).toBe('/people?list=7'));
  expect(close).toHaveBeenCalled();
});

test('a person is looked for at the server', async () => {
  const { router } = show(<Palette close={close} />);
  await type('berta');
  fireEvent.click(await screen.findByText('Berta Noor'));
  await waitFor(() => expect(router.state.location.pathname).toBe('/people/9'));
});

test('a broadcast is begun to a list; nothing in it sends', async () => {
  const { router } = show(<Palette close={close} />);
  await type('berth');
  fireEvent.click(await screen.findByText('A broadcast to Berth holders'));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/31'));
  expect(server.asked.filter(({ call }) => call.startsWith('POST'))).toEqual([
    { call: 'POST /api/broadcasts', body: { name: '', list_id: 7 } },
  ]);
});

test.each([
  ['quiet hours', 'Quiet hours', '/setup/workspace'],
  ['testers', 'Numbers of the desk, testers', '/setup/team'],
  ['lake', 'LAKE', '/replies/keywords?open=4'],
  ['late', 'Boat is late', '/broadcasts/templates?kind=template&open=5'],
  ['import', 'Bring in people', '/people/bring-in'],
  ['new person', 'Add a person', '/people?add=1'],
  ['children', 'Dependants', '/people/dependants'],
])('“%s” leads to what is meant', async (typed, words, to) => {
  const { router } = show(<Palette close={close} />);
  await type(typed);
  fireEvent.click((await screen.findAllByText(words))[0]);
  await waitFor(() => expect(router.state.location.pathname + router.state.location.search).toBe(to));
});

test('a whole word goes before the beginning of one, and that before the inside', async () => {
  show(<Palette close={close} />);
  await type('mail');
  await waitFor(() =>
    expect(
      screen
        .getAllByRole('option')
        .map((each) => each.textContent)
        .filter((each) => /^Mail|mailbox/.test(each ?? '')),
    ).toEqual(['Mail', 'Mail serverMail', 'Mails come fromMail', 'Practice mailbox']),
  );
});

test('Escape closes it', async () => {
  show(<Palette close={close} />);
  await type('berth');
  fireEvent.keyDown(screen.getByRole('combobox', { name: 'Go to' }), { key: 'Escape' });
  expect(close).toHaveBeenCalled();
});

test('a setting is a way, too', async () => {
  const { router } = show(<Palette close={close} />);
  await type('prices');
  fireEvent.click(await screen.findByText('Prices'));
  await waitFor(() => expect(router.state.location.pathname).toBe('/setup/prices'));
});
