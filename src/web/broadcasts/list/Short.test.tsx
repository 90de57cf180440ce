import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { refusal, serve, show } from '../../testing';
import Short from './Short';
import { broadcastOf, draftOf, planOf } from '../testing';

vi.mock('../words/Editor', () => ({ Editor: () => <div /> }));
const DIGEST = 'd'.repeat(64);
const proof = (name: string, number: string, text: string) => ({
  kind: 'usual',
  people: 1,
  person_id: 1,
  name,
  number,
  text,
  parts: 1,
  cost_micro: 7500,
  after: null,
  alphabet: 'gsm7',
  due: '2026-12-02T20:51:00.000Z',
  zone: 'America/New_York',
  zone_guessed: false,
  language: 'en',
});
/** When it is at the desk of the tests. */
const NOW = '2026-12-02T20:50:00.000Z';
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
const open = (draft: Partial<Draft> = {}, plan: Partial<PlanSummary> = {}) => {
  answers = {
    'GET /api/broadcasts/32': broadcastOf({ draft: draftOf({ when: { kind: 'now' }, ...draft }) }),
    'POST /api/broadcasts/32/plan': {
      plan: planOf({ people: 2, parts: 2, cost_micro: 15_000, first: NOW, ...plan }),
      digest: DIGEST,
    },
    'POST /api/broadcasts/32/proofs': {
      total: 2,
      proofs: [proof('Ana', '+12075550101', 'Ana, it is off.'), proof('Leo', '+12075550102', 'Leo, it is off.')],
    },
    'POST /api/broadcasts/32/here': { others: [] },
    'GET /api/people/sources': { lists: [{ id: 3, name: 'Berth holders', people: 2 }], tags: [], segments: [], fields: [] },
    'POST /api/broadcasts/32/press': { run_id: 9 },
    'GET /api/prepared-texts': { texts: [], total: 0 },
  };
  server = serve(answers);
  return show(<Short />, '/broadcasts/32/short', '/broadcasts/:id/short');
};
const pressed = () => server.asked.filter(({ call }) => call.endsWith('/press'));

test('every text stands there as it goes, and one press sends the very plan that is shown', async () => {
  const user = userEvent.setup();
  const { router } = open();
  await screen.findByText('Ana, it is off.');
  await screen.findByText('Leo, it is off.');
  await user.click(screen.getByRole('button', { name: 'Send to 2 people now' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/runs/9'));
  expect(pressed()).toMatchObject([{ body: { version: 7, digest: DIGEST } }]);
});

test('at night the button says the hour at which it goes, and not now', async () => {
  open({}, { first: '2026-12-03T13:00:00.000Z' });
  await screen.findByRole('button', { name: /^Send to 2 people at\sThu, Dec 3, 8:00 AM$/ });
});

test('when the world has moved nothing goes; it is counted anew, and the next press is another', async () => {
  const user = userEvent.setup();
  open();
  answers['POST /api/broadcasts/32/press'] = refusal(409, 'Something has changed. Nothing was sent.');
  await user.click(await screen.findByRole('button', { name: 'Send to 2 people now' }));
  await screen.findByText('Something has changed. Nothing was sent.');
  answers['POST /api/broadcasts/32/press'] = { run_id: 9 };
  await user.click(screen.getByRole('button', { name: 'Send to 2 people now' }));
  await waitFor(() => expect(pressed()).toHaveLength(2));
  const ids = pressed().map(({ body }) => (body as { press_id: string }).press_id);
  expect(new Set(ids).size).toBe(2);
});

test.each<[string, Partial<Draft>, Partial<PlanSummary>]>([
  ['more than a dozen people', {}, { people: 13 }],
  ['codes', {}, { codes: { name: 'Winter', free: 9, needed: 2, exact: true } }],
  ['a time', { when: { kind: 'at', date: '2026-12-03', time: '09:00' } }, {}],
  ['words in another language', { translations: { fr: 'Il est à quai.' } }, {}],
])('%s are looked at in the last look, not sent from here', async (_what, draft, plan) => {
  const { router } = open(draft, plan);
  const user = userEvent.setup();
  expect(await screen.findByRole('button', { name: 'Last look' })).toBeDefined();
  expect(screen.queryByRole('button', { name: /^Send to/ })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Last look' }));
  await waitFor(() => expect(router.state.location.pathname).toBe('/broadcasts/32/last-look'));
});

test('texts of before are not sent from: a press before those of the plan are there sends nothing, and says so', async () => {
  const user = userEvent.setup();
  let answer: (() => void) | undefined;
  const { changed } = open();
  await screen.findByText('Ana, it is off.');
  // somebody is renamed: another plan, whose texts take their time
  answers['POST /api/broadcasts/32/plan'] = {
    plan: planOf({ people: 2, parts: 2, cost_micro: 15_001, first: NOW }),
    digest: 'e'.repeat(64),
  };
  answers['POST /api/broadcasts/32/proofs'] = () => new Promise((resolve) => (answer = () => resolve({ total: 2, proofs: [] })));
  await changed('people');
  await waitFor(() => expect(answer).toBeDefined());
  await user.click(screen.getByRole('button', { name: 'Counting…' }));
  await screen.findByText('It is being counted. Press when the texts stand above.');
  answer?.();
  await screen.findByText(/pressed before it was counted, and nothing went/);
  expect(pressed()).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Send to 2 people now' }));
  await waitFor(() => expect(pressed()).toMatchObject([{ body: { digest: 'e'.repeat(64) } }]));
});

test('what must be fixed stands there, and nothing can be sent', async () => {
  open({}, { must_fix: [{ place: 'words', check: 'no words', message: 'There are no words yet.' }] });
  await screen.findByText('There are no words yet.');
  expect(screen.getByRole('button', { name: 'Send to 2 people now' })).toHaveProperty('disabled', true);
});

test('a plan that could not be made is said, not waited for, and is asked for again by a press', async () => {
  const user = userEvent.setup();
  open();
  answers['POST /api/broadcasts/32/plan'] = refusal(500, 'Something went wrong here.');
  await user.click(await screen.findByRole('button', { name: 'Load it again' }));
  expect(screen.queryByText('Counting…')).toBeNull();
  answers['POST /api/broadcasts/32/plan'] = { plan: planOf({ people: 2, first: NOW }), digest: DIGEST };
  await user.click(await screen.findByRole('button', { name: 'Load it again' }));
  await screen.findByRole('button', { name: 'Send to 2 people now' });
});

test('typed numbers go to it as to any other', async () => {
  const user = userEvent.setup();
  open({ to: [] });
  answers['GET /api/outcomes'] = { runs: [], total: 0 };
  answers['PUT /api/broadcasts/32'] = { version: 8, updated_at: NOW };
  answers['POST /api/numbers/read'] = { numbers: ['+12075550188'], wrong: [], twice: 0, left: 0 };
  await user.click(await screen.findByRole('button', { name: 'Add' }));
  await user.click(await screen.findByRole('button', { name: 'Typed or pasted numbers…' }));
  await user.type(await screen.findByRole('textbox', { name: 'Numbers' }), '207 555 0188');
  await user.click(await screen.findByRole('button', { name: /^Add 1|^Reading/ }));
  await screen.findByText('+12075550188');
});
