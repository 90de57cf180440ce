import { act, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useParams } from 'react-router';
import { expect, test } from 'vitest';
import { refusal, serve, show } from '../../testing';
import { broadcastOf, draftOf, planOf } from '../testing';
import { useDraft } from './draft-state';

function View() {
  const state = useDraft(Number(useParams().id));
  return (
    <>
      <input
        aria-label="Words"
        value={state.draft?.words ?? '…'}
        onChange={(event) => state.change({ words: event.target.value })}
      />
      <output>{state.saved}</output>
      {state.clashes.length > 0 && <button onClick={() => state.settle('mine')}>Keep mine</button>}
    </>
  );
}
const open = (answers: Record<string, unknown> = {}) => {
  const all: Record<string, unknown> = {
    'GET /api/broadcasts/32': broadcastOf({ id: 32, version: 7, draft: draftOf({ words: 'Old' }) }),
    'GET /api/broadcasts/33': broadcastOf({ id: 33, version: 2, draft: draftOf({ words: 'Other' }) }),
    'POST /api/broadcasts/32/plan': { plan: planOf(), digest: 'd' },
    'POST /api/broadcasts/33/plan': { plan: planOf(), digest: 'd' },
    'PUT /api/broadcasts/32': { version: 8, updated_at: '2026-12-02T20:50:00.000Z' },
    ...answers,
  };
  const server = serve(all);
  return { answers: all, ...server, ...show(<View />, '/broadcasts/32', '/broadcasts/:id') };
};
const words = () => screen.findByRole<HTMLInputElement>('textbox', { name: 'Words' });
const saves = (server: { asked: { call: string; body: unknown }[] }) =>
  server.asked
    .filter(({ call }) => call.startsWith('PUT'))
    .map(({ call, body }) => [call, (body as { draft: { words: string } }).draft.words]);

test('what was typed a moment before leaving is saved, and stands on the next view though its saving is still under way', async () => {
  const user = userEvent.setup();
  let answer: (saved: object) => void = () => undefined;
  const server = open({ 'PUT /api/broadcasts/32': () => new Promise((resolve) => (answer = resolve)) });
  await waitFor(async () => expect((await words()).value).toBe('Old'));
  await user.type(await words(), ' and new');
  await act(() => server.router.navigate('/elsewhere'));
  await screen.findByText('Elsewhere');
  await waitFor(() => expect(saves(server)).toEqual([['PUT /api/broadcasts/32', 'Old and new']]));
  await act(() => server.router.navigate('/broadcasts/32'));
  expect((await words()).value).toBe('Old and new');
  await act(async () => answer({ version: 8, updated_at: '2026-12-02T20:50:00.000Z' }));
  expect((await words()).value).toBe('Old and new');
});

test('what could not be saved when leaving is there when one comes back', async () => {
  const user = userEvent.setup();
  const broken: Record<string, unknown> = { 'PUT /api/broadcasts/32': new TypeError('broken line') };
  const server = open(broken);
  await waitFor(async () => expect((await words()).value).toBe('Old'));
  await user.type(await words(), '!');
  await act(() => server.router.navigate('/elsewhere'));
  await waitFor(() => expect(saves(server)).toHaveLength(1));
  await act(() => server.router.navigate('/broadcasts/32'));
  expect((await words()).value).toBe('Old!');
});

test('another broadcast in the same view is another: nothing of the one before is shown or saved as its own', async () => {
  const user = userEvent.setup();
  const server = open();
  await waitFor(async () => expect((await words()).value).toBe('Old'));
  await user.type(await words(), '!');
  await act(() => server.router.navigate('/broadcasts/33'));
  await waitFor(async () => expect((await words()).value).toBe('Other'));
  await waitFor(() => expect(saves(server)).toEqual([['PUT /api/broadcasts/32', 'Old!']]));
});

test('what is typed while it is asked whose words stand is in those that are kept', async () => {
  const user = userEvent.setup();
  const answers: Record<string, unknown> = {
    'PUT /api/broadcasts/32': refusal(409, 'Somebody has changed it.', { type: 'urn:yellow-bell:changed' }),
  };
  const server = open(answers);
  await waitFor(async () => expect((await words()).value).toBe('Old'));
  // they have changed the same words
  server.answers['GET /api/broadcasts/32'] = broadcastOf({ id: 32, version: 8, draft: draftOf({ words: 'Old, says Ben' }) });
  await user.type(await words(), ', says Ana');
  await screen.findByRole('button', { name: 'Keep mine' });
  await user.type(await words(), '.');
  server.answers['PUT /api/broadcasts/32'] = { version: 9, updated_at: '2026-12-02T20:50:00.000Z' };
  await user.click(screen.getByRole('button', { name: 'Keep mine' }));
  expect((await words()).value).toBe('Old, says Ana.');
  await waitFor(() => expect(saves(server).at(-1)).toEqual(['PUT /api/broadcasts/32', 'Old, says Ana.']));
});

test('what no server answered is saved once the line is back, without another letter', async () => {
  const user = userEvent.setup();
  const server = open({ 'PUT /api/broadcasts/32': new TypeError('broken line') });
  await waitFor(async () => expect((await words()).value).toBe('Old'));
  await user.type(await words(), '!');
  await waitFor(() => expect(saves(server).length).toBeGreaterThan(0));
  const before = saves(server).length;
  server.answers['PUT /api/broadcasts/32'] = { version: 8, updated_at: '2026-12-02T20:50:00.000Z' };
  await screen.findByText('not saved');
  act(() => void window.dispatchEvent(new Event('online')));
  await waitFor(() => expect(saves(server).length).toBeGreaterThan(before));
  await screen.findByText('2026-12-02T20:50:00.000Z');
});

test('so is what somebody else has changed, too, where what they have could not be asked for', async () => {
  const user = userEvent.setup();
  const server = open({
    'PUT /api/broadcasts/32': refusal(409, 'Somebody has changed it.', { type: 'urn:yellow-bell:changed' }),
  });
  await waitFor(async () => expect((await words()).value).toBe('Old'));
  server.answers['GET /api/broadcasts/32'] = new TypeError('broken line');
  await user.type(await words(), ', says Ana');
  await screen.findByText('not saved');
  server.answers['GET /api/broadcasts/32'] = broadcastOf({ id: 32, version: 8, draft: draftOf({ words: 'Old, says Ben' }) });
  act(() => void window.dispatchEvent(new Event('online')));
  await screen.findByRole('button', { name: 'Keep mine' });
});
