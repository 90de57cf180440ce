import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import { serve, show } from '../testing';
import WorkPart from './WorkPart';

const kinds = [
  { kind: 'replies', words: 'acting on replies', waiting: 3, overdue: 0, failing: 0, next_at: '2026-12-02T20:50:00.000Z' },
  { kind: 'end run', words: 'ending runs and paying for them', waiting: 1, overdue: 1, failing: 1, next_at: null },
];
const failing = [
  {
    kind: 'end run',
    words: 'ending runs and paying for them',
    key: '27',
    trouble: 'no room',
    failing_since: '2026-12-02T20:31:00.000Z',
    due_at: '2026-12-02T23:10:00.000Z',
    attempts: 6,
  },
];

test('every kind stands there with how much of it waits; what keeps failing says why, and is tried again at a press', async () => {
  const server = serve({
    'GET /api/jobs': { kinds, failing, kept: [{ words: 'the line’s journal', keeps: 'until it is posted', rows: 1200 }] },
    'POST /api/jobs/again': {},
  });
  show(<WorkPart />);
  const table = await screen.findByText('acting on replies');
  expect(table).toBeTruthy();
  expect(document.body.textContent).toContain('It keeps failing: ending runs and paying for them');
  expect(document.body.textContent).toContain('“no room”');
  expect(document.body.textContent).toContain('Tried 6 times');
  expect(document.body.textContent).toContain('the line’s journal');
  expect(document.body.textContent).toContain('1,200');
  await userEvent.setup().click(screen.getByRole('button', { name: 'Try again now' }));
  expect(server.acts()).toEqual([['POST /api/jobs/again', { kind: 'end run', key: '27' }]]);
});
