import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { PassOn } from '../../core/api/desk/passing';
import { choose, refusal, serve, show } from '../testing';
import PassingOn from './PassingOn';

const rule = (id: number, part: Partial<PassOn> = {}): PassOn => ({
  id,
  what: 'all',
  keyword_id: null,
  broadcast_id: null,
  name: 'Harbor master',
  way: 'mail',
  address: 'harbor@ottermere.example',
  any_hour: false,
  of: null,
  number: null,
  passed: 12,
  answered: 4,
  last_at: '2026-12-02T20:00:00.000Z',
  trouble: null,
  ...part,
});
let rules: PassOn[];
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  rules = [rule(1)];
  answers = {
    'GET /api/passing': () => ({ rules, known: [], mail: true, broadcasts: [{ id: 7, name: 'Fog' }] }),
    'GET /api/keywords': { keywords: [{ id: 3, word: 'FERRY', ended_at: null }], workspace: 'Ottermere' },
    'POST /api/passing': { id: 2 },
    'POST /api/passing/1/end': () => {
      rules = [];
      return {};
    },
    'POST /api/passing/1/again': { again: 3 },
  };
  server = serve(answers);
});

test('a rule is ended once, and its row is gone before another can be pressed', async () => {
  const user = userEvent.setup();
  show(<PassingOn />);
  await user.click(await screen.findByRole('button', { name: 'end it' }));
  await screen.findByText('Nothing is passed on');
  await screen.findByText('Nothing more is passed on to Harbor master.');
  expect(server.acts()).toEqual([['POST /api/passing/1/end', {}]]);
});

test('what does not get through says why, and is tried again', async () => {
  rules = [rule(1, { trouble: 'The mail server does not know the address.' })];
  const user = userEvent.setup();
  show(<PassingOn />);
  await screen.findByText('The mail server does not know the address.');
  await user.click(screen.getByRole('button', { name: 'try again' }));
  await screen.findByText('3 of today are tried again.');
});

test('answers to one broadcast, by text, at any hour; what is refused is said and what was typed stays', async () => {
  const user = userEvent.setup();
  show(<PassingOn />);
  await screen.findByText('Pass on to somebody');
  choose('What', 'answers to a broadcast');
  choose('Which broadcast', 'Fog');
  await user.type(screen.getByRole('textbox', { name: 'Who' }), 'Mika');
  await user.type(screen.getByRole('textbox', { name: 'Number' }), '12');
  await user.click(screen.getByRole('checkbox', { name: /^At any hour/ }));
  answers['POST /api/passing'] = refusal(422, '“12” is no number that can be texted.');
  await user.click(screen.getByRole('button', { name: 'Pass on from now on' }));
  await screen.findByText('“12” is no number that can be texted.');
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Who' }).value).toBe('Mika');
  answers['POST /api/passing'] = { id: 2 };
  await user.click(screen.getByRole('button', { name: 'Pass on from now on' }));
  await screen.findByText('Passed on to Mika from now on.');
  await waitFor(() =>
    expect(server.acts().at(-1)).toEqual([
      'POST /api/passing',
      { what: 'broadcast', keyword_id: null, broadcast_id: 7, name: 'Mika', way: 'text', address: '12', any_hour: true },
    ]),
  );
});
