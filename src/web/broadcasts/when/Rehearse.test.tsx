import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test, vi } from 'vitest';
import { draftOf } from '../testing';
import { serve, show } from '../../testing';
import { Rehearse } from './Rehearse';

// a canvas is nothing that jsdom draws on; what it shows is said in words beside it
vi.mock('react-chartjs-2', () => ({
  Bar: (props: { 'aria-label': string }) => <div role="img" aria-label={props['aria-label']} />,
}));

const NOW = Date.parse('2026-12-02T20:52:00Z');
const past = { texts: 1010, hours: 720, failed: 0.02, answered: 0.1, delays: [1, 2], lags: [1, 60] };
const played = {
  texts: 1198,
  last_goes: '2026-12-02T21:32:00.000Z',
  last_arrives: '2026-12-02T21:33:00.000Z',
  fails: 23.9,
  answers: 117,
  hours: [
    { at: '2026-12-02T21:00:00.000Z', texts: 1198, answers: 30 },
    { at: '2026-12-02T22:00:00.000Z', texts: 0, answers: 87 },
  ],
};
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = { 'POST /api/broadcasts/32/rehearse': { past, played, desk: 2 } };
  server = serve(answers);
});
const change = vi.fn();
const open = (draft = draftOf()) => show(<Rehearse id={32} draft={draft} now={NOW} change={change} />);

test('when the last arrives, how many do not, how many answer and when; and a pace with which the desk keeps up', async () => {
  const user = userEvent.setup();
  open();
  expect(server.asked).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Play it' }));
  expect(await screen.findByText(/arrives by/)).toBeDefined();
  const said = document.body.textContent ?? '';
  expect(said).toContain('About 24 of 1,198 do not arrive. About 117 answers, most of them about 87 in the hour from 5:00 PM.');
  expect(said).toContain('As your last 1,010 texts did in 30 days.');
  // two at thirty an hour: 60, and 87 come
  expect(said).toContain('2 people cannot keep up with 87.');
  // 60 an hour are one a minute; of ten texts that arrive one is answered
  await user.click(screen.getByRole('button', { name: 'send 10 a minute instead' }));
  expect(change).toHaveBeenCalledWith({ pace: { kind: 'a_minute', texts: 10 } });
  fireEvent.change(screen.getByLabelText('Answers an hour each'), { target: { value: '50' } });
  expect(await screen.findByText('the desk keeps up.')).toBeDefined();
});

test('how few texts fare is not known, and that is said instead of a number', async () => {
  answers['POST /api/broadcasts/32/rehearse'] = { past: null, played: null, desk: 1 };
  const user = userEvent.setup();
  open();
  await user.click(screen.getByRole('button', { name: 'Play it' }));
  expect(await screen.findByText(/Fewer than a hundred texts/)).toBeDefined();
  expect(document.body.textContent).not.toMatch(/\b0 of\b/);
});
