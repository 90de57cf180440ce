import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import type { SetupAnswer } from '../../core/api/setup';
import { refusal, serve, show } from '../testing';
import { useState } from 'react';
import SendersPart, { SenderForm } from './SendersPart';

const sender = (id: number, part: Partial<SetupAnswer['senders'][number]>) => ({
  id,
  name: 'Ferry desk',
  kind: 'short' as const,
  address: '72345',
  parts_per_second: 20,
  reply_days: null,
  used: true,
  ...part,
});
const data = {
  senders: [
    sender(1, {}),
    sender(2, { name: 'Boathouse', kind: 'long', address: '+12075550199', reply_days: 3, used: false }),
    sender(3, { name: 'OttermereFB', kind: 'name', address: 'OttermereFB' }),
  ],
  carrier: { practice: true },
  workspace: { name: 'Ottermere Ferry' },
} as unknown as SetupAnswer;

let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = { 'PUT /api/setup/senders/1': {}, 'DELETE /api/setup/senders/2': {}, 'POST /api/setup/senders': { id: 9 } };
  server = serve(answers);
});

test('how long replies are read stands with each; whoever does not manage changes nothing', () => {
  show(<SendersPart data={data} manage={false} />);
  const cells = screen.getAllByRole('row').map((row) => within(row).queryAllByRole('cell')[3]?.textContent);
  expect(cells.slice(1)).toEqual(['always', 'for 3 days', 'never']);
  expect(screen.queryByRole('button', { name: /^Change/ })).toBeNull();
});

test('a last day for replies is set, and taken away by leaving it empty; the address is not offered', async () => {
  const user = userEvent.setup();
  show(<SendersPart data={data} manage />);
  await user.click(screen.getByRole('button', { name: 'Change Ferry desk' }));
  expect(screen.queryByRole('textbox', { name: 'Address of the sender' })).toBeNull();
  const days = screen.getByRole('textbox', { name: 'Replies are read for so many days' });
  await user.type(days, '90');
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  expect(server.acts()).toEqual([]); // sixty at most
  await user.clear(days);
  await user.type(days, '2');
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  await screen.findByText(/Ferry desk is changed/);
  expect(server.acts()).toEqual([['PUT /api/setup/senders/1', { name: 'Ferry desk', parts_per_second: 20, reply_days: 2 }]]);
});

test('a name takes no replies, and has no day for them', async () => {
  const user = userEvent.setup();
  show(<SendersPart data={data} manage />);
  await user.click(screen.getByRole('button', { name: 'Change OttermereFB' }));
  expect(screen.queryByRole('textbox', { name: /Replies are read/ })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Leave it as it was' }));
  expect(screen.getByRole('button', { name: 'Add a sender' })).toBeTruthy();
});

test('one that was never used is removed; what is refused is said', async () => {
  answers['DELETE /api/setup/senders/2'] = refusal(409, 'Texts have come from this sender; people know it, and it stays.');
  const user = userEvent.setup();
  show(<SendersPart data={data} manage />);
  await user.click(screen.getByRole('button', { name: 'Remove Boathouse' }));
  await screen.findByText(/people know it/);
});

test('a first sender begins with the name of the workspace, also when that comes late; a press before it is refused in words that stay', async () => {
  const user = userEvent.setup();
  const Late = () => {
    const [first, setFirst] = useState('');
    return (
      <>
        <SenderForm first={first} />
        <button onClick={() => setFirst('Ottermere Ferry')}>named</button>
      </>
    );
  };
  const shown = show(<Late />);
  await user.click(screen.getByRole('button', { name: 'named' }));
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Name of the sender' }).value).toBe('Ottermere Ferry');
  shown.unmount();
  show(<Late />);
  await user.click(screen.getByRole('button', { name: 'Add a sender' }));
  const invalid = () => screen.getByRole('textbox', { name: 'Name of the sender' }).getAttribute('aria-invalid');
  await waitFor(() => expect(invalid()).toBe('true'));
  await user.click(screen.getByRole('button', { name: 'named' }));
  expect(invalid()).toBe('true');
});
