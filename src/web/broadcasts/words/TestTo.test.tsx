import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { TestedAnswer } from '../../../core/api/sending/broadcasts';
import { testedPart } from '../../../core/plan/ready/since-test';
import { refusal, serve, show } from '../../testing';
import { TestTo } from './TestTo';
import { draftOf } from '../testing';

const NOW = Date.parse('2026-12-02T20:52:00Z');
const TESTERS = [
  { id: 3, name: 'Pier phone', number: '+18025550171', copies: false },
  { id: 4, name: 'Mika', number: '+16125550172', copies: true },
];
const tested = (part: Partial<TestedAnswer> = {}): TestedAnswer => ({
  at: '2026-12-02T20:50:00.000Z',
  by: 'Ana Reyes',
  numbers: 2,
  as: 'Desta Lindqvist',
  draft: testedPart(draftOf()),
  ...part,
});
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = {
    'GET /api/testers': { testers: TESTERS },
    'POST /api/broadcasts/32/test': { numbers: ['+18025550171', '+16125550172'], later: [], tested: tested() },
  };
  server = serve(answers);
});
const open = (before: TestedAnswer | null = null, draft = draftOf()) =>
  show(<TestTo id={32} draft={draft} which="longest" index={2} tested={before} now={NOW} />);

test('it goes to those who are ticked, as the one who is shown, and says so', async () => {
  const user = userEvent.setup();
  open();
  await user.click(await screen.findByText('to whom'));
  await user.click(screen.getByRole('checkbox', { name: /^me,/ }));
  await user.click(screen.getByRole('checkbox', { name: /^Pier phone/ }));
  await user.click(screen.getByRole('checkbox', { name: /^Mika/ }));
  await user.keyboard('{Escape}');
  await user.click(await screen.findByRole('button', { name: 'Text this to 2 numbers' }));
  await screen.findByText('On its way to 2 numbers.');
  expect(server.asked.find(({ call }) => call.startsWith('POST'))?.body).toEqual({
    draft: draftOf(),
    which: 'longest',
    index: 2,
    me: false,
    testers: [3, 4],
  });
  expect(document.body.textContent).toContain('Nothing of it has changed since.');
});

test('with nobody ticked it goes to nobody', async () => {
  const user = userEvent.setup();
  open();
  await user.click(await screen.findByText('to whom'));
  await user.click(screen.getByRole('checkbox', { name: /^me,/ }));
  await user.keyboard('{Escape}');
  expect(await screen.findByRole('button', { name: 'Choose to whom' })).toHaveProperty('disabled', true);
});

test('who has not said which number is theirs is asked for it', async () => {
  answers['POST /api/broadcasts/32/test'] = refusal(422, 'You have not said which number is yours.', { place: 'own_number' });
  const user = userEvent.setup();
  open();
  await user.click(await screen.findByRole('button', { name: 'Text this to me' }));
  expect(await screen.findByRole('textbox', { name: 'Your own number' })).toBeDefined();
});

test('what is different since the last test is named', () => {
  open(tested(), draftOf({ words: 'The Heron is back.', sender_id: 2 }));
  expect(document.body.textContent).toContain('Tried 3:50 PM by Ana Reyes, as Desta Lindqvist, on 2 numbers.');
  expect(document.body.textContent).toContain('Changed since: the English words and the sender.');
});
