import { Type, type Static } from 'typebox';
import { endpoint } from './endpoint';
import { Id, Instant, Nullable, Shape } from './shapes';

export const Reply = Shape({
  id: Id,
  received_at: Instant,
  number: Type.String(),
  body: Type.String(),
  /** reply, stop, help, start, maybe_stop */
  kind: Type.String(),
  person_id: Nullable(Id),
  given_name: Nullable(Type.String()),
  family_name: Nullable(Type.String()),
  run: Nullable(Type.String()),
  run_id: Nullable(Id),
  done_at: Nullable(Instant),
  opted_out: Type.Boolean(),
  /** Some of its parts never came. */
  incomplete: Type.Boolean(),
  /** What could not be done about it. */
  trouble: Nullable(Type.String()),
});
export type Reply = Static<typeof Reply>;

export const replies = {
  list: endpoint({
    method: 'get',
    path: '/api/replies',
    role: 'look',
    says: 'Replies that wait for a person, longest waiting first; ?done=1 for the others',
    query: Type.Object({ done: Type.Optional(Type.String({ maxLength: 1 })) }),
    answer: Shape({ replies: Type.Array(Reply) }),
    live: ['replies', 'people'],
  }),
  done: endpoint({
    method: 'post',
    path: '/api/replies/:id/done',
    role: 'write',
    says: 'A reply needs no answer',
    body: Type.Object({}),
    changes: ['replies'],
  }),
  optOut: endpoint({
    method: 'post',
    path: '/api/replies/:id/opt-out',
    role: 'write',
    says: 'The person meant stop: puts the number on the register and takes it out of everything planned',
    body: Shape({ wrong_number: Type.Boolean() }),
    changes: ['replies', 'people'],
  }),
};
