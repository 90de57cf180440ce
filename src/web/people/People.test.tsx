import { act, screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { refusal, serve, show } from '../testing';
import People from './People';

const SOURCES = {
  everyone: 1,
  cannot: 0,
  lists: [{ id: 3, name: 'Berth holders', people: 1, filling_import: null, leave_after: null }],
  tags: [],
  segments: [{ id: 9, name: 'Pass ends soon', rule: { op: 'all', of: [{ on: 'field', field: 'born', test: 'filled' }] } }],
  fields: [],
};
const open = (sources: unknown) =>
  serve({
    'GET /api/people/sources': sources,
    'GET /api/people': {
      people: [
        { id: 23, given_name: 'Dao', family_name: 'Vance', number: null, key: 'dao', fields: {}, reach: 'no text number' },
      ],
    },
    'GET /api/people/count': { people: 1, can: 0 },
    'GET /api/segments': { segments: [{ id: 9, people: 1 }] },
    'GET /api/session/layouts': { layouts: {} },
  });

test('the people of a segment come with its rule, and not before it: nothing is pushed from under a press', async () => {
  let answer: (sources: unknown) => void = () => undefined;
  open(() => new Promise((resolve) => (answer = resolve)));
  show(<People />, '/people?segment=9', '/people/:id?');
  await screen.findByText('Looking for the segment…');
  expect(screen.queryByRole('table')).toBeNull();
  // nor is a list added to lists that are not there
  expect(screen.queryByRole('button', { name: 'New list' })).toBeNull();
  await act(async () => answer(SOURCES));
  await screen.findByText(/^Everyone for whom/);
  expect(screen.getByRole('table')).toBeTruthy();
  await screen.findByText('Berth holders');
});

test('where lists and segments cannot be had that is said, and nobody waits for them', async () => {
  open(refusal(503, 'The people cannot be looked at just now.'));
  show(<People />, '/people?segment=9', '/people/:id?');
  await screen.findByText('The people cannot be looked at just now.');
  await waitFor(() => expect(screen.queryByText('Looking for the segment…')).toBeNull());
});
