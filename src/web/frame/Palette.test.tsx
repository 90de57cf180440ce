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
  });
});
const type = (value: string) => fireEvent.change(screen.getByRole('combobox', { name: 'Go to' }), { target: { value } });

test('a list is found by its name and gone to with Enter', async () => {
  const { router } = show(<Palette close={close} />);
  type('berth');
  // the first that fits begins a broadcast to it; the next is the list itself
  await screen.findByText('A broadcast to Berth holders');
  fireEvent.click(await screen.findByText('Berth holders'));
  await waitFor(() => expect(router.state.location.pathname + router.state.location.search).toBe('/people?list=7'));
  expect(close).toHaveBeenCalled();
});

test('a person is looked for at the server', async () => {
  const { router } = show(<Palette close={close} />);
  type('berta');
  fireEvent.click(await screen.findByText('Berta Noor'));
  await waitFor(() => expect(router.state.location.pathname).toBe('/people/9'));
});

test('a broadcast is begun to a list; nothing in it sends', async () => {
  const { router } = show(<Palette close={close} />);
  type('berth');
  fireEvent.click(await screen.findByText('A broadcast to Berth holders'));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/31'));
  expect(server.asked.filter(({ call }) => call.startsWith('POST'))).toEqual([
    { call: 'POST /api/broadcasts', body: { name: '', list_id: 7 } },
  ]);
});

test('a setting is a way, too', async () => {
  const { router } = show(<Palette close={close} />);
  type('prices');
  fireEvent.click(await screen.findByText('Prices'));
  await waitFor(() => expect(router.state.location.pathname).toBe('/setup/prices'));
});
