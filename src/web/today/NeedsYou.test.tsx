import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { TodayAnswer } from '../../core/api/desk/today';
import { conversation } from '../replies/testing';
import { refusal, serve, show } from '../testing';
import { NeedsYou } from './NeedsYou';

const today = (part: Partial<TodayAnswer> = {}): TodayAnswer => ({
  replies: [],
  replies_waiting: 0,
  alarms: [],
  failing: [],
  uncertain: [],
  failed: [],
  missed: [],
  asking: [],
  coming: [],
  going: [],
  sent: [],
  imports: [],
  missing: [],
  ...part,
});
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = {
    'POST /api/replies/not-a-stop': {},
    'POST /api/replies/opt-out': {},
    'POST /api/alarms/3/seen': {},
    'POST /api/runs/4/agree': {},
    'POST /api/broadcasts/32/set-aside': {},
  };
  server = serve(answers);
});

test('where nothing waits it says so, and what would stand there', () => {
  show(<NeedsYou today={today()} />);
  expect(screen.getByText(/^Nothing waits for you\./)).toBeTruthy();
});

test('whether it means stop is decided on what they wrote then, though they have written since', async () => {
  const user = userEvent.setup();
  const last = { id: 9, at: '2026-12-02T20:30:00.000Z', body: 'and the dog?', kind: 'reply' };
  show(<NeedsYou today={today({ replies: [conversation(1, { doubtful: 'Enough of this', last })], replies_waiting: 1 })} />);
  expect(screen.getByText('A reply waits for an answer')).toBeTruthy();
  expect(document.body.textContent).toContain('“and the dog?”');
  expect(document.body.textContent).toContain('“Enough of this” may mean stop');
  await user.click(screen.getByRole('button', { name: 'It does not' }));
  await user.click(screen.getByRole('button', { name: 'Never text this number' }));
  expect(server.acts()).toEqual([
    ['POST /api/replies/not-a-stop', { number: '+12075550141', seen: 9 }],
    ['POST /api/replies/opt-out', { number: '+12075550141', wrong_number: false }],
  ]);
});

test('what was written last is not said twice where it is what may mean stop', () => {
  show(<NeedsYou today={today({ replies: [conversation(1, { doubtful: 'Question 1?' })], replies_waiting: 3 })} />);
  expect(screen.getByText('3 replies wait for an answer')).toBeTruthy();
  expect(document.body.textContent?.split('Question 1?')).toHaveLength(2);
});

test('the longest waiting is answered in place; what is refused stays with its words', async () => {
  const user = userEvent.setup();
  answers['POST /api/replies/answer'] = refusal(409, 'Ben Holm has answered: “Yes.”');
  show(<NeedsYou today={today({ replies: [conversation(1), conversation(2)], replies_waiting: 2 })} />);
  expect(screen.getAllByRole('textbox')).toHaveLength(1);
  const box = screen.getByRole<HTMLInputElement>('textbox', { name: 'Answer Person 1' });
  await user.type(box, 'It does.');
  await user.click(screen.getByRole('button', { name: 'Send' }));
  await screen.findByText('Ben Holm has answered: “Yes.”');
  expect(box.value).toBe('It does.');
  answers['POST /api/replies/answer'] = {};
  await user.click(screen.getByRole('button', { name: 'Send' }));
  await screen.findByText('Sent to Person 1.');
  expect(server.acts().at(-1)).toEqual([
    'POST /api/replies/answer',
    { number: '+12075550141', words: 'It does.', seen: 1, answered: 0 },
  ]);
});

test('somebody who has opted out is shown and not answered', () => {
  show(<NeedsYou today={today({ replies: [conversation(1, { opted_out: true })], replies_waiting: 1 })} />);
  expect(screen.queryByRole('textbox')).toBeNull();
});

test('what is wrong with a run stands there with who was told, until somebody has seen it', async () => {
  const user = userEvent.setup();
  const alarm = { id: 3, run_id: 4, run: 'Fog', kind: 'failures', at: '2026-12-02T20:40:00.000Z' };
  const alarms = [
    { ...alarm, words: '40 of 41 failed', told: 'Ana Reyes', trouble: null },
    { ...alarm, id: 4, words: 'no receipts', told: null, trouble: 'nobody is on duty' },
  ];
  show(<NeedsYou today={today({ alarms })} />);
  const region = screen.getByLabelText('Needs you');
  expect(region.textContent).toContain('Ana Reyes was told by text');
  expect(region.textContent).toContain('nobody is on duty');
  await user.click(within(region).getAllByRole('button', { name: 'I have seen it' })[0]);
  expect(server.acts()).toEqual([['POST /api/alarms/3/seen', {}]]);
});

test('a run that differs much waits for somebody: it goes, or it is skipped', async () => {
  const user = userEvent.setup();
  const asking = [{ id: 4, broadcast_id: 32, name: 'Fog', asks: '600 people instead of 41', due_at: '2026-12-02T22:00:00.000Z' }];
  show(<NeedsYou today={today({ asking })} />);
  expect(document.body.textContent).toContain('600 people instead of 41');
  for (const button of screen.getAllByRole('button')) await user.click(button);
  expect(server.acts().map(([call]) => call)).toEqual(['POST /api/runs/4/agree', 'POST /api/broadcasts/32/set-aside']);
});
