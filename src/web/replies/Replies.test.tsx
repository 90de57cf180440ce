import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test, vi } from 'vitest';
import type { Conversation, Thread } from '../../core/api/desk/replies';
import { choose, refusal, serve, show } from '../testing';
import Replies from './Replies';
import { conversation, theirs, threadOf } from './testing';

// jsdom has no layout, which CodeMirror needs: a plain field stands for it
vi.mock('../broadcasts/words/Editor', () => ({
  Editor: ({ value, onChange }: { value: string; onChange: (value: string) => void }) => (
    <textarea aria-label="Answer" value={value} onChange={(event) => onChange(event.target.value)} />
  ),
}));
let waiting: Conversation[];
let threads: Record<string, Thread>;
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
const PIER = { name: 'Pier office', way: 'text', address: '+12075550150', any_hour: true };
const NUMBER = ['', '+12075550141', '+12075550142'];
const posts = () => server.asked.filter(({ call }) => call.startsWith('POST') && !call.endsWith('/proof'));
const field = () => screen.findByRole<HTMLTextAreaElement>('textbox', { name: 'Answer' });
beforeEach(() => {
  vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: vi.fn(), removeEventListener: vi.fn() }));
  waiting = [conversation(1), conversation(2)];
  threads = { [NUMBER[1]]: threadOf(1), [NUMBER[2]]: threadOf(2) };
  answers = {
    'GET /api/replies': () => ({ conversations: waiting, counts: { waiting: waiting.length, others: 0, later: 0 }, next: null }),
    'GET /api/replies/thread': (address: string) =>
      threads[new URLSearchParams(address.replace(/^.*\?/, '')).get('number') ?? ''],
    'GET /api/replies/desk': {
      accounts: [
        { id: 1, name: 'Ana Reyes' },
        { id: 2, name: 'Ben Holm' },
      ],
    },
    'POST /api/replies/proof': { text: 'as typed', parts: 1, cost_micro: 7500, problems: [] },
    'GET /api/people/sources': { lists: [], tags: [], segments: [], fields: [] },
    'GET /api/people/1': refusal(404, 'Nothing here.'),
    'GET /api/people/2': refusal(404, 'Nothing here.'),
    'GET /api/prepared-texts': { texts: [], total: 0 },
    'GET /api/passing': { rules: [], known: [PIER], mail: true, broadcasts: [] },
  };
  server = serve(answers);
});

test('the one who waits longest is open; an answer goes to them, to what was seen, and the next is there', async () => {
  const user = userEvent.setup();
  show(<Replies />);
  expect((await screen.findByRole('button', { name: 'Send to Person 1' })).hasAttribute('disabled')).toBe(true);
  await user.type(await field(), 'Yes, it runs.');
  answers['POST /api/replies/answer'] = () => {
    waiting = [conversation(2)];
    return {};
  };
  await user.click(screen.getByRole('button', { name: 'Send to Person 1' }));
  await screen.findByText('Sent to Person 1.');
  expect(posts()).toMatchObject([
    { call: 'POST /api/replies/answer', body: { number: NUMBER[1], words: 'Yes, it runs.', seen: 1, answered: 0 } },
  ]);
  await screen.findByRole('button', { name: 'Send to Person 2' });
  expect((await field()).value).toBe('');
});

test('words stay with whom they were typed to, also when somebody else was quicker', async () => {
  const user = userEvent.setup();
  const { changed } = show(<Replies />);
  await user.type(await field(), 'Yes');
  await user.click(screen.getByRole('button', { name: /Person 2/ }));
  await screen.findByRole('button', { name: 'Send to Person 2' });
  expect((await field()).value).toBe('');
  await user.click(screen.getByRole('button', { name: /Person 1/ }));
  await screen.findByRole('button', { name: 'Send to Person 1' });
  expect((await field()).value).toBe('Yes');
  waiting = [conversation(2)];
  threads[NUMBER[1]] = threadOf(1, {
    texts: [
      theirs(1, { waits: false }),
      { ...theirs(7), run_id: null, direction: 'to', kind: 'reply', body: 'It does.', by: 'Ben Holm', waits: false },
    ],
    answered: 7,
  });
  await changed('replies');
  await screen.findByText(/Nothing waits here any more/);
  await screen.findByText('It does.');
  expect((await field()).value).toBe('Yes');
  answers['POST /api/replies/answer'] = refusal(409, 'Ben has just answered: “No.”', { kept: 'Your words are still here.' });
  await user.click(screen.getByRole('button', { name: 'Send to Person 1' }));
  await screen.findByText('Ben has just answered: “No.” Your words are still here.');
  expect((await field()).value).toBe('Yes');
  expect(posts().at(-1)).toMatchObject({ body: { answered: 7 } });
});

test('claimed, passed on, taken over: each with who had it as it was seen', async () => {
  const user = userEvent.setup();
  const { changed } = show(<Replies />);
  answers['POST /api/replies/claim'] = {};
  await user.click(await screen.findByRole('button', { name: 'Claim it' }));
  await screen.findByText('It is yours.');
  threads[NUMBER[1]] = threadOf(1, { claimed_by: { id: 2, name: 'Ben Holm' } });
  await changed('replies');
  await screen.findByText('Ben Holm has claimed this.');
  await user.click(await screen.findByRole('button', { name: 'Take it over from Ben Holm' }));
  await user.click(screen.getByRole('button', { name: 'Pass on…' }));
  await user.click(await screen.findByRole('menuitem', { name: 'to nobody: it waits for everyone' }));
  await waitFor(() => expect(posts()).toHaveLength(3));
  expect(posts().map(({ body }) => body)).toEqual([
    { number: NUMBER[1], account_id: 1, from: null },
    { number: NUMBER[1], account_id: 1, from: 2 },
    { number: NUMBER[1], account_id: null, from: 2 },
  ]);
});

test('given to somebody without an account: to one known before with one press, to another by text or mail', async () => {
  const user = userEvent.setup();
  show(<Replies />);
  const gave = () => posts().map(({ call, body }) => [call, body]);
  answers['POST /api/passing/conversation'] = { passed: 1 };
  await user.click(await screen.findByRole('button', { name: 'Pass on…' }));
  await user.click(await screen.findByRole('menuitem', { name: 'to Pier office, by text: +1 207 555 0150' }));
  await screen.findByText(/^Passed on to Pier office, as is what they write within a week\./);
  await user.click(screen.getByRole('button', { name: 'Pass on…' }));
  await user.click(await screen.findByRole('menuitem', { name: 'to somebody by text or mail…' }));
  await user.type(await screen.findByRole('textbox', { name: 'Who' }), 'Harbor');
  choose('How', 'by mail');
  answers['POST /api/passing/conversation'] = refusal(422, 'That is not one e-mail address.', { place: 'address' });
  await user.type(screen.getByRole('textbox', { name: 'E-mail address' }), 'harbor');
  await user.click(screen.getByRole('button', { name: 'Pass it on' }));
  await screen.findByText('That is not one e-mail address.');
  const to = { number: NUMBER[1], name: 'Harbor', way: 'mail', address: 'harbor', any_hour: false };
  expect(gave()).toEqual([
    ['POST /api/passing/conversation', { ...PIER, number: NUMBER[1] }],
    ['POST /api/passing/conversation', to],
  ]);
});

test('put away until a time, or for good; the next one comes', async () => {
  const user = userEvent.setup();
  show(<Replies />);
  answers['POST /api/replies/put-away'] = () => {
    waiting = waiting.slice(1);
    return {};
  };
  await user.click(await screen.findByRole('button', { name: 'Until later…' }));
  await user.click(await screen.findByRole('menuitem', { name: /^tomorrow morning/ }));
  await screen.findByRole('button', { name: 'Send to Person 2' });
  await user.click(screen.getByRole('button', { name: 'No answer needed' }));
  await screen.findByText('Nobody waits for an answer');
  expect(posts().map(({ body }) => body)).toEqual([
    { number: NUMBER[1], seen: 1, until: '2026-12-03T13:00:00.000Z' },
    { number: NUMBER[2], seen: 2, until: null },
  ]);
});

test('what may mean stop offers both; a wrong number is asked about once more, and leaving it does nothing', async () => {
  const user = userEvent.setup();
  waiting = [conversation(1, { doubtful: 'Question 1?' })];
  threads[NUMBER[1]] = threadOf(1, { texts: [theirs(1, { kind: 'maybe_stop' })] });
  answers['POST /api/replies/not-a-stop'] = {};
  answers['POST /api/replies/opt-out'] = {};
  show(<Replies />);
  await user.click(await screen.findByRole('button', { name: 'It does not' }));
  await user.click(await screen.findByRole('button', { name: 'It means stop' }));
  await user.click(await screen.findByRole('button', { name: 'Wrong number' }));
  await user.click(screen.getByRole('button', { name: 'Leave it' }));
  await user.click(screen.getByRole('button', { name: 'Wrong number' }));
  await user.click(await screen.findByRole('button', { name: 'It is a wrong number' }));
  await waitFor(() => expect(posts()).toHaveLength(3));
  expect(posts().map(({ body }) => body)).toEqual([
    { number: NUMBER[1], seen: 1 },
    { number: NUMBER[1], wrong_number: false },
    { number: NUMBER[1], wrong_number: true },
  ]);
});

test('whoever opted out cannot be answered; what cannot be put in is said and not sent', async () => {
  const user = userEvent.setup();
  const { changed } = show(<Replies />);
  answers['POST /api/replies/proof'] = { text: '', parts: 1, cost_micro: 7500, problems: ['There is no field “quay”.'] };
  await user.type(await field(), 'From {{quay}.');
  await screen.findByText('There is no field “quay”.');
  expect(screen.getByRole('button', { name: 'Send to Person 1' }).hasAttribute('disabled')).toBe(true);
  threads[NUMBER[1]] = threadOf(1, { opted_out: true });
  await changed('replies');
  await screen.findByText('They opted out and cannot be texted.');
  expect(screen.queryByRole('textbox', { name: 'Answer' })).toBeNull();
});
