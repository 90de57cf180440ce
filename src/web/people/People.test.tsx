import { act, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import type { ManyChanged } from '../../core/api/people/people';
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
let changes: ManyChanged[] = [];
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
    'GET /api/people/changes': () => ({ changes }),
    'POST /api/people/bulk/8/undo': () => {
      changes = [{ ...changes[0], undone: true }];
      return { people: 3 };
    },
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

test('what was done with many stands there after a reload, with what undoes it; undone, it is only told', async () => {
  const user = userEvent.setup();
  changes = [{ id: 8, what: 'tagged “bicycle”', people: 3, at: '2026-12-02T15:00:00.000Z', by: 'Ana Reyes', undone: false }];
  open(SOURCES);
  show(<People />, '/people', '/people/:id?');
  await screen.findByText(/^last: 3 tagged “bicycle”/);
  await user.click(screen.getByRole('button', { name: 'undo it' }));
  await screen.findByText('3 people: as before.');
  await waitFor(() => expect(screen.queryByText(/^last: 3/)).toBeNull());
  await user.click(screen.getByRole('button', { name: 'all changes' }));
  expect((await screen.findByRole('dialog', { name: 'What was done with many at once' })).textContent).toMatch(
    /3 tagged “bicycle”, undoneAna Reyes/,
  );
});
