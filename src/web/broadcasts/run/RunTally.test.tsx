import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import type { RunTally as Tally } from '../../../core/api/sending/runs';
import { serve, show } from '../../testing';
import { RunTally } from './RunTally';
const tally = (part: Partial<Tally> = {}): Tally => ({
  choices: ['yes', 'no'],
  people: [118, 28],
  doubtful: [{ id: 7, number: '+12075550142', name: 'Ana Reyes', body: 'yes or no?', late: false }],
  doubts: 9,
  others: 2,
  silent: 190,
  ...part,
});

test('a doubtful answer is said by a person, one press each; how many more there are is said', async () => {
  const user = userEvent.setup();
  const answers: Record<string, unknown> = { 'GET /api/runs/4/tally': tally(), 'POST /api/replies/7/choice': {} };
  const { asked } = serve(answers);
  const { container } = show(<RunTally run={4} />);
  await screen.findByText('Asked: 1 yes, 2 no');
  expect(container.textContent).toContain('190 got it and have not answered, 2 wrote something else');
  expect(container.textContent).toContain('and 8 more once these are said');
  await user.click(screen.getByRole('button', { name: 'Ana Reyes means no' }));
  await user.click(screen.getByRole('button', { name: 'Ana Reyes means none of them' }));
  const posts = () => asked.filter(({ call }) => call.startsWith('POST'));
  await waitFor(() => expect(posts().map(({ body }) => body)).toEqual([{ choice: 1 }, { choice: null }]));
});

test('a run that asks nothing shows nothing', async () => {
  const { asked } = serve({ 'GET /api/runs/4/tally': tally({ choices: [], people: [] }) });
  const { container } = show(<RunTally run={4} />);
  await waitFor(() => expect(asked).toHaveLength(1));
  expect(container.querySelector('section')).toBeNull();
});
