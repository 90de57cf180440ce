import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Count, Instant, Nullable, OneOf, Shape } from '../shapes';

/** The practice phones: simulated, and only while the practice carrier is the one connected. */
const Screen = Shape({
  direction: OneOf('in', 'out'),
  address: Type.String(),
  text: Type.String(),
  at: Type.String(),
  /** Parts that have come, of so many. */
  arrived: Count,
  total: Count,
  /** It was shown at once, and is not kept (class 0). */
  at_once: Type.Optional(Type.Boolean()),
});
export const Phone = Shape({ number: Type.String(), name: Type.String(), lastAt: Type.String(), texts: Type.Array(Screen) });
export type Phone = Static<typeof Phone>;

/** A mail in the practice mailbox, or an answer out of it. */
export const BoxMail = Shape({
  id: Count,
  direction: OneOf('in', 'out'),
  at: Type.String(),
  /** Whose mailbox it lies in. */
  owner: Type.String(),
  from: Type.String(),
  subject: Type.String(),
  text: Type.String(),
  /** Of an answer: what the server that took it, or did not, said. */
  said: Nullable(Type.String()),
});
export type BoxMail = Static<typeof BoxMail>;

export const phones = {
  list: endpoint({
    method: 'get',
    path: '/api/phones',
    role: 'look',
    says: 'The practice phones with what is on their screens',
    query: Type.Object({ search: Type.Optional(Type.String({ maxLength: 100 })) }),
    answer: Shape({ total: Count, phones: Type.Array(Phone) }),
    live: ['run', 'replies'],
  }),
  text: endpoint({
    method: 'post',
    path: '/api/phones/:number/text',
    role: 'send',
    says: 'Texts as that phone, also as one that has nothing on its screen yet',
    body: Shape({ to: Type.String({ maxLength: 21 }), text: Type.String({ minLength: 1, maxLength: 600 }) }),
    answer: Type.Object({}),
    changes: ['replies'],
  }),
  mails: endpoint({
    method: 'get',
    path: '/api/phones/mails',
    role: 'look',
    says: 'The practice mailbox: what was mailed, and what was answered out of it, the latest first',
    query: Type.Object({ search: Type.Optional(Type.String({ maxLength: 100 })) }),
    answer: Shape({ mails: Type.Array(BoxMail) }),
    live: ['replies'],
  }),
  answerMail: endpoint({
    method: 'post',
    path: '/api/phones/mails/:id/answer',
    role: 'send',
    says: 'Answers a mail as whoever got it; says what the server that takes answers in said',
    body: Shape({ text: Type.String({ maxLength: 20_000 }) }),
    answer: Shape({ said: Type.String() }),
    changes: ['replies'],
  }),
  moveClock: endpoint({
    method: 'post',
    path: '/api/clock',
    role: 'send',
    says: "Moves the demo's clock forward, in minutes",
    body: Shape({ minutes: Type.Integer({ minimum: 1, maximum: 10_080 }) }),
    answer: Shape({ now: Instant }),
    changes: ['clock'],
  }),
};
