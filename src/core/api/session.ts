import { Type, type Static } from 'typebox';
import { endpoint } from './endpoint';
import { ROLES } from './roles';
import { Count, Id, Instant, Micro, Nullable, OneOf, Shape } from './shapes';

const TEN_MINUTES = 600;
const RoleName = OneOf(...ROLES);

export const CarrierState = Shape({
  state: OneOf('connected', 'connecting'),
  since: Type.Number(),
  why: Type.String(),
  /** Why nothing gets through although there is a connection. */
  trouble: Nullable(Type.String()),
});

export const SessionAnswer = Shape({
  account: Nullable(
    Shape({
      id: Id,
      name: Type.String(),
      email: Type.String(),
      role: RoleName,
      own_number: Nullable(Type.String()),
      place: Type.String(),
    }),
  ),
  workspace: Nullable(
    Shape({
      name: Type.String(),
      zone: Type.String(),
      country: Type.String(),
      currency: Type.String(),
      languages: Type.Array(Type.String()),
      quiet_from: Type.String(),
      quiet_to: Type.String(),
      hours: OneOf('12', '24'),
      /** Whom service notices go to. */
      notices: OneOf('unless_withdrawn', 'granted'),
    }),
  ),
  /** The workspace's name, told also to those who are not signed in. */
  name: Type.String(),
  demo: Type.Boolean(),
  practice: Type.Boolean(),
  now: Instant,
  balance_micro: Type.Optional(Micro),
  replies: Type.Optional(Count),
  carrier: Type.Optional(CarrierState),
  /** The moment this was answered at, as the live line knows it: what changes after it is told from there on. */
  moment: Type.Optional(Type.String()),
});
export type SessionAnswer = Static<typeof SessionAnswer>;

export const SHORTEST_PASSWORD = 12;
/** A password that is chosen; one that is only tried may be anything. */
export const Password = Type.String({ minLength: SHORTEST_PASSWORD, maxLength: 200 });

/** Who asks, and how they come in and go. */
export const session = {
  get: endpoint({
    method: 'get',
    path: '/api/session',
    role: 'anyone',
    says: 'Who is signed in, and what every page needs to know',
    answer: SessionAnswer,
    live: ['replies', 'runs', 'carrier', 'balance', 'clock', 'setup', 'account'],
  }),
  signIn: endpoint({
    method: 'post',
    path: '/api/sign-in',
    role: 'anyone',
    says: 'Signs in with e-mail address and password',
    // a stranger's: of an address from one place and from all, and from one place over whatever addresses; a device's own beside them
    limits: [
      { most: 30, seconds: TEN_MINUTES, by: 'stranger’s origin', refusedOnly: true },
      { most: 10, seconds: TEN_MINUTES, by: 'stranger’s address and origin', refusedOnly: true },
      { most: 100, seconds: TEN_MINUTES, by: 'stranger’s address', refusedOnly: true },
      { most: 10, seconds: TEN_MINUTES, by: 'device', refusedOnly: true },
    ],
    body: Type.Object({ email: Type.String({ maxLength: 200 }), password: Type.String({ maxLength: 200 }) }),
    changes: ['account'],
  }),
  signOut: endpoint({ method: 'post', path: '/api/sign-out', role: 'look', says: 'Ends this session', changes: ['account'] }),
  join: endpoint({
    method: 'post',
    path: '/api/invitation',
    role: 'anyone',
    says: 'Makes an account with a one-time link, and signs in',
    limits: [{ most: 20, seconds: TEN_MINUTES, by: 'origin', refusedOnly: true }],
    body: Type.Object({
      token: Type.String({ maxLength: 100 }),
      name: Type.String({ minLength: 1, maxLength: 100 }),
      email: Type.String({ format: 'email', maxLength: 200 }),
      password: Type.String({ maxLength: 200 }),
    }),
    changes: ['account'],
  }),
  ownNumber: endpoint({
    method: 'put',
    path: '/api/session/own-number',
    role: 'write',
    says: 'Texts a code to a number, to prove that it is the account’s own',
    body: Shape({ number: Type.String({ minLength: 1, maxLength: 40 }) }),
    answer: Shape({ number: Type.String() }),
    changes: ['balance'],
  }),
  place: endpoint({
    method: 'put',
    path: '/api/session/place',
    role: 'look',
    says: 'Where one works, as it stands in texts one writes',
    body: Shape({ place: Type.String({ maxLength: 60 }) }),
    changes: ['account'],
  }),
  ownNumberCode: endpoint({
    method: 'post',
    path: '/api/session/own-number/code',
    role: 'write',
    says: 'The code that came: from now on test texts go to that number',
    body: Shape({ code: Type.String({ minLength: 1, maxLength: 20 }) }),
    answer: Shape({ number: Type.String() }),
    changes: ['account'],
  }),
};
