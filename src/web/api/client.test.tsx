import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test } from 'vitest';
import { people } from '../../core/api/people/people';
import { replies } from '../../core/api/desk/replies';
import { setup } from '../../core/api/setup';
import { refusal, serve, show } from '../testing';
import { ask, fileAt, Refused, useAct, useGet } from './client';

test('a refusal is one sentence: what is wrong, what was kept, what to do', async () => {
  serve({ 'GET /api/people/9': refusal(404, 'Nobody is here.', { kept: 'The list stands.', act: 'Look again.', place: 'id' }) });
  const refused: unknown = await ask(people.get, { params: { id: 9 } }).catch((error: unknown) => error);
  expect(refused).toBeInstanceOf(Refused);
  expect(refused).toMatchObject({ status: 404, message: 'Nobody is here. The list stands. Look again.', body: { place: 'id' } });
});

test('a broken line and an answer that is none are sentences, too', async () => {
  serve({ 'GET /api/people/9': new TypeError('Failed to fetch') });
  await expect(ask(people.get, { params: { id: 9 } })).rejects.toThrow(
    'The server cannot be reached just now. What you typed is still here. Try again in a moment.',
  );
  serve({ 'GET /api/people/9': new Response('<html>', { status: 502 }) });
  await expect(ask(people.get, { params: { id: 9 } })).rejects.toThrow('The server gave no readable answer.');
});

test('addresses come from the contract: what stands in them cannot lead elsewhere', () => {
  expect(fileAt(people.exportCsv, { query: { search: 'a&b=c', list: '3', name: undefined } })).toBe(
    '/api/people/export.csv?search=a%26b%3Dc&list=3',
  );
});

function Waiting() {
  const list = useGet(replies.list, { query: {} });
  const record = useGet(setup.record, { query: {} });
  const put = useAct(replies.bringBack);
  return (
    <>
      <p>{list.data ? `${list.data.counts.waiting} wait` : 'asking'}</p>
      <p>{record.data ? `${record.data.total} in the record` : 'asking'}</p>
      <button onClick={() => void put({ body: { number: '+12075550142' } }).catch(() => undefined)}>put away</button>
    </>
  );
}

test('what an act changes is asked again, and nothing else; a refused one changes nothing', async () => {
  const user = userEvent.setup();
  const answers: Record<string, unknown> = {
    'GET /api/replies': { conversations: [], counts: { waiting: 1, others: 0, later: 0 }, next: null },
    'GET /api/setup/record': { record: [], total: 12 },
    'POST /api/replies/bring-back': refusal(403, 'Your role is “look”.'),
  };
  const { asked } = serve(answers);
  show(<Waiting />);
  await screen.findByText('1 wait');
  await screen.findByText('12 in the record');
  const times = (call: string) => asked.filter((each) => each.call === call).length;
  await user.click(screen.getByRole('button', { name: 'put away' }));
  await waitFor(() => expect(times('POST /api/replies/bring-back')).toBe(1));
  expect(times('GET /api/replies')).toBe(1);
  answers['POST /api/replies/bring-back'] = {};
  answers['GET /api/replies'] = { conversations: [], counts: { waiting: 0, others: 0, later: 0 }, next: null };
  await user.click(screen.getByRole('button', { name: 'put away' }));
  await screen.findByText('0 wait');
  expect([times('GET /api/replies'), times('GET /api/setup/record')]).toEqual([2, 1]);
});
