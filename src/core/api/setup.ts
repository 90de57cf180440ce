import { Type, type Static } from 'typebox';
import { endpoint } from './endpoint';
import { FieldDef } from './people/groups';
import { ROLES } from './roles';
import { CarrierState } from './session';
import { Count, Id, Instant, Made, Micro, Nullable, OneOf, SenderKind, Shape, Skip } from './shapes';

const Text = Type.String();
const ClockTime = Type.String({ pattern: '^([01]\\d|2[0-3]):[0-5]\\d$' });
const Language = Type.String({ pattern: '^[a-z]{2}$' });
const RoleName = OneOf(...ROLES);

/** The workspace's settings as they are kept. */
export const Workspace = Shape({
  name: Text,
  zone: Text,
  country: Text,
  currency: Text,
  languages: Type.Array(Text),
  quiet_from: Text,
  quiet_to: Text,
  late_limit_minutes: Type.Integer(),
  /** Where links lead: what was chosen, else where this server is reached from its own machine. */
  public_address: Text,
  hours: OneOf('12', '24'),
  opt_out_wording: Type.Record(Text, Text),
  /** Before an opt-out link. */
  opt_out_link_wording: Type.Record(Text, Text),
  help_wording: Text,
  /** By language, where it is not the first. */
  help_wordings: Type.Record(Text, Text),
  emergency_line: Text,
  /** Whom service notices go to. */
  notices: OneOf('unless_withdrawn', 'granted'),
});
export type Workspace = Static<typeof Workspace>;

export const WorkspaceBody = Shape({
  name: Type.String({ minLength: 1, maxLength: 80 }),
  zone: Type.String({ minLength: 1, maxLength: 60 }),
  country: Type.String({ pattern: '^[A-Z]{2}$' }),
  currency: Type.String({ pattern: '^[A-Z]{3}$' }),
  languages: Type.Array(Language, { minItems: 1, maxItems: 20 }),
  quiet_from: ClockTime,
  quiet_to: ClockTime,
  late_limit_minutes: Type.Integer({ minimum: 1, maximum: 1440 }),
  hours: OneOf('12', '24'),
  opt_out_wording: Type.Record(Language, Type.String({ maxLength: 120 })),
  opt_out_link_wording: Type.Record(Language, Type.String({ maxLength: 120 })),
  help_wording: Type.String({ maxLength: 300 }),
  help_wordings: Type.Record(Language, Type.String({ maxLength: 300 })),
  emergency_line: Type.String({ maxLength: 60 }),
  notices: OneOf('unless_withdrawn', 'granted'),
});
export type WorkspaceBody = Static<typeof WorkspaceBody>;

const SENDER_PARTS = {
  name: Type.String({ minLength: 1, maxLength: 40 }),
  parts_per_second: Type.Integer({ minimum: 1, maximum: 1000 }),
  /** Replies are read for so many days after a text, which the text says; null without an end. */
  reply_days: Type.Optional(Nullable(Type.Integer({ minimum: 1, maximum: 60 }))),
};
export const SenderBody = Shape({
  ...SENDER_PARTS,
  kind: SenderKind,
  /** A number however it is written: kept in E.164. */
  address: Type.String({ minLength: 1, maxLength: 32 }),
});
export type SenderBody = Static<typeof SenderBody>;

export const RateBody = Shape({
  prefix: Type.String({ pattern: '^\\+[1-9]\\d{0,6}$' }),
  destination: Type.String({ minLength: 1, maxLength: 60 }),
  price_micro: Type.Integer({ minimum: 0, maximum: 10_000_000 }),
});
export type RateBody = Static<typeof RateBody>;

/** How the carrier writes what it hands over, and what may be spent in a day without anybody's press on a broadcast. */
export const CarrierBody = Shape({
  /** What data_coding 0 means (SMPP v3.4 §5.2.19). */
  alphabet: OneOf('gsm7', 'latin1', 'ascii'),
  /** Message ids in receipts beside those in answers. */
  receipt_ids: OneOf('same', 'decimal', 'hexadecimal'),
  /** What it takes of texts that phones show at once (3GPP TS 23.038 §4). */
  at_once: OneOf('any', 'plain', 'plain_group', 'none'),
  /** Answers to numbers that nobody here knows. */
  strangers_a_day_micro: Type.Integer({ minimum: 0, maximum: 10_000_000_000 }),
  /** Test texts of one account, and what those of all may cost. */
  tests_a_day: Type.Integer({ minimum: 0, maximum: 10_000 }),
  tests_a_day_micro: Type.Integer({ minimum: 0, maximum: 10_000_000_000 }),
});
export type CarrierBody = Static<typeof CarrierBody>;

/** `of` is what it is about, where that can be opened; `named` what that is called now. */
export const RecordRow = Shape({
  id: Id,
  at: Instant,
  act: Text,
  subject: Text,
  by: Nullable(Text),
  of: Nullable(
    Type.Union([
      Shape({ kind: OneOf('person', 'run', 'broadcast', 'dependant', 'import'), id: Id }),
      Shape({ kind: Type.Literal('setup'), part: Text }),
    ]),
  ),
  named: Text,
});
export const BalanceRow = Shape({
  id: Id,
  at: Instant,
  kind: Text,
  amount_micro: Micro,
  what: Nullable(Text),
  run_id: Nullable(Id),
});
export const AccountRow = Shape({ id: Id, name: Text, email: Text, role: RoleName, sessions: Count });
export type AccountRow = Static<typeof AccountRow>;

/** Something a first text needs, and is not there. */
export const Missing = Shape({ what: Text, why: Text, part: Text });

export const SetupAnswer = Shape({
  workspace: Workspace,
  /** The public address that was chosen, empty while none is; and when a browser got here by it. */
  address: Shape({ chosen: Text, tried_at: Nullable(Instant) }),
  /** Country and currency can still be changed: nothing has been sent or paid in them. */
  can_change_money: Type.Boolean(),
  senders: Type.Array(
    Shape({
      id: Id,
      name: Text,
      kind: SenderKind,
      address: Text,
      parts_per_second: Type.Integer(),
      reply_days: Nullable(Count),
      used: Type.Boolean(),
    }),
  ),
  rates: Type.Array(RateBody),
  accounts: Type.Array(AccountRow),
  fields: Type.Array(FieldDef),
  balance_micro: Micro,
  carrier: Type.Object(
    { ...CarrierState.properties, practice: Type.Boolean(), host: Text, port: Type.Integer(), ways: CarrierBody },
    { additionalProperties: false },
  ),
  missing: Type.Array(Missing),
});
export type SetupAnswer = Static<typeof SetupAnswer>;

export const setup = {
  get: endpoint({
    method: 'get',
    path: '/api/setup',
    role: 'look',
    says: 'Settings, senders, rate card, accounts, and what a first text still needs',
    answer: SetupAnswer,
    live: ['setup', 'balance', 'carrier', 'people'],
  }),
  record: endpoint({
    method: 'get',
    path: '/api/setup/record',
    role: 'look',
    says: 'The record of who did what, latest first, by words of it and names (?search=); a page after ?skip=',
    query: Type.Object({ skip: Skip, search: Type.Optional(Type.String({ maxLength: 200 })) }),
    answer: Shape({ record: Type.Array(RecordRow), total: Count }),
    live: ['setup', 'people', 'runs', 'balance'],
  }),
  balanceEntries: endpoint({
    method: 'get',
    path: '/api/setup/balance',
    role: 'look',
    says: 'What was put on the account and what was spent, latest first; a page after ?skip=',
    query: Type.Object({ skip: Skip }),
    answer: Shape({ entries: Type.Array(BalanceRow), total: Count }),
    live: ['balance'],
  }),
  workspace: endpoint({
    method: 'put',
    path: '/api/setup/workspace',
    role: 'manage',
    says: 'Changes the settings; country and currency only while nothing has been sent',
    body: WorkspaceBody,
    changes: ['setup'],
  }),
  publicAddress: endpoint({
    method: 'put',
    path: '/api/setup/public-address',
    role: 'manage',
    says: 'Says at which address others get here: links in texts, opt-out links and the calendar lead there; empty for none. `here` is where the browser that says so has got here by',
    body: Shape({ address: Type.String({ maxLength: 300 }), here: Type.String({ maxLength: 300 }) }),
    answer: Shape({ address: Text }),
    changes: ['setup'],
  }),
  tryAddress: endpoint({
    method: 'post',
    path: '/api/setup/public-address/try',
    role: 'manage',
    says: 'Gives an address to open in a browser: that it leads here is known once it was opened',
    body: Type.Object({}),
    answer: Shape({ address: Text }),
  }),
  carrier: endpoint({
    method: 'put',
    path: '/api/setup/carrier',
    role: 'manage',
    says: 'How the carrier writes texts from phones and the ids of its receipts, and what answers to unknown numbers may cost a day',
    body: CarrierBody,
    answer: Shape({}),
    changes: ['setup', 'carrier'],
  }),
  addSender: endpoint({
    method: 'post',
    path: '/api/setup/senders',
    role: 'manage',
    says: 'Adds a sender: long number, short code, or name',
    body: SenderBody,
    answer: Made,
    changes: ['setup'],
  }),
  changeSender: endpoint({
    method: 'put',
    path: '/api/setup/senders/:id',
    role: 'manage',
    says: 'Changes what a sender is called here, how fast it may go, and how long replies to it are read',
    body: Shape(SENDER_PARTS),
    changes: ['setup'],
  }),
  removeSender: endpoint({
    method: 'delete',
    path: '/api/setup/senders/:id',
    role: 'manage',
    says: 'Removes a sender that was never used',
    changes: ['setup'],
  }),
  setRates: endpoint({
    method: 'put',
    path: '/api/setup/rates',
    role: 'manage',
    says: 'Sets the price of a part for prefixes, in millionths; those not named stay as they are',
    body: Shape({ rates: Type.Array(RateBody, { minItems: 1, maxItems: 2000 }) }),
    changes: ['setup'],
  }),
  removeRate: endpoint({
    method: 'delete',
    path: '/api/setup/rates/:prefix',
    role: 'manage',
    says: 'Takes a prefix off the rate card: nothing can be sent there any more',
    changes: ['setup'],
  }),
  addBalance: endpoint({
    method: 'post',
    path: '/api/setup/balance',
    role: 'manage',
    says: 'Adds to the prepaid balance, in millionths',
    body: Shape({ amount_micro: Type.Integer({ minimum: 1, maximum: 100_000_000_000 }) }),
    changes: ['balance', 'setup'],
  }),
  invite: endpoint({
    method: 'post',
    path: '/api/setup/invitations',
    role: 'manage',
    says: 'Makes a one-time link for a new account',
    body: Shape({ role: RoleName }),
    answer: Shape({ path: Text }),
    changes: ['setup'],
  }),
};

/** Accounts: one's own, and those of others for who manages. */
export const accounts = {
  password: endpoint({
    method: 'put',
    path: '/api/session/password',
    role: 'look',
    says: 'Changes one’s own password; every other session of the account ends',
    limits: [{ most: 10, seconds: 600, by: 'session', refusedOnly: true }],
    body: Shape({ old: Type.String({ maxLength: 200 }), password: Type.String({ maxLength: 200 }) }),
    changes: ['account', 'setup'],
  }),
  signOutEverywhere: endpoint({
    method: 'post',
    path: '/api/session/end-others',
    role: 'look',
    says: 'Ends every other session of one’s account',
    body: Type.Object({}),
    answer: Shape({ ended: Count }),
    changes: ['account', 'setup'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/accounts/:id',
    role: 'manage',
    says: 'Changes what somebody may do; someone who may manage has to remain',
    body: Shape({ role: RoleName }),
    changes: ['account', 'setup'],
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/accounts/:id',
    role: 'manage',
    says: 'Removes an account and ends its sessions; what it did stays in the record',
    changes: ['account', 'setup'],
  }),
  reset: endpoint({
    method: 'post',
    path: '/api/accounts/:id/reset',
    role: 'manage',
    says: 'A one-time link with which somebody chooses a new password; the old one and all sessions end',
    body: Type.Object({}),
    answer: Shape({ path: Text }),
    changes: ['account', 'setup'],
  }),
  chooseNew: endpoint({
    method: 'post',
    path: '/api/reset',
    role: 'anyone',
    says: 'Chooses a new password with a one-time link, and signs in',
    limits: [{ most: 20, seconds: 600, by: 'origin', refusedOnly: true }],
    body: Type.Object({ token: Type.String({ maxLength: 100 }), password: Type.String({ maxLength: 200 }) }),
    changes: ['account'],
  }),
};
