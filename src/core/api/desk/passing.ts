import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Count, Id, Instant, Made, Nullable, OneOf, Shape } from '../shapes';

const Text = Type.String();

/** Who answers, and how it comes to them. */
const PassTo = Shape({
  name: Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' }),
  way: OneOf('text', 'mail'),
  /** A number as it is typed, kept in E.164; or one e-mail address. */
  address: Type.String({ minLength: 1, maxLength: 254 }),
  any_hour: Type.Boolean(),
});
export type PassTo = Static<typeof PassTo>;

export const PassOnBody = Shape({
  what: OneOf('all', 'keyword', 'broadcast'),
  keyword_id: Nullable(Id),
  broadcast_id: Nullable(Id),
  ...PassTo.properties,
});
export type PassOnBody = Static<typeof PassOnBody>;

/** One conversation, from now on. */
export const GiveBody = Shape({ number: Type.String({ minLength: 1, maxLength: 20 }), ...PassTo.properties });

export const PassOn = Shape({
  ...PassOnBody.properties,
  what: OneOf('all', 'keyword', 'broadcast', 'conversation'),
  id: Id,
  /** The keyword's word, the broadcast's name, or with whom the conversation is. */
  of: Nullable(Text),
  /** Of a conversation: with which number. */
  number: Nullable(Text),
  passed: Count,
  answered: Count,
  last_at: Nullable(Instant),
  trouble: Nullable(Text),
});
export type PassOn = Static<typeof PassOn>;

export const PassOnAnswer = Shape({
  rules: Type.Array(PassOn),
  /** Whom something was passed on to before, the latest first. */
  known: Type.Array(PassTo),
  /** By mail it can be done: a server is set, or the practice mailbox stands in. */
  mail: Type.Boolean(),
  broadcasts: Type.Array(Shape({ id: Id, name: Text })),
});
export type PassOnAnswer = Static<typeof PassOnAnswer>;

/** An answer of theirs that did not go on. */
export const HeldAnswer = Shape({ id: Id, at: Instant, by: Text, words: Text, reason: Text });
export type HeldAnswer = Static<typeof HeldAnswer>;

export const passing = {
  list: endpoint({
    method: 'get',
    path: '/api/passing',
    role: 'look',
    says: 'To whom replies are passed on, by text or by mail',
    answer: PassOnAnswer,
    live: ['replies', 'setup', 'broadcasts'],
  }),
  add: endpoint({
    method: 'post',
    path: '/api/passing',
    role: 'manage',
    says: 'Passes replies of a broadcast, of a keyword, or all on to somebody from now on; their answers come back',
    body: PassOnBody,
    answer: Made,
    changes: ['replies'],
  }),
  give: endpoint({
    method: 'post',
    path: '/api/passing/conversation',
    role: 'send',
    says: 'Gives one conversation to somebody by text or mail: what waits in it goes to them, and what that number writes within a week of the last; answers how many texts went',
    body: GiveBody,
    answer: Shape({ passed: Count }),
    changes: ['replies'],
  }),
  end: endpoint({
    method: 'post',
    path: '/api/passing/:id/end',
    role: 'write',
    says: 'Passes nothing more on to somebody; answers to what was passed on still come back',
    body: Type.Object({}),
    changes: ['replies'],
  }),
  again: endpoint({
    method: 'post',
    path: '/api/passing/:id/again',
    role: 'write',
    says: 'Tries what could not be passed on to somebody within a day once more',
    body: Type.Object({}),
    answer: Shape({ again: Count }),
    changes: ['replies'],
  }),
  settle: endpoint({
    method: 'post',
    path: '/api/passing/answers/:id/settle',
    role: 'write',
    says: 'An answer that did not go on has been looked at',
    body: Type.Object({}),
    changes: ['replies'],
  }),
};
