import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { draftOf, planOf } from '../broadcasts/testing';
import { choose, refusal, serve, show } from '../testing';
import { Codes } from './Codes';

const WINTER = { id: 4, name: 'Winter', created_at: '2026-12-01T00:00:00.000Z', free: 500, given: 0, coming: 0 };
const ADDED = { id: 4, added: 498, here: 0, elsewhere: 3, twice: 2, blank: 1, heading: 'Code', wrong: [] };

function open(list: number | null, answers: Record<string, unknown> = {}) {
  const change = vi.fn();
  const putIn = vi.fn();
  const { asked } = serve({ 'GET /api/code-lists': { lists: [WINTER] }, ...answers });
  const plan = planOf({ codes: list === null ? null : { name: 'Winter', free: 500, needed: 41, exact: false } });
  show(<Codes draft={draftOf({ code_list_id: list })} plan={plan} change={change} putIn={putIn} />);
  return { change, putIn, asked, user: userEvent.setup() };
}

test('a list is chosen with what is left of it, and a code put in', async () => {
  const { change } = open(null);
  await waitFor(() => expect(screen.getByLabelText('List of codes').textContent).toBe('no list'));
  choose('List of codes', 'Winter, 500 left');
  expect(change).toHaveBeenCalledWith({ code_list_id: 4 });
  cleanup();
  const { putIn, user } = open(4);
  expect(await screen.findByText('41 needed')).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Put a code in' }));
  expect(putIn).toHaveBeenCalledWith('{code}');
});

test('codes from a file become a list of its name; what was left out of it is said; a refusal keeps what was typed', async () => {
  const make = vi.fn().mockReturnValueOnce(refusal(422, 'There is no code in it.', { kept: 'Nothing was changed.' }));
  make.mockReturnValue(ADDED);
  const { change, asked, user } = open(null, { 'POST /api/code-lists': make });
  await user.click(screen.getByRole('button', { name: 'bring in codes' }));
  await user.type(screen.getByLabelText('Name of the list of codes'), 'Winter');
  await user.type(screen.getByLabelText('Codes, one a line'), 'A-1');
  await user.click(screen.getByRole('button', { name: 'Bring them in' }));
  expect((await screen.findByRole('alert')).textContent).toContain('There is no code in it.');
  expect(screen.getByLabelText<HTMLTextAreaElement>('Codes, one a line').value).toBe('A-1');
  fireEvent.change(screen.getByLabelText('File of codes'), { target: { files: [new File(['A-1'], 'winter.csv')] } });
  expect(
    await screen.findByText(
      '498 codes brought in, 2 named twice, 3 left out: they stand in another list, 1 blank, “Code” taken as a heading',
    ),
  ).toBeDefined();
  expect(change).toHaveBeenCalledWith({ code_list_id: 4 });
  expect(asked.filter(({ call }) => call === 'POST /api/code-lists')).toHaveLength(2);
});

test('who got which is found by a code, with the way to them', async () => {
  const found = {
    code: 'A-7',
    list: 'Winter',
    number: '+12075550142',
    person_id: 9,
    name: 'Ana Vance',
    run_id: 3,
    run: 'Fog',
    at: '2026-12-02T20:00:00.000Z',
  };
  const { user } = open(4, { 'GET /api/codes': { codes: [found, { ...found, code: 'A-8', at: null, person_id: null }] } });
  await user.click(screen.getByRole('button', { name: 'who got which' }));
  await user.type(screen.getByRole('searchbox'), 'A-');
  expect((await screen.findByRole('link', { name: 'Ana Vance' })).getAttribute('href')).toBe('/people/9');
  expect(screen.getByText('not given to anybody')).toBeDefined();
});
