import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import type { RunAnswer } from '../../../core/api/sending/runs';
import { serve, show } from '../../testing';
import { FollowUp } from './FollowUp';
import { runOf } from '../testing';

function open(answer: RunAnswer, maySend = true) {
  const { asked } = serve({ 'POST /api/broadcasts': { id: 50 }, 'POST /api/runs/4/cancel-rest': {} });
  const { router } = show(<FollowUp answer={answer} maySend={maySend} />);
  const made = () => asked.filter(({ call }) => call.startsWith('POST')).map(({ call, body }) => [call, body]);
  return { made, router, user: userEvent.setup() };
}
const over = runOf(
  { state: 'finished', started_at: '2026-12-02T22:30:00.000Z' },
  { delivered: 30, not_delivered: 3, uncertain: 1 },
);

test('a follow-up goes to those that an outcome names; what nobody is in is not offered', async () => {
  const { made, router, user } = open(over);
  await user.click(screen.getByRole('button', { name: 'Follow up' }));
  const items = screen.getAllByRole('menuitem').map(({ textContent }) => textContent);
  expect(items).toEqual(['Those it was not delivered to3', 'Those who got it and did not answer', 'Everyone who got it30']);
  await user.click(screen.getByRole('menuitem', { name: /not delivered to/ }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/50'));
  expect(made()).toEqual([['POST /api/broadcasts', { name: '', follow: { run_id: 4, outcome: 'not_delivered' } }]]);
});

test('whoever answered can be thanked; nobody is where nobody answered', async () => {
  const answered = { ...over, answers: { people: 12, texts: 14, waiting: 2 } };
  const { made, user } = open(answered);
  await user.click(screen.getByRole('button', { name: 'Follow up' }));
  expect(screen.getByRole('menuitem', { name: /^Those who answered/ }).textContent).toBe('Those who answered12');
  await user.click(screen.getByRole('menuitem', { name: /^Thank those who answered/ }));
  await waitFor(() =>
    expect(made()).toEqual([['POST /api/broadcasts', { name: '', follow: { run_id: 4, outcome: 'answered', thanks: true } }]]),
  );
});

test('a correction of one that is over is begun at once, to everyone it has reached or may still reach', async () => {
  const { made, user } = open(over);
  await user.click(screen.getByRole('button', { name: 'Correct it' }));
  await waitFor(() =>
    expect(made()).toEqual([['POST /api/broadcasts', { name: '', follow: { run_id: 4, outcome: 'left', corrects: true } }]]),
  );
});

test('of one that goes, what has not gone is canceled first, and that is said before', async () => {
  const going = runOf(
    { state: 'sending', started_at: '2026-12-02T22:30:00.000Z' },
    { delivered: 10, with_carrier: 5, planned: 26 },
  );
  const { made, user } = open(going);
  await user.click(screen.getByRole('button', { name: 'Correct it' }));
  expect(made()).toEqual([]);
  await user.click(await screen.findByRole('button', { name: 'Cancel the other 26, correct it for 15' }));
  await waitFor(() => expect(made().map(([call]) => call)).toEqual(['POST /api/runs/4/cancel-rest', 'POST /api/broadcasts']));
  cleanup();
  // who may not send cannot cancel, and so not correct what still goes
  open(going, false);
  expect(screen.queryByRole('button', { name: 'Correct it' })).toBeNull();
});
