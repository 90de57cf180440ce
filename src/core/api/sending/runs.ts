import { ManyChanged } from '../people/people';
import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Count, Id, Instant, Micro, Nullable, OneOf, SenderKind, Shape, Tally } from '../shapes';

const Text = Type.String();
const MaybeInstant = Nullable(Instant);

/** How long delivery took, for the texts handed over in one minute; seconds. */
export const Delay = Shape({ at: Instant, half: Type.Number(), slow: Type.Number(), n: Count });
export type Delay = Static<typeof Delay>;

/** What is told of a run wherever one stands. */
export const PLANNED = {
  id: Id,
  name: Text,
  state: Text,
  people: Count,
  parts: Count,
  due_at: Instant,
  last_due_at: Instant,
};
export const RUN_FACTS = { ...PLANNED, cost_micro: Micro };

export const RunAnswer = Shape({
  run: Shape({
    ...RUN_FACTS,
    broadcast_id: Id,
    /** While it is planned: how many texts are stored. */
    stored: Count,
    called_off: Type.Boolean(),
    not_after: Instant,
    /** The last day on which any of its replies are read, YYYY-MM-DD; null without an end. */
    replies_until: Nullable(Text),
    takeback_until: Instant,
    pressed_at: Instant,
    started_at: MaybeInstant,
    ended_at: MaybeInstant,
    note: Text,
    /** Why it waits for a person. */
    asks: Nullable(Text),
    /** What brought it about, and whether more come after it. */
    origin: OneOf('press', 'repeat', 'import', 'current'),
    goes_on: Type.Boolean(),
    by: Nullable(Text),
    sender: Text,
    sender_address: Text,
    sender_kind: SenderKind,
    /** Of its broadcast. */
    labels: Type.Array(Text),
  }),
  /** Texts that wait since their words name a day that was counted from another than today: how many, and from which. */
  other_day: Nullable(Shape({ n: Count, day: Text })),
  tally: Tally,
  reasons: Type.Array(Shape({ state: Text, reason: Text, n: Count })),
  /** The lists that its broadcast goes to. */
  lists: Type.Array(Shape({ id: Id, name: Text })),
  events: Type.Array(Shape({ at: Instant, what: Text, by: Nullable(Text) })),
  replies: Type.Array(Shape({ body: Text, number: Text, kind: Text, done_at: MaybeInstant })),
  /** People who answered, how many texts that were, and how many of those wait for an answer. */
  answers: Shape({ people: Count, texts: Count, waiting: Count }),
  money: Shape({ spent: Micro, parts: Count }),
  /** Texts with a link, and those in which one was followed; then link by link. */
  clicks: Shape({
    clicked: Count,
    links: Count,
    /** How often they were opened in all, and how many were opened by machines. */
    opens: Count,
    machines: Count,
    by: Type.Array(Shape({ name: Text, address: Text, clicked: Count, links: Count })),
    /** First clicks over time, in steps of ten minutes. */
    times: Type.Array(Shape({ at: Instant, n: Count })),
  }),
  /** Answers that say the same, by how many people say it; those that only one says are left out. */
  alike: Type.Array(Shape({ body: Text, people: Count })),
  /** What those who opted out by it said, the latest first. */
  stops: Type.Array(Shape({ number: Text, name: Text, at: Instant, words: Text })),
  delays: Type.Array(Delay),
  /** When reasons, course, delays and links were counted: of a large run that goes they are counted now and then. */
  as_of: Instant,
  opted_out: Count,
  /** Texts over time: how many were to go in each step after `from`, and how many have. Null for runs of before. */
  course: Nullable(Shape({ from: Instant, step_seconds: Count, planned: Type.Array(Count), went: Type.Array(Count) })),
  /** Of those who were chosen, who was not written to and why; null for runs of before. */
  ledger: Nullable(Shape({ chosen: Count, dropped: Type.Record(Text, Count) })),
  /** What was done with people of this run (tagged, taken off a list; `by` null: by a list's standing rule), and whether that was undone. */
  left: Type.Array(ManyChanged),
  /** What is wrong with it, or was. */
  alarms: Type.Array(Shape({ id: Id, words: Text, at: Instant, seen_at: MaybeInstant, seen_by: Nullable(Text) })),
  /** As it was written, by language. */
  words: Type.Record(Text, Text),
  /** What goes beside the texts and counts nobody again: texts for opting out that follow them, copies for the desk. */
  beside: Type.Array(Shape({ kind: OneOf('opt_out', 'copy'), state: Text, n: Count })),
});
export type RunAnswer = Static<typeof RunAnswer>;

/** Answers to a question with choices, each person counted once, by the last they said. */
export const RunTally = Shape({
  /** As the first language has them; empty where the text asks for none. */
  choices: Type.Array(Text),
  people: Type.Array(Count),
  /** Answers that a person must look at, and how many there are; late ones came when replies were read no more. */
  doubtful: Type.Array(Shape({ id: Id, number: Text, name: Text, body: Text, late: Type.Boolean() })),
  doubts: Count,
  /** People whose answers make no choice. */
  others: Count,
  /** People who got it and have not answered. */
  silent: Count,
});
export type RunTally = Static<typeof RunTally>;

export const alarms = {
  seen: endpoint({
    method: 'post',
    path: '/api/alarms/:id/seen',
    role: 'write',
    says: 'Somebody has seen what is wrong with a run: it is shown as wrong no more',
    body: Type.Object({}),
    changes: ['runs', 'run'],
  }),
};

export const runs = {
  get: endpoint({
    method: 'get',
    path: '/api/runs/:id',
    role: 'look',
    says: 'A run: tally, reasons, course, cost against what was shown',
    answer: RunAnswer,
    live: ['run', 'runs', 'replies', 'people'],
  }),
  tally: endpoint({
    method: 'get',
    path: '/api/runs/:id/tally',
    role: 'look',
    says: 'Answers to the question with choices that a run asks, counted by person',
    answer: RunTally,
    live: ['run', 'replies'],
  }),
  choose: endpoint({
    method: 'post',
    path: '/api/replies/:id/choice',
    role: 'write',
    says: 'Says which choice a reply makes, counted from 0; null for none',
    body: Shape({ choice: Nullable(Type.Integer({ minimum: 0, maximum: 8 })) }),
    changes: ['replies'],
  }),
  agree: endpoint({
    method: 'post',
    path: '/api/runs/:id/agree',
    role: 'send',
    says: 'Lets a run go that waits for a person, because it differs much from the one before',
    body: Type.Object({}),
    changes: ['runs'],
  }),
  otherDay: endpoint({
    method: 'post',
    path: '/api/runs/:id/other-day',
    role: 'send',
    says: 'Lets those texts of a run go that wait since the day that their words were counted from has passed',
    body: Type.Object({}),
    changes: ['runs'],
  }),
  pause: endpoint({
    method: 'post',
    path: '/api/runs/:id/pause',
    role: 'send',
    says: 'Holds what has not gone',
    body: Type.Object({}),
    changes: ['runs'],
  }),
  resume: endpoint({
    method: 'post',
    path: '/api/runs/:id/resume',
    role: 'send',
    says: 'Goes on',
    body: Type.Object({}),
    changes: ['runs'],
  }),
  cancelRest: endpoint({
    method: 'post',
    path: '/api/runs/:id/cancel-rest',
    role: 'send',
    says: 'Cancels everything of the run that has not gone',
    body: Type.Object({}),
    changes: ['runs', 'balance'],
  }),
};
