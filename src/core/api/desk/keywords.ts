import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Count, Id, Instant, Made, Nullable, OneOf, Shape } from '../shapes';

const Text = Type.String();
const Wording = Type.String({ minLength: 1, maxLength: 320, pattern: '\\S' });

export const KeywordBody = Shape({
  word: Type.String({ minLength: 1, maxLength: 30, pattern: '\\S' }),
  sender_id: Id,
  list_id: Nullable(Id),
  tag_id: Nullable(Id),
  purpose: OneOf('service', 'marketing'),
  /** What stands beside it on the poster. */
  consent_wording: Type.String({ minLength: 1, maxLength: 500, pattern: '\\S' }),
  confirms: Wording,
  /** They are asked first, and signed up when they say yes. */
  asks_first: Type.Boolean(),
  asks: Type.String({ maxLength: 320 }),
  from_at: Nullable(Instant),
  until_at: Nullable(Instant),
});
export type KeywordBody = Static<typeof KeywordBody>;

export const Keyword = Shape({
  ...KeywordBody.properties,
  id: Id,
  from_at: Instant,
  sender: Text,
  address: Text,
  list: Nullable(Text),
  tag: Nullable(Text),
  /** How many numbers signed up by it, and how many were asked and have not said yes. */
  signed_up: Count,
  asked: Count,
  last_at: Nullable(Instant),
  ended_at: Nullable(Instant),
  /** Other words that are easily taken for it. */
  alike: Type.Array(Text),
});
export type Keyword = Static<typeof Keyword>;

export const keywords = {
  list: endpoint({
    method: 'get',
    path: '/api/keywords',
    role: 'look',
    says: 'Words by which people sign up, and those that have ended, with how many did',
    answer: Shape({ keywords: Type.Array(Keyword), workspace: Text }),
    live: ['replies', 'setup', 'people'],
  }),
  add: endpoint({
    method: 'post',
    path: '/api/keywords',
    role: 'write',
    says: 'Adds a word by which people sign up; one word means one thing at a sender',
    body: KeywordBody,
    answer: Made,
    changes: ['replies'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/keywords/:id',
    role: 'write',
    says: 'Changes a keyword that has not ended; who signed up before agreed to what it said then, which stays written down',
    body: KeywordBody,
    changes: ['replies'],
  }),
  end: endpoint({
    method: 'post',
    path: '/api/keywords/:id/end',
    role: 'write',
    says: 'Ends a keyword: it is an answer like any other from now on; ends nothing of what it did',
    body: Type.Object({}),
    changes: ['replies'],
  }),
};
