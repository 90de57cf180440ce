import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import { refusal, serve, show } from '../../testing';
import LastLook from './LastLook';
import { broadcastOf, draftOf, planOf } from '../testing';

let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = {
    'GET /api/broadcasts/32': broadcastOf(),
    'POST /api/broadcasts/32/plan': { plan: planOf(), digest: 'first-digest' },
    'POST /api/broadcasts/32/press': { run_id: 4 },
  };
  server = serve(answers);
});
const open = () => show(<LastLook />, '/broadcasts/32/last-look', '/broadcasts/:id/last-look');
const presses = () =>
  server.asked
    .filter(({ call }) => call.endsWith('/press'))
    .map(({ body }) => body as { version: number; digest: string; press_id: string });
const button = (name: RegExp) => screen.findByRole('button', { name });

test('says whom, when, what it costs and who is left out, and the button says the same', async () => {
  open();
  await button(/^Send to 41 people at\s5:30 PM$/);
  const words = document.body.textContent;
  expect(words).toContain('From Ferry desk, 72345, which takes replies, to 41 people, at 5:30 PM; the last one goes at 5:32 PM');
  expect(words).toContain('4 of 45 will not get it: 4 opted out.');
  expect(words).toMatch(/cost\$0\.31/);
  expect(words).toMatch(/balance after\$9\.69/);
});

test('the press sends the digest and the version that were shown, and goes to the run', async () => {
  const user = userEvent.setup();
  const { router } = open();
  await user.dblClick(await button(/^Send to/));
  await waitFor(() => expect(router.state.location.pathname).toBe('/runs/4'));
  expect(presses()).toMatchObject([{ version: 7, digest: 'first-digest' }]);
});

test('if the world has moved nothing goes: what is new is shown, said, and is another press', async () => {
  const user = userEvent.setup();
  answers['POST /api/broadcasts/32/press'] = refusal(409, 'Something has changed since you looked. Nothing was sent.');
  open();
  await button(/^Send to 41 people/);
  answers['POST /api/broadcasts/32/plan'] = {
    plan: planOf({ people: 40, dropped: { ...planOf().dropped, opted_out: 5 } }),
    digest: 'second-digest',
  };
  await user.click(await button(/^Send to 41 people/));
  await screen.findByText('Something has changed since you looked. Nothing was sent.');
  expect(screen.getByText('people 40 (41 before), opted out 5 (4 before)')).toBeTruthy();
  answers['POST /api/broadcasts/32/press'] = { run_id: 4 };
  await user.click(await button(/^Send to 40 people/));
  await waitFor(() => expect(presses()).toHaveLength(2));
  const [before, after] = presses();
  expect([before.digest, after.digest]).toEqual(['first-digest', 'second-digest']);
  expect(after.press_id).not.toBe(before.press_id);
});

test('a press whose answer was lost is the same press when it is pressed again', async () => {
  const user = userEvent.setup();
  answers['POST /api/broadcasts/32/press'] = new TypeError('broken line');
  open();
  await user.click(await button(/^Send to/));
  await screen.findByText(/The server cannot be reached just now/);
  answers['POST /api/broadcasts/32/press'] = { run_id: 4 };
  await user.click(await button(/^Send to/));
  await waitFor(() => expect(presses()).toHaveLength(2));
  expect(presses()[1]).toEqual(presses()[0]);
});

test('what must be fixed keeps the button from being pressed', async () => {
  answers['POST /api/broadcasts/32/plan'] = {
    plan: planOf({ must_fix: [{ place: 'cost', check: 'balance', message: 'The balance does not cover it.' }] }),
    digest: 'd',
  };
  open();
  await screen.findByText('The balance does not cover it.');
  expect(await button(/^Send to/)).toHaveProperty('disabled', true);
});

test('what goes now says how long it can be taken back', async () => {
  answers['GET /api/broadcasts/32'] = broadcastOf({ draft: draftOf({ when: { kind: 'now' } }) });
  // a plan is some seconds old when it is looked at
  answers['POST /api/broadcasts/32/plan'] = { plan: planOf({ first: '2026-12-02T20:49:50.000Z' }), digest: 'first-digest' };
  open();
  await button(/^Send to 41 people now$/);
  expect(document.body.textContent).toContain('for 8 seconds after, you can take it back');
});

test('what is to go now and waits for an hour says the hour, and that it can be taken back until then', async () => {
  answers['GET /api/broadcasts/32'] = broadcastOf({ draft: draftOf({ when: { kind: 'now' } }) });
  open();
  await button(/^Send to 41 people at\s5:30 PM$/);
  expect(document.body.textContent).toContain('to 41 people, at 5:30 PM');
  expect(document.body.textContent).toContain('Until then you can take it back.');
});

test('with each import: the list is named', async () => {
  answers['GET /api/broadcasts/32'] = broadcastOf({ draft: draftOf({ when: { kind: 'import', list_id: 7 } }) });
  answers['GET /api/people/sources'] = {
    everyone: 45,
    lists: [{ id: 7, name: 'Parents, Pike', people: 45, filling: false, leave_after: 3 }],
    tags: [],
    segments: [],
  };
  open();
  await button(/^Send it with each import$/);
  await screen.findByText(/whenever people have been brought into “Parents, Pike”/);
});

test('says what it is before anything is counted, and where it cannot be', async () => {
  answers['POST /api/broadcasts/32/plan'] = refusal(500, 'It could not be counted just now.');
  open();
  await screen.findByText('It could not be counted just now.');
  expect(screen.getByRole('heading', { level: 1, name: 'Last look' })).toBeTruthy();
  answers['POST /api/broadcasts/32/plan'] = { plan: planOf(), digest: 'first-digest' };
  await userEvent.setup().click(await button(/Load it again/));
  await button(/^Send to 41 people/);
});

test('gone back to after the press it offers no second one, but what there is: the run', async () => {
  answers['GET /api/broadcasts/32'] = broadcastOf({ state: 'ended', name: 'Heron' });
  answers['GET /api/people/sources'] = { lists: [], tags: [], segments: [], fields: [] };
  open();
  await screen.findByRole('heading', { level: 1, name: 'Heron' });
  expect(screen.queryByRole('button', { name: /^Send to/ })).toBeNull();
  expect(screen.getByRole('button', { name: 'Copy it' })).toBeTruthy();
});
