import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Count, Id, Instant, Made, Nullable, OneOf, Shape } from '../shapes';

const Text = Type.String();

export const PassOnBody = Shape({
  what: OneOf('all', 'keyword', 'broadcast'),
  keyword_id: Nullable(Id),
  broadcast_id: Nullable(Id),
  name: Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' }),
  way: OneOf('text', 'mail'),
  /** A number as it is typed, kept in E.164; or one e-mail address. */
  address: Type.String({ minLength: 1, maxLength: 254 }),
  any_hour: Type.Boolean(),
});
export type PassOnBody = Static<typeof PassOnBody>;

export const PassOn = Shape({
  ...PassOnBody.properties,
  id: Id,
  /** The keyword's word or the broadcast's name. */
  of: Nullable(Text),
  passed: Count,
  answered: Count,
  last_at: Nullable(Instant),
  trouble: Nullable(Text),
});
export type PassOn = Static<typeof PassOn>;

/** An answer of theirs that did not go on. */
export const HeldAnswer = Shape({ id: Id, at: Instant, by: Text, words: Text, reason: Text });
export type HeldAnswer = Static<typeof HeldAnswer>;

export const passing = {
  list: endpoint({
    method: 'get',
    path: '/api/passing',
    role: 'look',
    says: 'To whom replies are passed on, by text or by mail',
    answer: Shape({
      rules: Type.Array(PassOn),
      /** By mail it can be done: a server is set, or the practice mailbox stands in. */
      mail: Type.Boolean(),
      broadcasts: Type.Array(Shape({ id: Id, name: Text })),
    }),
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
