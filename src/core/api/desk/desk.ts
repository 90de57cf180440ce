import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Id, Nullable, Shape } from '../shapes';

const Text = Type.String();
const ClockTime = Type.String({ pattern: '^([01]\\d|2[0-3]):[0-5]\\d$' });

/** When somebody is at the desk, what answers at other times, and who is on duty. */
export const DeskBody = Shape({
  away_on: Type.Boolean(),
  days: Type.Array(Type.Integer({ minimum: 1, maximum: 7 }), { maxItems: 7, uniqueItems: true }),
  from_time: ClockTime,
  to_time: ClockTime,
  away_wording: Type.Record(Type.String({ pattern: '^[a-z]{2}$' }), Type.String({ maxLength: 320 })),
  duty_account_id: Nullable(Id),
  duty_any_hour: Type.Boolean(),
});
export type DeskBody = Static<typeof DeskBody>;

export const MailBody = Shape({
  host: Type.String({ maxLength: 253, pattern: '^[A-Za-z0-9.:-]*$' }),
  port: Type.Integer({ minimum: 1, maximum: 65_535 }),
  secure: Type.Boolean(),
  username: Type.String({ maxLength: 200 }),
  /** Null keeps the one that is there; it is never shown. */
  password: Nullable(Type.String({ maxLength: 200 })),
  from_address: Type.String({ maxLength: 254 }),
  answers_to: Type.String({ maxLength: 254 }),
});
export type MailBody = Static<typeof MailBody>;

export const desk = {
  get: endpoint({
    method: 'get',
    path: '/api/setup/desk',
    role: 'look',
    says: 'When somebody is at the desk, what answers at other times, and who is on duty',
    answer: Shape({
      ...DeskBody.properties,
      /** Who can be on duty, and whether their own number is known. */
      accounts: Type.Array(Shape({ id: Id, name: Text, number: Type.Boolean() })),
    }),
    live: ['setup', 'account'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/setup/desk',
    role: 'manage',
    says: 'Changes when somebody is at the desk, what answers at other times, and who is on duty',
    body: DeskBody,
    changes: ['setup'],
  }),
  mail: endpoint({
    method: 'get',
    path: '/api/setup/mail',
    role: 'look',
    says: 'The mail server that replies are passed on by, without its password, and where answers are taken in',
    answer: Shape({
      host: Text,
      port: Type.Integer(),
      secure: Type.Boolean(),
      username: Text,
      has_password: Type.Boolean(),
      from_address: Text,
      answers_to: Text,
      /** The practice mailbox stands in while no server is set. */
      practice: Type.Boolean(),
      /** The port at which answers are taken in; null when they are not. */
      answers_port: Nullable(Type.Integer()),
    }),
    live: ['setup'],
  }),
  changeMail: endpoint({
    method: 'put',
    path: '/api/setup/mail',
    role: 'manage',
    says: 'Changes the mail server; without a host none is set',
    body: MailBody,
    changes: ['setup', 'replies'],
  }),
  tryMail: endpoint({
    method: 'post',
    path: '/api/setup/mail/try',
    role: 'manage',
    says: 'Asks the mail server whether it takes mails from here, and sends one to whoever asks',
    body: Type.Object({}),
    answer: Shape({ sent_to: Text }),
    limits: [{ most: 10, seconds: 600, by: 'session' }],
  }),
};
