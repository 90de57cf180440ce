import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import type { Draft } from '../../../core/plan/draft/draft';
import { broadcastOf, draftOf, planOf } from '../testing';
import { choose, serve, show } from '../../testing';
import When from './When';

const DAY = { runs: [], coming: [], next: null, sending: null };
/** Opens When for a draft; answers what was saved last. */
async function open(draft: Partial<Draft> = {}, plan: Parameters<typeof planOf>[0] | Promise<unknown> = {}) {
  let version = 7;
  const { asked } = serve({
    'GET /api/broadcasts/32': broadcastOf({ draft: draftOf(draft) }),
    'POST /api/broadcasts/32/plan': plan instanceof Promise ? plan : { plan: planOf(plan), digest: '' },
    'POST /api/broadcasts/32/here': { others: [] },
    'PUT /api/broadcasts/32': () => ({ version: (version += 1), updated_at: '2026-12-02T20:51:00.000Z' }),
    'GET /api/people/sources': { lists: [{ id: 3, name: 'Berth holders', people: 40 }], tags: [], segments: [], fields: [] },
    'GET /api/day': DAY,
  });
  const { router } = show(<When />, '/broadcasts/32/when', '/broadcasts/:id/when');
  await screen.findByRole('group', { name: 'When' });
  const saved = async (check: (when: Draft['when'], draft: Draft) => void) =>
    waitFor(() => {
      const last = asked.filter(({ call }) => call === 'PUT /api/broadcasts/32').at(-1)?.body as { draft: Draft } | undefined;
      expect(last).toBeDefined();
      if (last) check(last.draft.when, last.draft);
    });
  return { saved, router, user: userEvent.setup() };
}
const dates = () =>
  within(screen.getByRole('region', { name: 'What comes' }))
    .getAllByText(/^\w{3}, \w{3} \d+$/)
    .map((each) => each.textContent);

test('again and again begins with the day and hour that were said; its dates stand beside it, with the last year they need', async () => {
  const { user, saved } = await open();
  await user.click(screen.getByRole('button', { name: 'again and again' }));
  await saved((when) =>
    expect(when).toMatchObject({ kind: 'at', date: '2026-12-02', time: '17:30', repeats: { every: 'week', n: 1, days: [3] } }),
  );
  expect(dates().slice(0, 3)).toEqual(['Wed, Dec 2', 'Wed, Dec 9', 'Wed, Dec 16']);
});

const MONTHLY: Draft['when'] = {
  kind: 'at',
  date: '2026-12-02',
  time: '17:30',
  repeats: { every: 'month', n: 1, on: { week: 1, day: 1 }, times: 6 },
};

test('a sentence of values: how often, which of the month, until when, and what waits', async () => {
  const { saved } = await open({ when: MONTHLY });
  expect(dates()).toEqual(['Mon, Dec 7', 'Mon, Jan 4', 'Mon, Feb 1', 'Mon, Mar 1', 'Mon, Apr 5', 'Mon, May 3']);
  choose('Which of the month', 'last');
  await saved((when) => expect(when).toMatchObject({ repeats: { on: { week: -1, day: 1 } } }));
  choose('Which weekday', 'day of the month');
  await saved((when) => expect(when).toMatchObject({ repeats: { on: 'last_day' } }));
  choose('How often', 'other week');
  await saved((when) => expect(when).toMatchObject({ repeats: { every: 'week', n: 2, days: [3] } }));
  choose('Until when', 'and it goes on');
  choose('What differs much waits for somebody', /more than half/);
  await saved((when) => {
    expect(when).toMatchObject({ repeats: { wait: 50 } });
    expect(when.kind === 'at' && when.repeats?.times).toBeUndefined();
  });
});

test('a date is skipped and let go again; the one after it says how many', async () => {
  const { user, saved } = await open({ when: MONTHLY });
  await user.click(screen.getByRole('button', { name: 'Skip Mon, Jan 4' }));
  await saved((when) => expect(when).toMatchObject({ repeats: { skip: ['2027-01-04'] } }));
  expect(dates()).not.toContain('Mon, Jan 4');
  await user.click(screen.getByRole('button', { name: 'let it go: Mon, Jan 4' }));
  await waitFor(() => expect(dates()).toContain('Mon, Jan 4'));
});

test('an hour that is skipped or comes twice on a date is said there', async () => {
  await open({ when: { kind: 'at', date: '2027-03-13', time: '02:30', repeats: { every: 'day', n: 1, times: 3 } } });
  expect(screen.getByText('that hour is skipped that day').parentElement?.textContent).toContain('Sun, Mar 14, 2027 3:30 AM');
});

test('whoever is there then, with a ceiling; and whenever one says so', async () => {
  const { user, saved } = await open();
  await screen.findByText('the 41 people of now');
  choose('Who is meant', 'whoever is there then');
  await saved((when) => expect(when).toMatchObject({ current: { most: 46 } }));
  await user.click(screen.getByRole('button', { name: 'whenever I say' }));
  await saved((when) => expect(when).toEqual({ kind: 'now', again: true }));
  await user.click(screen.getByRole('button', { name: 'with each import' }));
  await saved((when) => expect(when).toEqual({ kind: 'import', list_id: 3 }));
});

test('while it is being counted no press is lost: a ceiling is set when it is, and the last look counts for itself', async () => {
  let counted: (plan: unknown) => void = () => undefined;
  const { user, saved, router } = await open({}, new Promise((resolve) => (counted = resolve)));
  choose('Who is meant', 'whoever is there then');
  expect(screen.getByRole('combobox', { name: 'Who is meant', hidden: true }).textContent).toBe('whoever is there then');
  counted({ plan: planOf(), digest: '' });
  await saved((when) => expect(when).toMatchObject({ current: { most: 46 } }));
  await user.click(screen.getByRole('button', { name: 'Last look' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/32/last-look'));
});

test('the picture: the edges are moved with the keyboard, the start by five minutes, the end to an evenly spread run', async () => {
  const { saved } = await open();
  const start = await screen.findByRole('slider', { name: 'Start' });
  expect(start.getAttribute('aria-valuetext')).toBe('5:30 PM');
  fireEvent.keyDown(start, { key: 'ArrowRight' });
  await saved((when) => expect(when).toMatchObject({ time: '17:35' }));
  fireEvent.keyDown(screen.getByRole('slider', { name: 'Evenly until' }), { key: 'PageUp' });
  await saved((_when, draft) => expect(draft.pace).toEqual({ kind: 'until', date: '2026-12-02', time: '18:35' }));
});

test('what must be fixed is said, with the time that could be taken, and there is no way to the last look', async () => {
  const { user, saved } = await open(
    {},
    {
      must_fix: [{ place: 'when', message: 'That time is past.', check: 'time', instead: { date: '2026-12-03', time: '08:00' } }],
    },
  );
  expect((await screen.findByRole('alert')).textContent).toContain('That time is past.');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Last look' }).disabled).toBe(true);
  await user.click(screen.getByRole('button', { name: /take Thu, Dec 3, 8:00 AM/ }));
  await saved((when) => expect(when).toMatchObject({ date: '2026-12-03', time: '08:00' }));
});
