import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, test } from 'vitest';
import { choose, refusal, serve, show } from '../testing';
import DeskPart from './DeskPart';
import MailPart from './MailPart';

const MAIL = {
  host: '',
  port: 587,
  secure: false,
  username: '',
  from_address: '',
  answers_to: '',
  has_password: true,
  practice: true,
  answers_port: 2525,
};
let answers: Record<string, unknown>;
let server: ReturnType<typeof serve>;
beforeEach(() => {
  answers = {
    'GET /api/setup/desk': {
      away_on: false,
      days: [1, 2, 3, 4, 5],
      from_time: '08:00',
      to_time: '17:00',
      away_wording: { en: 'We read this from 8 AM.' },
      duty_account_id: null,
      duty_any_hour: false,
      accounts: [
        { id: 1, name: 'Ana Reyes', number: true },
        { id: 2, name: 'Ben Holm', number: false },
      ],
    },
    'PUT /api/setup/desk': {},
    'GET /api/setup/mail': MAIL,
    'PUT /api/setup/mail': {},
    'POST /api/setup/mail/try': { sent_to: 'ana@ottermere.example' },
  };
  server = serve(answers);
});

test('out of hours they are answered only where that is wanted; words of each language; who is on duty', async () => {
  const user = userEvent.setup();
  show(<DeskPart manage />);
  const on = await screen.findByRole('checkbox', { name: /^Answer whoever writes/ });
  expect(screen.queryByRole('textbox', { name: /^What answers them/ })).toBeNull();
  await user.click(on);
  await user.click(screen.getByRole('button', { name: 'Saturday' }));
  await user.type(screen.getByRole('textbox', { name: 'What answers them, French' }), 'Dès 8 h.');
  choose('Who is on duty', 'Ben Holm (no number of their own yet)');
  await user.click(screen.getByRole('button', { name: 'Save' }));
  await screen.findByText('The hours of the desk are saved.');
  expect(server.acts()).toEqual([
    [
      'PUT /api/setup/desk',
      {
        away_on: true,
        days: [1, 2, 3, 4, 5, 6],
        from_time: '08:00',
        to_time: '17:00',
        away_wording: { en: 'We read this from 8 AM.', fr: 'Dès 8 h.' },
        duty_account_id: 2,
        duty_any_hour: false,
      },
    ],
  ]);
});

test('whoever does not manage changes nothing of it', async () => {
  show(<DeskPart manage={false} />);
  expect((await screen.findByRole<HTMLInputElement>('checkbox', { name: /^Answer whoever writes/ })).disabled).toBe(true);
  expect(screen.queryByRole('button', { name: 'Save' })).toBeNull();
});

test('the mail password that is kept stays where none is typed, and is never shown', async () => {
  const user = userEvent.setup();
  show(<MailPart manage />);
  const server_ = await screen.findByRole('textbox', { name: 'Server' });
  await screen.findByText(/the practice mailbox stands in, and no mail leaves this machine/);
  expect(screen.getByLabelText<HTMLInputElement>('Password (one is kept)').value).toBe('');
  await user.type(server_, 'mail.ottermere.example');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Send a mail to myself' }).disabled).toBe(true);
  await user.click(screen.getByRole('button', { name: 'Save' }));
  await screen.findByText('The mail server is saved.');
  expect(server.acts()).toMatchObject([['PUT /api/setup/mail', { host: 'mail.ottermere.example', password: null, port: 587 }]]);
});

test('a mail to oneself says where it went, or why not', async () => {
  const user = userEvent.setup();
  show(<MailPart manage />);
  await user.click(await screen.findByRole('button', { name: 'Send a mail to myself' }));
  await screen.findByText('A mail is on its way to ana@ottermere.example.');
  answers['POST /api/setup/mail/try'] = refusal(502, 'The mail server does not take the password.');
  await user.click(screen.getByRole('button', { name: 'Send a mail to myself' }));
  await screen.findByText('The mail server does not take the password.');
});
