import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import type { RunAnswer } from '../../../core/api/sending/runs';
import { serve, show } from '../../testing';
import RunSummary from './RunSummary';
import { runOf } from '../testing';
const TALLY = { choices: ['yes', 'no'], people: [12, 3], doubtful: [], doubts: 0, others: 0, silent: 5 };
const open = (answer: RunAnswer) => {
  serve({ 'GET /api/runs/4': answer, 'GET /api/runs/4/tally': TALLY });
  return show(<RunSummary />, '/runs/4/summary', '/runs/:id/summary');
};
const everyone = async () =>
  [...(await screen.findByRole('region', { name: 'Everyone accounted for' })).querySelectorAll('div')]
    .filter((row) => row.children.length === 2 && row.querySelector('div') === null)
    .map((row) => [...row.children].map((each) => each.textContent?.trim()).join(' '));

test('what was answered to its question stands on it, each person counted once', async () => {
  open(runOf({}, {}));
  const asked = await screen.findByRole('region', { name: 'Answers to the question' });
  expect([...asked.querySelectorAll('span')].map((each) => each.textContent)).toEqual(
    expect.arrayContaining(['1 yes', '12', '2 no', '3', 'got it and have not answered', '5']),
  );
});

test('everyone is accounted for, from chosen to what became of them; who left or came later is said', async () => {
  const ended = { state: 'finished', people: 40, started_at: '2026-12-02T20:00:00.000Z', ended_at: '2026-12-02T20:05:00.000Z' };
  open(
    runOf(
      ended,
      { delivered: 38, not_delivered: 2 },
      {
        ledger: { chosen: 45, dropped: { opted_out: 3, no_number: 1 } },
        answers: { people: 70, texts: 90, waiting: 0 },
        words: { en: 'Ottermere: {given_name or "neighbor"}, it is off.' },
      },
    ),
  );
  expect(await everyone()).toEqual([
    'chosen 45',
    'no text number 1',
    'opted out 3',
    'left before it went 1',
    'written to 40',
    'delivered 38',
    'not delivered 2',
  ]);
  expect(screen.getByRole('region', { name: 'Afterwards' }).textContent).toContain('70 answered');
  // as it is read, not as it is written
  expect(screen.getByRole('region', { name: 'Words' }).textContent).not.toContain('{');
});

test('a run of before has no reach to show; one that goes on says so; it prints', async () => {
  const user = userEvent.setup();
  const print = vi.fn();
  vi.stubGlobal('print', print);
  open(
    runOf(
      { state: 'sending', people: 40, started_at: '2026-12-02T20:00:00.000Z' },
      { delivered: 10, planned: 30 },
      { ledger: null },
    ),
  );
  expect(await everyone()).toEqual(['written to 40', 'delivered 10', 'planned 30']);
  expect(within(screen.getByRole('article')).getByText(/Not at its end yet/)).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Print it' }));
  expect(print).toHaveBeenCalledTimes(1);
});
