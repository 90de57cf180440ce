import { LocalDate } from '../../plan/draft/wall-schemas';
import { Type, type Static } from 'typebox';
import { endpoint, fileEndpoint } from '../endpoint';
import { PLANNED } from './runs';
import { Count, Id, Instant, Micro, Nullable, Shape, Skip, Tally } from '../shapes';

const Text = Type.String();
const Day = Type.Optional(LocalDate);

/** Which runs: all that is given holds together. Days are the workspace's. */
const WHICH = {
  from: Day,
  to: Day,
  label: Type.Optional(Type.String({ maxLength: 60 })),
  sender: Type.Optional(Type.Integer()),
  /** Whoever sent it. */
  account: Type.Optional(Type.Integer()),
  list: Type.Optional(Type.Integer()),
  /** Words of its name or of its text. */
  search: Type.Optional(Type.String({ maxLength: 200 })),
};
export const OutcomesQuery = Type.Object({ ...WHICH, skip: Skip });
export type OutcomesQuery = Static<typeof OutcomesQuery>;

/** A run as a row of the outcomes. People who answered, clicked and opted out are counted once each. */
export const OutcomeRow = Shape({
  // its parts as they were planned; what it has taken is told apart
  ...PLANNED,
  spent_parts: Count,
  spent_micro: Micro,
  started_at: Nullable(Instant),
  ended_at: Nullable(Instant),
  note: Text,
  purpose: Text,
  labels: Type.Array(Text),
  by: Nullable(Text),
  sender: Text,
  words: Text,
  tally: Tally,
  answers: Count,
  opted_out: Count,
  clicked: Count,
  /** Texts that had a link to follow. */
  linked: Count,
});
export type OutcomeRow = Static<typeof OutcomeRow>;

/** Shares that half of such runs reach, between 0 and 1; null where there are too few to say. */
const Usual = Shape({
  runs: Count,
  delivered: Nullable(Type.Number()),
  answers: Nullable(Type.Number()),
  clicked: Nullable(Type.Number()),
  opted_out: Nullable(Type.Number()),
});
export type Usual = Static<typeof Usual>;

/** Runs taken together. */
const TOGETHER = {
  runs: Count,
  delivered: Count,
  answers: Count,
  clicked: Count,
  linked: Count,
  opted_out: Count,
  spent_micro: Micro,
};
export const OverTimeAnswer = Shape({
  /** By the hour of the day, 0 to 23, and by the day of the week, Monday first, in the workspace's zone. */
  hours: Type.Array(Shape(TOGETHER)),
  weekdays: Type.Array(Shape(TOGETHER)),
  months: Type.Array(Shape({ month: Text, ...TOGETHER })),
  labels: Type.Array(Shape({ name: Text, ...TOGETHER })),
  senders: Type.Array(Shape({ name: Text, ...TOGETHER })),
});
export type OverTimeAnswer = Static<typeof OverTimeAnswer>;

/** What became of the broadcasts to one person. */
export const PersonHistory = Shape({
  delivered: Count,
  not_delivered: Count,
  /** Broadcasts they answered, and that they clicked of those with a link. */
  answered: Count,
  linked: Count,
  clicked: Count,
  /** Half of their answers came within so many seconds; null where there are none. */
  answers_after: Nullable(Type.Number()),
  since: Nullable(Instant),
  usual: Usual,
});
export type PersonHistory = Static<typeof PersonHistory>;

const Named = Shape({ id: Id, name: Text });

export const outcomes = {
  list: endpoint({
    method: 'get',
    path: '/api/outcomes',
    role: 'look',
    says: 'Runs that ended or are going, latest first, with what became of them and what is usual; by day, label, sender, list, who sent it and words; a page after ?skip=',
    query: OutcomesQuery,
    answer: Shape({ runs: Type.Array(OutcomeRow), total: Count, usual: Usual }),
    live: ['run', 'runs', 'replies'],
  }),
  which: endpoint({
    method: 'get',
    path: '/api/outcomes/which',
    role: 'look',
    says: 'What outcomes can be narrowed to: labels, senders, lists and those who have sent something',
    answer: Shape({
      labels: Type.Array(Text),
      senders: Type.Array(Named),
      accounts: Type.Array(Named),
      lists: Type.Array(Named),
    }),
    live: ['runs', 'broadcasts'],
  }),
  compare: endpoint({
    method: 'get',
    path: '/api/outcomes/compare',
    role: 'look',
    says: 'Two to four runs beside one another, in the order given: ?ids=5,3,9',
    query: Type.Object({ ids: Type.String({ pattern: '^\\d{1,15}(,\\d{1,15}){1,3}$' }) }),
    answer: Shape({ runs: Type.Array(OutcomeRow) }),
    live: ['run', 'runs', 'replies'],
  }),
  overTime: endpoint({
    method: 'get',
    path: '/api/outcomes/over-time',
    role: 'look',
    says: 'Runs taken together by hour and weekday sent, by month, label and sender; narrowed as the outcomes are',
    query: Type.Object(WHICH),
    answer: OverTimeAnswer,
    live: ['runs', 'replies'],
  }),
  person: endpoint({
    method: 'get',
    path: '/api/people/:id/history',
    role: 'look',
    says: 'What became of the broadcasts to a person: delivered, answered, clicked, beside what is usual, and how soon they answer',
    answer: PersonHistory,
    live: ['run', 'runs', 'replies'],
  }),
  csv: fileEndpoint({
    path: '/api/outcomes.csv',
    role: 'look',
    says: 'Every run of the outcomes with its figures, as CSV',
    query: Type.Object(WHICH),
  }),
  xlsx: fileEndpoint({
    path: '/api/outcomes.xlsx',
    role: 'look',
    says: 'Every run of the outcomes with its figures, as a workbook: numbers as numbers, moments as moments of the workspace’s clock',
    query: Type.Object(WHICH),
  }),
};
