import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { SetupAnswer } from '../../core/api/setup';
import { choose, refusal, serve, show } from '../testing';
import TeamPart from './TeamPart';

const data = {
  accounts: [
    { id: 1, name: 'Ana Reyes', email: 'ana@ottermere.example', role: 'manage', sessions: 1 },
    { id: 2, name: 'Lou Vance', email: 'lou@ottermere.example', role: 'send', sessions: 0 },
  ],
} as unknown as SetupAnswer;

let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = {
    'GET /api/testers': { testers: [] },
    'POST /api/setup/invitations': { path: '/join/abc' },
    'POST /api/accounts/2/reset': { path: '/reset/xyz' },
    'PUT /api/accounts/2': {},
    'DELETE /api/accounts/2': {},
  };
  server = serve(answers);
});

test('whoever does not manage sees the team and no act', () => {
  show(<TeamPart data={data} manage={false} />);
  expect(screen.getByText('lou@ottermere.example')).toBeTruthy();
  expect(screen.queryAllByRole('button')).toEqual([]);
  expect(screen.queryByRole('combobox')).toBeNull();
});

test('nobody removes themselves; removing someone is asked once more', async () => {
  const user = userEvent.setup();
  show(<TeamPart data={data} manage />);
  expect(screen.getAllByRole('button', { name: 'remove' })).toHaveLength(1);
  await user.click(screen.getByRole('button', { name: 'remove' }));
  await user.click(screen.getByRole('button', { name: 'Leave it' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(server.acts()).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'remove' }));
  await user.click(screen.getByRole('button', { name: 'Remove Lou Vance' }));
  await screen.findByText('Lou Vance is removed.');
  expect(server.acts()).toEqual([['DELETE /api/accounts/2', {}]]);
});

test('a role is changed and said; what is refused is said as the server says it', async () => {
  show(<TeamPart data={data} manage />);
  choose('What Lou Vance may do', 'write');
  await screen.findByText('Lou Vance writes, and sends tests to their own number.');
  answers['PUT /api/accounts/1'] = refusal(409, 'Somebody has to manage.');
  // it is said a moment before the next can be chosen
  await waitFor(() => expect(screen.getByLabelText('What Ana Reyes may do').getAttribute('aria-disabled')).toBeNull());
  choose('What Ana Reyes may do', 'look');
  await screen.findByText('Somebody has to manage.');
  expect(server.acts()).toEqual([
    ['PUT /api/accounts/2', { role: 'write' }],
    ['PUT /api/accounts/1', { role: 'look' }],
  ]);
});

test('a link stands where it can be copied, and says whom it is for', async () => {
  const user = userEvent.setup();
  show(<TeamPart data={data} manage />);
  choose('What they may do', 'send');
  await user.click(screen.getByRole('button', { name: 'Make a link' }));
  const field = await screen.findByLabelText('One-time link');
  expect(field).toHaveProperty('value', `${window.location.origin}/join/abc`);
  await user.click(screen.getByRole('button', { name: 'new password' }));
  await screen.findByText(/Give Lou Vance this link to choose a new password/);
  expect(screen.getByLabelText('One-time link')).toHaveProperty('value', `${window.location.origin}/reset/xyz`);
  expect(server.acts()[0]).toEqual(['POST /api/setup/invitations', { role: 'send' }]);
});
