import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Count, Instant, Nullable, Shape } from '../shapes';

const Text = Type.String();

/** Work that goes on by itself and keeps failing, or whose trouble does not pass: what it is, since when, and when it is tried again. */
export const FailingJob = Shape({
  kind: Text,
  /** What the kind of work is called. */
  words: Text,
  key: Text,
  trouble: Text,
  failing_since: Instant,
  due_at: Instant,
  attempts: Count,
});
export type FailingJob = Static<typeof FailingJob>;

/** All work of one kind. */
export const KindOfJob = Shape({
  kind: Text,
  words: Text,
  /** How many there are, how many of them should have begun a minute ago and more, and how many failed the last time. */
  waiting: Count,
  overdue: Count,
  failing: Count,
  next_at: Nullable(Instant),
});
export type KindOfJob = Static<typeof KindOfJob>;

/** What is kept for a while only: how much of it there is. */
export const KeptForAWhile = Shape({ words: Text, keeps: Text, rows: Count });
export type KeptForAWhile = Static<typeof KeptForAWhile>;

export const jobs = {
  list: endpoint({
    method: 'get',
    path: '/api/jobs',
    role: 'look',
    says: 'What goes on by itself: every kind of work with how much of it waits, what keeps failing, and what is kept for a while only',
    answer: Shape({ kinds: Type.Array(KindOfJob), failing: Type.Array(FailingJob), kept: Type.Array(KeptForAWhile) }),
    live: ['setup', 'replies', 'runs', 'carrier'],
  }),
  again: endpoint({
    method: 'post',
    path: '/api/jobs/again',
    role: 'send',
    says: 'Tries work that failed at once, instead of later',
    body: Shape({ kind: Type.String({ minLength: 1, maxLength: 40 }), key: Type.String({ maxLength: 80 }) }),
    answer: Shape({}),
    changes: ['setup', 'replies', 'runs'],
  }),
};
