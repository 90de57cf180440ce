import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import { serve, show } from '../../testing';
import { PasteNumbers } from './PasteNumbers';

const read = (numbers: string[], wrong: object[] = []) => ({ numbers, wrong, twice: 0, left: 0 });
const type = (text: string) => fireEvent.change(screen.getByRole('textbox', { name: 'Numbers' }), { target: { value: text } });

/** The dialog, with a server that answers when it is told to. */
function opened() {
  const answers: ((with_: object) => void)[] = [];
  serve({ 'POST /api/numbers/read': () => new Promise((resolve) => answers.push(resolve)) });
  const add = vi.fn();
  show(<PasteNumbers add={add} close={() => undefined} leaving={false} />);
  return {
    add,
    answer: async (nth: number, with_: object) => {
      await waitFor(() => expect(answers.length).toBeGreaterThan(nth));
      await act(async () => answers[nth](with_));
    },
  };
}

test('a press while they are read is kept, and puts them in once they are', async () => {
  const { add, answer } = opened();
  type('207-555-0101');
  fireEvent.click(screen.getByRole('button', { name: 'Reading…' }));
  expect(add).not.toHaveBeenCalled();
  await answer(0, read(['+12075550101']));
  expect(add.mock.calls).toEqual([[['+12075550101']]]);
});

test('where one of them is none, that is seen before the others go in; what it may be is taken by a press', async () => {
  const { add, answer } = opened();
  type('207-555-0101, 2O7-555-0102');
  fireEvent.click(screen.getByRole('button', { name: 'Reading…' }));
  await answer(0, read(['+12075550101'], [{ text: '2O7-555-0102', why: 'not a phone number', after: '+12075550102' }]));
  await screen.findByRole('button', { name: 'Add 1' });
  expect(add).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole('button', { name: /^take \+1 207/ }));
  expect(screen.getByRole('textbox', { name: 'Numbers' })).toHaveProperty('value', '207-555-0101, +12075550102');
  await answer(1, read(['+12075550101', '+12075550102']));
  fireEvent.click(await screen.findByRole('button', { name: 'Add 2' }));
  expect(add.mock.calls).toEqual([[['+12075550101', '+12075550102']]]);
});
