import { cleanup, screen } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import type { PersonHistory } from '../../../core/api/sending/outcomes';
import { serve, show } from '../../testing';
import { HistoryPart } from './HistoryPart';
const history = (part: Partial<PersonHistory> = {}): PersonHistory => ({
  delivered: 13,
  not_delivered: 1,
  answered: 2,
  linked: 5,
  clicked: 4,
  answers_after: 840,
  since: '2026-09-24T14:00:00.000Z',
  usual: { runs: 20, delivered: 0.97, answers: 0.017, clicked: 0.21, opted_out: 0 },
  ...part,
});

test('shares of theirs beside what is usual, and how soon they answer', async () => {
  serve({ 'GET /api/people/23/history': history() });
  const { container } = show(<HistoryPart id={23} />);
  await screen.findByText('Broadcasts since Thu, Sep 24');
  expect(container.textContent).toContain('13 delivered, 1 not');
  expect(container.textContent).toContain('2 of 13, usual 1.7 %');
  expect(container.textContent).toContain('4 of 5, usual 21 %');
  expect(container.textContent).toContain('Half of the answers came within 14 min');
});

test('what there is nothing of is not said, and nobody who was never written to has a history', async () => {
  serve({ 'GET /api/people/23/history': history({ not_delivered: 0, answered: 0, linked: 0, clicked: 0, answers_after: null }) });
  const { container } = show(<HistoryPart id={23} />);
  await screen.findByText(/^Broadcasts since/);
  expect(container.textContent).not.toMatch(/clicked|within|not\b/);
  cleanup();
  const { asked } = serve({ 'GET /api/people/24/history': history({ since: null, delivered: 0 }) });
  const empty = show(<HistoryPart id={24} />);
  await vi.waitFor(() => expect(asked).toHaveLength(1));
  expect(empty.container.querySelector('section')).toBeNull();
});
