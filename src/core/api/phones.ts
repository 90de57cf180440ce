import { Type, type Static } from 'typebox';
import { endpoint } from './endpoint';
import { Count, Instant, OneOf, Shape } from './shapes';

/** The practice phones: simulated, and only while the practice carrier is the one connected. */
const Screen = Shape({
  direction: OneOf('in', 'out'),
  address: Type.String(),
  text: Type.String(),
  at: Type.String(),
  /** Parts that have come, of so many. */
  arrived: Count,
  total: Count,
});
export const Phone = Shape({ number: Type.String(), name: Type.String(), lastAt: Type.String(), texts: Type.Array(Screen) });
export type Phone = Static<typeof Phone>;

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
    says: 'Answers as that phone',
    body: Shape({ to: Type.String({ maxLength: 21 }), text: Type.String({ minLength: 1, maxLength: 600 }) }),
    answer: Type.Object({}),
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
