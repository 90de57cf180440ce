import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test, vi } from 'vitest';
import type { OverTimeAnswer } from '../../core/api/sending/outcomes';
import { choose, serve, show } from '../testing';
import OverTime from './OverTime';

vi.mock('react-chartjs-2', () => ({
  Bar: (props: { 'aria-label'?: string }) => <div role="img" aria-label={props['aria-label']} />,
}));

const together = (part: Partial<OverTimeAnswer['hours'][number]> = {}) => ({
  runs: 0,
  delivered: 0,
  answers: 0,
  clicked: 0,
  linked: 0,
  opted_out: 0,
  spent_micro: 0,
  ...part,
});
const answer: OverTimeAnswer = {
  hours: Array.from({ length: 24 }, (_, hour) =>
    hour === 8
      ? together({ runs: 3, delivered: 1000, answers: 25, spent_micro: 7_500_000 })
      : hour === 17
        ? together({ runs: 2, delivered: 400, answers: 40, linked: 400, clicked: 80 })
        : together(),
  ),
  weekdays: Array.from({ length: 7 }, (_, day) => (day === 2 ? together({ runs: 5, delivered: 1400, answers: 65 }) : together())),
  months: [
    { month: '2026-10', ...together() },
    { month: '2026-11', ...together({ runs: 5, delivered: 1400, opted_out: 7, spent_micro: 10_500_000 }) },
  ],
  labels: [{ name: '', ...together({ runs: 5, spent_micro: 10_500_000 }) }],
  senders: [{ name: 'Ferry desk', ...together({ runs: 5, spent_micro: 10_500_000 }) }],
};
let given: OverTimeAnswer;
let addresses: string[];
beforeEach(() => {
  given = answer;
  addresses = [];
  serve({
    'GET /api/outcomes/over-time': (address: string) => {
      addresses.push(address);
      return given;
    },
    'GET /api/outcomes/which': { labels: ['ferry'], senders: [], accounts: [], lists: [] },
  });
});

test('each picture says its most, and has its table; hours in which nothing went are no rows', async () => {
  const user = userEvent.setup();
  show(<OverTime />, '/outcomes/over-time');
  await screen.findByRole('img', { name: 'Answers of 100 delivered, by the hour it went: most 5 PM' });
  await user.click(screen.getAllByRole('button', { name: 'as a table' })[0]);
  const table = await screen.findByRole('table', { name: 'Answers of 100 delivered, by the hour it went' });
  expect(
    within(table)
      .getAllByRole('row')
      .map((row) =>
        within(row)
          .queryAllByRole('cell')
          .map(({ textContent }) => textContent),
      ),
  ).toEqual([[], ['8 AM', '3', '1,000', '25, 2.5 %', ''], ['5 PM', '2', '400', '40, 10 %', '80']]);
  await user.click(screen.getByRole('button', { name: 'as a picture' }));
  await screen.findByRole('img', { name: /by the hour it went/ });
  // runs without a label are said to be that
  expect(screen.getByText('without a label')).toBeTruthy();
});

test('what it is narrowed to is asked, kept in the address, and the way back keeps it', async () => {
  const { router } = show(<OverTime />, '/outcomes/over-time?label=ferry');
  await screen.findByText('Cost by sender');
  expect(addresses.at(-1)).toContain('label=ferry');
  choose('When', 'the last 30 days');
  await vi.waitFor(() => expect(addresses.at(-1)).toMatch(/from=2026-11-0\d/));
  expect(router.state.location.search).toContain('period=30');
  expect(screen.getByRole('link', { name: 'Run by run' }).getAttribute('href')).toBe('/outcomes?period=30&label=ferry');
});

test('where nothing is like that, no picture is drawn', async () => {
  given = { ...answer, months: [] };
  show(<OverTime />, '/outcomes/over-time?label=ferry');
  await screen.findByText('No such run');
  expect(screen.queryByRole('img')).toBeNull();
});

test('where nothing was ever sent, that is said, and not that there is no such run', async () => {
  given = { ...answer, months: [] };
  show(<OverTime />, '/outcomes/over-time');
  await screen.findByText('Nothing has been sent yet');
});
