import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import { refusal, serve, show } from '../../testing';
import BringIn from './BringIn';

let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = { 'GET /api/imports': { imports: [] }, 'POST /api/imports/file': { id: 7 }, 'POST /api/imports/text': { id: 8 } };
  server = serve(answers);
});
const before = (a: Element, b: Element) => Boolean(a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_FOLLOWING);

test('a file that cannot be read is said where the file was chosen; the next one begins its bench', async () => {
  const user = userEvent.setup({ applyAccept: false });
  answers['POST /api/imports/file'] = refusal(422, 'photo.png is not a file of people.');
  const { router } = show(<BringIn />, '/people/bring-in', '/people/bring-in');
  await user.upload(screen.getByLabelText('File with people'), new File(['x'], 'photo.png'));
  const said = await screen.findByText('photo.png is not a file of people.');
  expect(before(said, screen.getByRole('heading', { name: 'Or paste' }))).toBe(true);
  answers['POST /api/imports/file'] = { id: 7 };
  await user.upload(screen.getByLabelText('File with people'), new File(['name\n'], 'people.csv'));
  await waitFor(() => expect(router.state.location.pathname).toBe('/people/bring-in/7'));
});

test('what was pasted and cannot be read stays, and is said beneath it', async () => {
  const user = userEvent.setup();
  answers['POST /api/imports/text'] = refusal(422, 'There is nothing in it.');
  show(<BringIn />);
  expect(screen.getByRole('button', { name: 'Read what I pasted' })).toHaveProperty('disabled', true);
  await user.type(screen.getByLabelText('Rows or numbers'), '??');
  await user.click(screen.getByRole('button', { name: 'Read what I pasted' }));
  const said = await screen.findByText('There is nothing in it.');
  expect(before(screen.getByRole('heading', { name: 'Or paste' }), said)).toBe(true);
  expect(screen.getByLabelText('Rows or numbers')).toHaveProperty('value', '??');
  expect(server.asked.filter(({ call }) => call.startsWith('POST'))).toHaveLength(1);
});

test('past imports say what became of each', async () => {
  const one = (id: number, state: string, part: object = {}) => ({
    ...{ id, file_name: `f${id}.csv`, state, counts: {}, row_count: 3, list: null, failure: null, can_undo: null, by: null },
    ...{ created_at: '2026-12-02T20:00:00.000Z', decided_at: null, done_at: null, undone_at: null },
    ...part,
  });
  answers['GET /api/imports'] = {
    imports: [
      one(1, 'done', { counts: { new: 2, changed: 1, rejected: 4 }, can_undo: true, list: 'Otters', by: 'Ana' }),
      one(2, 'open'),
      one(3, 'failed', { failure: 'it ends in the middle of a row' }),
    ],
  };
  show(<BringIn />);
  await screen.findByText('2 new, 1 changed, 4 rejected, can be undone · Otters · Ana');
  expect(screen.getByText('on the bench, nothing written')).toBeTruthy();
  expect(screen.getByText('could not be read: it ends in the middle of a row')).toBeTruthy();
});
