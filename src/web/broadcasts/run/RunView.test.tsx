import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { RunAnswer } from '../../../core/api/sending/runs';
import { refusal, serve, show } from '../../testing';
import RunView from './RunView';
import { broadcastOf, runOf } from '../testing';

let answer: RunAnswer;
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = {
    'GET /api/runs/4': () => answer,
    'GET /api/runs/4/recipients': { recipients: [] },
    'GET /api/runs/4/tally': { choices: [] },
    'GET /api/session/layouts': {},
    'GET /api/broadcasts/32': broadcastOf({ state: 'draft', run: null }),
    'POST /api/broadcasts/32/set-aside': {},
    'POST /api/runs/4/pause': {},
    'POST /api/runs/4/resume': {},
    'POST /api/runs/4/cancel-rest': {},
  };
  server = serve(answers);
});
const open = (now: RunAnswer) => {
  answer = now;
  return show(<RunView />, '/runs/4', '/runs/:id');
};
const posts = () => server.asked.filter(({ call }) => call.startsWith('POST'));

test('while it can be taken back that is the loudest thing, and it becomes a draft again', async () => {
  const user = userEvent.setup();
  const { router } = open(runOf({ due_at: '2026-12-02T20:50:09.000Z' }, { planned: 41 }));
  const place = await screen.findByRole('region', { name: 'It can still be taken back' });
  expect(place.textContent).toMatch(/^\d s/);
  expect(place.textContent).toContain('until the first of 41 goes');
  await user.click(within(place).getByRole('button', { name: 'Take it back' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/32'));
  expect(posts()).toEqual([{ call: 'POST /api/broadcasts/32/set-aside', body: { as: 'draft' } }]);
});

test('while its plan is written it can be called off, and how far that is stands there', async () => {
  open(runOf({ state: 'planning', stored: 12 }, {}));
  await screen.findByText('12 of 41 texts are written down; nothing has gone');
  expect(screen.getByRole('button', { name: 'Call it off' })).toBeDefined();
});

test('taken back too late: the page says so and stays', async () => {
  const user = userEvent.setup();
  answers['POST /api/broadcasts/32/set-aside'] = refusal(409, 'The first texts have gone. Pause it, or cancel the rest.');
  const { router } = open(runOf({}, { planned: 41 }));
  await user.click(await screen.findByRole('button', { name: 'Take it back' }));
  await screen.findByText('The first texts have gone. Pause it, or cancel the rest.');
  expect(router.state.location.pathname).toBe('/runs/4');
});

test('while it goes it is paused, goes on with the rest, or the rest is canceled', async () => {
  const user = userEvent.setup();
  const sending = { started_at: '2026-12-02T20:45:00.000Z' };
  const { changed } = open(runOf({ state: 'sending', ...sending }, { delivered: 30, planned: 11 }));
  await user.click(await screen.findByRole('button', { name: 'Pause' }));
  answer = runOf({ state: 'paused', ...sending }, { delivered: 31, planned: 10 });
  await changed('run');
  expect(screen.queryByRole('button', { name: 'Pause' })).toBeNull();
  await user.click(await screen.findByRole('button', { name: 'Go on with 10' }));
  await user.click(screen.getByRole('button', { name: 'Cancel the other 10' }));
  await waitFor(() =>
    expect(posts().map(({ call }) => call)).toEqual([
      'POST /api/runs/4/pause',
      'POST /api/runs/4/resume',
      'POST /api/runs/4/cancel-rest',
    ]),
  );
  // nothing can be taken back any more
  expect(screen.queryByRole('region', { name: 'It can still be taken back' })).toBeNull();
});

test('nothing comes or goes at the right of Pause while it goes: a press meant for it never meets what cannot be undone', async () => {
  const sending = { state: 'sending', started_at: '2026-12-02T20:45:00.000Z' } as const;
  const acts = () => {
    const names = screen.getAllByRole('button').map((each) => each.textContent);
    // the row is at the right: what stands behind it says where it is
    const row = names.slice(names.indexOf('Pause'));
    return row.slice(0, row.indexOf('Follow up') + 2);
  };
  const { changed } = open(runOf(sending, { planned: 341 }));
  await screen.findByRole('button', { name: 'Pause' });
  const before = acts();
  const later: Record<string, number>[] = [
    { with_carrier: 1, planned: 340 },
    { delivered: 242, planned: 99 },
    { delivered: 341 },
  ];
  for (const tally of later) {
    answer = runOf(sending, tally);
    await changed('run');
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Cancel the other 341' })).toBeNull());
    expect(acts()).toEqual(before);
  }
});

test('at its end it says what is still open, and why some did not get it', async () => {
  open(
    runOf(
      { state: 'finished', started_at: '2026-12-02T20:45:00.000Z', ended_at: '2026-12-02T20:47:00.000Z' },
      { delivered: 38, not_delivered: 2, with_carrier: 1 },
      { reasons: [{ state: 'not_delivered', reason: 'number does not exist', n: 2 }], money: { spent: 307_500, parts: 41 } },
    ),
  );
  await screen.findByText('all handed over; 1 with the carrier');
  const aside = screen.getByRole('complementary', { name: 'Reasons, answers, cost' });
  expect(aside.textContent).toContain('2 number does not exist');
  expect(screen.queryByText(/so far/)).toBeNull();
  expect(screen.getByRole('button', { name: 'Copy it' })).toBeDefined();
});

test('a run that never was says so, with a way on', async () => {
  answers['GET /api/runs/4'] = refusal(404, 'There is nothing at this address.');
  open(runOf({}, {}));
  await screen.findByRole('heading', { name: 'There is no such run' });
  expect(screen.getByRole('link', { name: 'all that went' }).getAttribute('href')).toBe('/outcomes');
});

test('a run that somebody else has taken back says so, with the way to its broadcast', async () => {
  const { changed } = open(runOf({}, { planned: 41 }));
  await screen.findByRole('region', { name: 'It can still be taken back' });
  answers['GET /api/runs/4'] = refusal(404, 'There is nothing at this address.');
  await changed('runs');
  await screen.findByRole('heading', { name: 'It was taken back' });
  expect(screen.getByRole('link', { name: 'Open the broadcast' }).getAttribute('href')).toBe('/broadcasts/32');
  expect(screen.queryByRole('button', { name: 'Take it back' })).toBeNull();
});

test('a run that the server planned anew for whoever is there now says so, with the way to it; it was not taken back', async () => {
  answers['GET /api/broadcasts/32'] = broadcastOf({
    state: 'scheduled',
    run: { id: 9, state: 'waiting', people: 44, due_at: '2026-12-02T22:30:00.000Z' },
  });
  const { changed } = open(runOf({}, { planned: 41 }));
  await screen.findByRole('region', { name: 'It can still be taken back' });
  answers['GET /api/runs/4'] = refusal(404, 'There is nothing here.');
  await changed('runs');
  await screen.findByText('It was planned anew');
  expect(screen.getByRole('link', { name: 'Open the run as it is now' }).getAttribute('href')).toBe('/runs/9');
  expect(screen.getByText(/whoever is there now: 44 people/)).toBeDefined();
});

test('its course stands in the order of time: agreed before it began, and its end last', async () => {
  const [agreed, began, paused, ended] = ['20:45:00', '22:30:00', '22:31:00', '22:40:00'].map(
    (time) => `2026-12-02T${time}.000Z`,
  );
  open(
    runOf(
      { state: 'finished', started_at: began, ended_at: ended },
      { delivered: 41 },
      {
        events: [
          { at: paused, what: 'paused', by: 'Ben Holm' },
          { at: agreed, what: 'agreed', by: 'Ana Reyes' },
        ],
      },
    ),
  );
  const course = (await screen.findByRole('heading', { name: 'Course' })).nextElementSibling;
  expect(course?.textContent).toMatch(/agreed, Ana Reyes.*began.*paused, Ben Holm.*ended/);
});

test('a reason says what it means; its people are taken off a list at once, undone, or written to again', async () => {
  const user = userEvent.setup();
  answers['POST /api/people/bulk'] = { id: 9, people: 7 };
  answers['POST /api/people/bulk/9/undo'] = { people: 7 };
  answers['POST /api/broadcasts'] = { id: 40 };
  const { router } = open(
    runOf(
      { state: 'finished', started_at: '2026-12-02T20:00:00.000Z' },
      { delivered: 30, not_delivered: 7, expired: 3, uncertain: 1 },
      {
        lists: [{ id: 3, name: 'Berth holders' }],
        reasons: [
          { state: 'not_delivered', reason: 'number does not exist', n: 7 },
          { state: 'expired', reason: 'the phone was off too long', n: 3 },
          { state: 'uncertain', reason: 'line broke before the carrier answered', n: 1 },
        ],
      },
    ),
  );
  await screen.findByText(/The number leads nowhere/);
  await user.click(screen.getByRole('button', { name: 'take off “Berth holders”' }));
  await screen.findByText('taken off “Berth holders”: 7 people.');
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() => expect(posts()).toHaveLength(2));
  expect(posts()[0].body).toMatchObject({
    filter: { run: '4', outcome: 'not_delivered', reason: 'number does not exist' },
    act: { kind: 'take_off', id: 3 },
  });
  // what may arrive twice is asked about once more
  await user.click(screen.getByRole('button', { name: 'send it again, may arrive twice' }));
  await user.click(await screen.findByRole('button', { name: 'Leave it' }));
  expect(posts()).toHaveLength(2);
  await user.click(screen.getByRole('button', { name: 'write to them again' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/40'));
  expect(posts().at(-1)?.body).toMatchObject({
    follow: { run_id: 4, outcome: 'not_delivered', reason: 'the phone was off too long', again: true },
  });
});
