import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { choose, serve, show } from '../../testing';
import { Tally } from './Tally';
import { broadcastOf, draftOf, planOf } from '../testing';
import { WhenPane } from './WhenPane';

const change = vi.fn<(part: Partial<Draft>) => void>();
const look = vi.fn();
beforeEach(() => {
  vi.stubGlobal('matchMedia', (media: string) => ({
    matches: true,
    media,
    addEventListener: vi.fn(),
    removeEventListener: vi.fn(),
  }));
  serve({});
});
afterEach(() => {
  change.mockReset();
  look.mockReset();
});
const pane = (draft: Draft, plan: PlanSummary | undefined = planOf(), senders = broadcastOf().senders) =>
  show(<WhenPane id={32} draft={draft} plan={plan} senders={senders} change={change} />);
const tally = (plan: PlanSummary | undefined, planning = false, draft = draftOf()) =>
  show(
    <Tally
      id={32}
      seeProofs={vi.fn()}
      draft={draft}
      plan={plan}
      planning={planning}
      hasSenders={false}
      trouble={undefined}
      uncounted={false}
      change={change}
      look={look}
    />,
  );

test('a time that is past offers the next one, taken with one press', async () => {
  const user = userEvent.setup();
  pane(
    draftOf({ when: { kind: 'at', date: '2026-12-02', time: '09:00' } }),
    planOf({
      must_fix: [{ place: 'when', check: 'time', message: 'That time is past.', instead: { date: '2026-12-03', time: '08:00' } }],
    }),
  );
  expect(screen.getByRole('alert').textContent).toContain('That time is past.');
  await user.click(screen.getByRole('button', { name: 'take Thu, Dec 3, 8:00 AM' }));
  expect(change).toHaveBeenCalledExactlyOnceWith({ when: { kind: 'at', date: '2026-12-03', time: '08:00' } });
});

test('at a time begins at a half hour that is to come, in the workspace’s zone', async () => {
  const user = userEvent.setup();
  pane(draftOf({ when: { kind: 'now' } }));
  await user.click(screen.getByRole('radio', { name: 'At a time' }));
  // the desk's clock stands at 3:50 PM Eastern and goes on; twenty minutes later the next half hour is 4:30
  expect(change).toHaveBeenCalledWith({ when: { kind: 'at', date: '2026-12-02', time: '16:30' } });
});

test('the end of use begins four hours after the first text, and can be left to itself again', async () => {
  const user = userEvent.setup();
  const { unmount } = pane(draftOf());
  await user.click(screen.getByRole('button', { name: 'a day later' }));
  expect(change).toHaveBeenLastCalledWith({ no_use_after: { date: '2026-12-02', time: '21:30' } });
  unmount();
  pane(draftOf({ no_use_after: { date: '2026-12-02', time: '21:30' } }));
  await user.click(screen.getByRole('button', { name: 'a day later instead' }));
  expect(change).toHaveBeenLastCalledWith({ no_use_after: null });
});

test('without a sender there is the way to one; with several one is chosen', () => {
  const { unmount } = pane(draftOf({ sender_id: null }), planOf({ sender: null }), []);
  expect(screen.getByRole('link', { name: 'add one' }).getAttribute('href')).toBe('/setup/senders');
  unmount();
  pane(draftOf(), planOf(), [
    { id: 1, name: 'Ferry desk', kind: 'short', address: '72345' },
    { id: 2, name: 'Boathouse', kind: 'name', address: 'OttermereFB' },
  ]);
  choose('From', 'Boathouse, no replies');
  expect(change).toHaveBeenCalledWith({ sender_id: 2 });
});

test('until the plan is there no figure is shown; a press meanwhile leads to the last look, which counts for itself', async () => {
  tally(undefined, true);
  const words = screen.getByRole('complementary', { name: 'Tally' }).textContent;
  expect(words).toContain('counting who will get it');
  expect(words).not.toMatch(/\d/);
  await userEvent.click(screen.getByRole('button', { name: 'Last look' }));
  expect(look).toHaveBeenCalledOnce();
});

test('a plan of words before says that it is counted anew; a press meanwhile leads to the last look, which counts for itself', async () => {
  tally(planOf(), true);
  expect(screen.getByText(/people will get it, counting anew/)).toBeDefined();
  await userEvent.click(screen.getByRole('button', { name: 'Last look' }));
  expect(look).toHaveBeenCalledOnce();
});

test('each thing to fix has its way to where it is put right', async () => {
  const user = userEvent.setup();
  const { unmount } = tally(
    planOf({
      must_fix: [
        { place: 'cost', check: 'balance', message: 'The balance does not cover it.' },
        { place: 'from', check: 'sender', message: 'No sender is chosen.' },
        { place: 'words', check: 'no words', message: 'There are no words yet.' },
      ],
    }),
  );
  expect(screen.getByText('To fix: 3')).toBeDefined();
  expect(screen.getAllByRole('link', { name: 'put it right' }).map((link) => link.getAttribute('href'))).toEqual([
    '/setup/balance',
    '/setup/senders',
  ]);
  unmount();
  tally(planOf());
  expect(screen.getByText('Nothing to fix.')).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Last look' }));
  expect(look).toHaveBeenCalledOnce();
});

test('each person’s own time; a time past somewhere is taken a day later, still in their own', async () => {
  const user = userEvent.setup();
  const at = { kind: 'at', date: '2026-12-02', time: '16:00' } as const;
  const { unmount } = pane(draftOf({ when: at }));
  choose('Whose clock', 'each person’s own time');
  expect(change).toHaveBeenLastCalledWith({ when: { ...at, own: true } });
  unmount();
  pane(
    draftOf({ when: { ...at, own: true } }),
    planOf({
      must_fix: [{ place: 'when', check: 'time', message: 'It is past.', instead: { date: '2026-12-03', time: '16:00' } }],
    }),
  );
  await user.click(screen.getByRole('button', { name: 'take Thu, Dec 3, 4:00 PM, their time' }));
  expect(change).toHaveBeenLastCalledWith({ when: { kind: 'at', date: '2026-12-03', time: '16:00', own: true } });
});

test('a pace: so many a minute, or evenly until two hours after the first', () => {
  const { unmount } = pane(draftOf());
  choose('Pace', 'so many a minute');
  expect(change).toHaveBeenLastCalledWith({ pace: { kind: 'a_minute', texts: 30 } });
  choose('Pace', 'evenly until');
  expect(change).toHaveBeenLastCalledWith({ pace: { kind: 'until', date: '2026-12-02', time: '19:30' } });
  unmount();
  pane(draftOf({ pace: { kind: 'a_minute', texts: 30 } }));
  const field = screen.getByLabelText('Texts a minute');
  fireEvent.change(field, { target: { value: '45' } });
  expect(change).toHaveBeenLastCalledWith({ pace: { kind: 'a_minute', texts: 45 } });
  change.mockReset();
  fireEvent.change(field, { target: { value: '0' } });
  fireEvent.change(field, { target: { value: '' } });
  expect(change).not.toHaveBeenCalled();
});

test('days and hours in which it may go: some day always remains', async () => {
  const user = userEvent.setup();
  const { unmount } = pane(draftOf());
  await user.click(screen.getByRole('button', { name: 'no other hours' }));
  expect(change).toHaveBeenLastCalledWith({ allowed: { days: [1, 2, 3, 4, 5], from: '09:00', to: '18:00' } });
  unmount();
  pane(draftOf({ allowed: { days: [1], from: '09:00', to: '18:00' } }));
  change.mockReset();
  await user.click(screen.getByRole('button', { name: 'Monday' }));
  expect(change).not.toHaveBeenCalled();
  await user.click(screen.getByRole('button', { name: 'Saturday' }));
  expect(change).toHaveBeenLastCalledWith({ allowed: { days: [1, 6], from: '09:00', to: '18:00' } });
  // what only some hours allow may wait for a weekend to pass
  expect(screen.getByRole('button', { name: '4 days later' })).toBeTruthy();
});

test('a hint is put aside with the broadcast, and shown again; what must be fixed stays', async () => {
  const user = userEvent.setup();
  const plan = planOf({
    must_fix: [{ place: 'words', check: 'no words', message: 'There are no words yet.' }],
    hints: [
      { place: 'words', check: 'who it is from', message: 'It does not say who it is from.' },
      { place: 'when', check: 'quiet hours', message: 'Two people are in quiet hours.' },
    ],
  });
  const { unmount } = tally(plan);
  await user.click(screen.getByRole('button', { name: 'Put aside: It does not say who it is from.' }));
  expect(change).toHaveBeenLastCalledWith({ dismissed: ['who it is from'] });
  expect(screen.queryByRole('button', { name: /Put aside: There are no words/ })).toBeNull();
  unmount();
  tally(plan, false, draftOf({ dismissed: ['who it is from', 'no words'] }));
  expect(screen.queryByText('It does not say who it is from.')).toBeNull();
  expect(screen.getByText('There are no words yet.')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'one hint put aside, show it' }));
  expect(change).toHaveBeenLastCalledWith({ dismissed: undefined });
});

test('a notice that cannot wait goes at any hour only with a reason; without one quiet hours hold, and they can hold it again', async () => {
  const user = userEvent.setup();
  pane(draftOf());
  await user.click(screen.getByRole('button', { name: 'it cannot wait' }));
  expect(change).not.toHaveBeenCalled();
  expect(screen.getByText('Say why; until then they hold.')).toBeDefined();
  await user.type(screen.getByLabelText('Why it cannot wait'), 'ice');
  expect(change).toHaveBeenLastCalledWith({ urgent: undefined });
  await user.type(screen.getByLabelText('Why it cannot wait'), ' on the quay');
  expect(change).toHaveBeenLastCalledWith({ urgent: 'ice on the quay' });
  await user.click(screen.getByRole('button', { name: 'let quiet hours hold it' }));
  expect(change).toHaveBeenLastCalledWith({ urgent: undefined });
  cleanup();
  pane(draftOf({ purpose: 'marketing' }));
  expect(screen.queryByRole('button', { name: 'it cannot wait' })).toBeNull();
});

test('where there is no room for the remarks, how many there are leads to them', async () => {
  const user = userEvent.setup();
  const hint = { check: 'who it is from', place: 'words' as const, message: 'The text does not say who it is from (Ottermere).' };
  tally(planOf({ must_fix: [], hints: [hint] }));
  await user.click(screen.getByRole('button', { name: 'one hint' }));
  const sheet = within(await screen.findByRole('dialog', { name: 'Remarks' }));
  await user.click(sheet.getByRole('button', { name: `Put aside: ${hint.message}` }));
  expect(change).toHaveBeenLastCalledWith({ dismissed: ['who it is from'] });
});

test('shown at once is chosen, and taken back to a text as any other', () => {
  pane(draftOf());
  choose('How phones show it', 'show it at once');
  expect(change).toHaveBeenLastCalledWith({ show_at_once: true });
  cleanup();
  pane(draftOf({ show_at_once: true }));
  choose('How phones show it', 'keep it');
  expect(change).toHaveBeenLastCalledWith({ show_at_once: undefined });
});
