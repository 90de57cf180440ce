import { LocalDate } from '../../plan/draft/wall-schemas';
import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { FailingJob } from './jobs';
import { RUN_FACTS } from '../sending/runs';
import { Conversation } from './replies';
import { Count, Id, Instant, Micro, Nullable, Shape, Tally } from '../shapes';

const Text = Type.String();

/** One day for the bell line. */
export const Day = Shape({
  date: Text,
  from: Instant,
  to: Instant,
  zone: Text,
  quiet_from: Text,
  quiet_to: Text,
  now: Instant,
  runs: Type.Array(
    Shape({
      id: Id,
      name: Text,
      state: Text,
      people: Count,
      first: Instant,
      last: Instant,
      /** What is wrong with it, and nobody has seen yet. */
      alarm: Nullable(Text),
    }),
  ),
  /** Runs of repeated broadcasts that are planned only shortly before; as many people as the last time. */
  coming: Type.Array(Shape({ broadcast_id: Id, name: Text, people: Count, at: Instant })),
  next: Nullable(Shape({ id: Id, name: Text, due_at: Instant, people: Count })),
  sending: Nullable(Shape({ id: Id, name: Text, people: Count, gone: Count, state: Text })),
});
export type Day = Static<typeof Day>;

export const TodayAnswer = Shape({
  /** The conversations that wait longest, and how many wait. */
  replies: Type.Array(Conversation),
  replies_waiting: Count,
  /** What is wrong with runs, and nobody has seen yet; whether whoever is on duty was told. */
  alarms: Type.Array(
    Shape({ id: Id, run_id: Id, run: Text, kind: Text, words: Text, at: Instant, told: Nullable(Text), trouble: Nullable(Text) }),
  ),
  /** Work that goes on by itself and keeps failing. */
  failing: Type.Array(FailingJob),
  uncertain: Type.Array(Shape({ id: Id, name: Text, n: Count, at: Instant })),
  failed: Type.Array(Shape({ id: Id, name: Text, reason: Nullable(Text), n: Count, at: Instant })),
  missed: Type.Array(Shape({ id: Id, name: Text, note: Text, due_at: Instant, broadcast_id: Id })),
  /** Runs that wait for somebody, since they differ much from the one before. */
  asking: Type.Array(Shape({ id: Id, broadcast_id: Id, name: Text, asks: Text, due_at: Instant })),
  coming: Type.Array(Shape({ broadcast_id: Id, name: Text, people: Count, at: Instant })),
  going: Type.Array(Shape({ ...RUN_FACTS, broadcast_id: Id })),
  sent: Type.Array(
    Shape({
      id: Id,
      name: Text,
      state: Text,
      people: Count,
      due_at: Instant,
      spent_micro: Micro,
      tally: Tally,
      answers: Count,
      opted_out: Count,
      clicked: Count,
    }),
  ),
  imports: Type.Array(
    Shape({ id: Id, file_name: Text, state: Text, counts: Type.Unsafe<Record<string, unknown>>(Type.Object({})) }),
  ),
  /** What a first text still needs, each with where it is put right; empty once all is there. */
  missing: Type.Array(Shape({ what: Text, why: Text, part: Text })),
});
export type TodayAnswer = Static<typeof TodayAnswer>;

export const today = {
  day: endpoint({
    method: 'get',
    path: '/api/day',
    role: 'look',
    says: "One day's runs for the bell line: ?date=YYYY-MM-DD in the workspace's zone",
    query: Type.Object({ date: Type.Optional(LocalDate) }),
    answer: Day,
    live: ['run', 'runs', 'clock', 'setup'],
  }),
  get: endpoint({
    method: 'get',
    path: '/api/today',
    role: 'look',
    says: 'What needs someone, what goes out next, what was just sent',
    answer: TodayAnswer,
    live: ['run', 'runs', 'replies', 'import', 'clock', 'setup', 'balance'],
  }),
};
