// @vitest-environment jsdom
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Reply } from '../../core/api/replies';
import { refusal, serve, show } from '../testing';
import Replies from './Replies';

const reply = (id: number, part: Partial<Reply> = {}): Reply => ({
  id,
  received_at: '2026-12-02T20:10:00.000Z',
  number: `+1207555014${id}`,
  body: `Question ${id}?`,
  kind: 'reply',
  person_id: id,
  given_name: 'Person',
  family_name: String(id),
  run: 'Fog',
  run_id: 4,
  done_at: null,
  opted_out: false,
  incomplete: false,
  trouble: null,
  ...part,
});
let waiting: Reply[];
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
const posts = () => server.asked.filter(({ call }) => call.startsWith('POST'));
beforeEach(() => {
  vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: vi.fn(), removeEventListener: vi.fn() }));
  waiting = [reply(1), reply(2)];
  answers = {
    'GET /api/replies': () => ({ replies: waiting }),
    'GET /api/people/1': refusal(404, 'Nothing here.'),
    'GET /api/people/2': refusal(404, 'Nothing here.'),
  };
  server = serve(answers);
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

test('the one who waits longest is open; an answer goes to them, once, and the next is there', async () => {
  const user = userEvent.setup();
  show(<Replies />);
  const field = await screen.findByRole('textbox', { name: 'Answer Person 1' });
  expect(screen.getByRole('button', { name: 'Send' })).toHaveProperty('disabled', true);
  await user.type(field, 'Yes, it runs.');
  answers['POST /api/people/1/text'] = () => {
    waiting = [reply(2)];
    return { id: 9 };
  };
  await user.click(screen.getByRole('button', { name: 'Send' }));
  await screen.findByText('Sent to Person 1.');
  expect(posts()).toEqual([{ call: 'POST /api/people/1/text', body: { words: 'Yes, it runs.' } }]);
  const next = await screen.findByRole('textbox', { name: 'Answer Person 2' });
  expect(next).toHaveProperty('value', '');
});

test('words stay with whom they were typed to, also when somebody else was quicker', async () => {
  const user = userEvent.setup();
  const { changed } = show(<Replies />);
  await user.type(await screen.findByRole('textbox', { name: 'Answer Person 1' }), 'Yes');
  // looked at another meanwhile
  await user.click(screen.getByRole('button', { name: /Person 2/ }));
  expect(await screen.findByRole('textbox', { name: 'Answer Person 2' })).toHaveProperty('value', '');
  await user.click(screen.getByRole('button', { name: /Person 1/ }));
  expect(await screen.findByRole('textbox', { name: 'Answer Person 1' })).toHaveProperty('value', 'Yes');
  await user.type(screen.getByRole('textbox', { name: 'Answer Person 1' }), ', it');
  waiting = [reply(2)];
  await changed('replies');
  await screen.findByText(/Somebody has answered this or put it away meanwhile/);
  expect(screen.getByRole('textbox', { name: 'Answer Person 1' })).toHaveProperty('value', 'Yes, it');
  // what is typed on does not go to whoever came into the place
  await user.type(screen.getByRole('textbox', { name: 'Answer Person 1' }), ' runs.{Enter}');
  await waitFor(() => expect(posts()).toEqual([{ call: 'POST /api/people/1/text', body: { words: 'Yes, it runs.' } }]));
});

test('a refused answer keeps its words and says why', async () => {
  const user = userEvent.setup();
  answers['POST /api/people/1/text'] = refusal(409, 'It is night where they are.', { act: 'Try after 8:00 AM.' });
  show(<Replies />);
  await user.type(await screen.findByRole('textbox', { name: 'Answer Person 1' }), 'Yes{Enter}');
  await screen.findByText('It is night where they are. Try after 8:00 AM.');
  expect(screen.getByRole('textbox', { name: 'Answer Person 1' })).toHaveProperty('value', 'Yes');
});

test('a wrong number is asked about once more, and leaving it does nothing', async () => {
  const user = userEvent.setup();
  show(<Replies />);
  await user.click(await screen.findByRole('button', { name: 'Wrong number' }));
  await screen.findByText(/It is taken off Person 1, goes on the do-not-text register/);
  await user.click(screen.getByRole('button', { name: 'Leave it' }));
  expect(posts()).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Wrong number' }));
  await user.click(await screen.findByRole('button', { name: 'It is a wrong number' }));
  await waitFor(() => expect(posts()).toEqual([{ call: 'POST /api/replies/1/opt-out', body: { wrong_number: true } }]));
});

test('whoever opted out cannot be answered; what may mean stop says so', async () => {
  waiting = [reply(1, { opted_out: true, kind: 'stop' }), reply(2, { kind: 'maybe_stop' })];
  show(<Replies />);
  await screen.findByText('They opted out and cannot be texted.');
  expect(screen.queryByRole('textbox', { name: /^Answer/ })).toBeNull();
  expect(screen.getByText('may mean stop')).toBeDefined();
});
