import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test, vi } from 'vitest';
import type { OutcomeRow } from '../../core/api/sending/outcomes';
import { choose, serve, show } from '../testing';
import Compare from './Compare';
import Outcomes from './Outcomes';
import { percent } from './ShareFigure';

const run = (id: number, part: Partial<OutcomeRow> = {}): OutcomeRow => ({
  id,
  name: `Run ${id}`,
  state: 'finished',
  people: 1000,
  parts: 1000,
  spent_parts: 1000,
  spent_micro: 7_500_000,
  due_at: '2026-12-02T15:00:00.000Z',
  last_due_at: '2026-12-02T15:05:00.000Z',
  started_at: '2026-12-02T15:00:00.000Z',
  ended_at: '2026-12-02T15:06:00.000Z',
  note: '',
  purpose: 'service',
  labels: [],
  by: 'Ana Reyes',
  sender: 'Ferry desk',
  words: 'Ottermere: the Heron is off.',
  tally: { delivered: 950, not_delivered: 50 },
  answers: 95,
  opted_out: 1,
  clicked: 0,
  linked: 0,
  ...part,
});
let asked: ReturnType<typeof serve>['asked'];
let addresses: string[];
beforeEach(() => {
  vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: vi.fn(), removeEventListener: vi.fn() }));
  addresses = [];
  ({ asked } = serve({
    'GET /api/outcomes': (address: string) => {
      addresses.push(address);
      return {
        runs: [run(1), run(2), run(3)],
        total: 3,
        usual: { runs: 3, delivered: 0.95, answers: 0.1, clicked: null, opted_out: null },
      };
    },
    'GET /api/outcomes/which': { labels: ['ferry'], senders: [{ id: 1, name: 'Ferry desk' }], accounts: [], lists: [] },
    'GET /api/outcomes/compare': {
      runs: [run(1), run(2, { answers: 209, words: 'Ottermere: off.', due_at: '2026-12-02T17:00:00.000Z' })],
    },
    'GET /api/session/layouts': {},
  }));
});

test('narrowed by what is chosen, which stands in the address; the query says the days where the workspace is', async () => {
  const { router } = show(<Outcomes />, '/outcomes', '/outcomes');
  await screen.findByText('Run 1');
  await screen.findByLabelText('Label');
  choose('Label', 'ferry');
  await waitFor(() => expect(addresses.at(-1)).toContain('label=ferry'));
  choose('When', 'the last 7 days');
  await waitFor(() => expect(addresses.at(-1)).toContain('from=2026-11-26'));
  expect(router.state.location.search).toBe('?period=7&label=ferry');
});

test('two are picked and compared; the fifth cannot be', async () => {
  const user = userEvent.setup();
  const { router } = show(<Outcomes />, '/outcomes', '/outcomes');
  await user.click(await screen.findByRole('checkbox', { name: 'Compare Run 3' }));
  await user.click(screen.getByRole('checkbox', { name: 'Compare Run 1' }));
  await user.click(screen.getByRole('button', { name: 'Compare 2' }));
  await waitFor(() => expect(router.state.location.pathname + router.state.location.search).toBe('/outcomes/compare?ids=3,1'));
});

test('beside one another: shares with how sure they are, what differs, and what else is different', async () => {
  show(<Compare />, '/outcomes/compare?ids=1,2', '/outcomes/compare');
  await screen.findByText('12 points more answers (8.7 to 15)');
  await screen.findByText('sent 2 hours later in the day; 46 % shorter');
  expect(screen.getAllByText('no link')).toHaveLength(2);
  expect(asked.some(({ call }) => call === 'GET /api/outcomes/compare')).toBe(true);
});

test('shares are told as closely as they are worth', () => {
  expect([0, 0.0004, 0.012, 0.0994, 0.0996, 0.5, 1].map(percent)).toEqual([
    '0 %',
    '0 %',
    '1.2 %',
    '9.9 %',
    '10 %',
    '50 %',
    '100 %',
  ]);
});
