import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { HeldAnswer } from './passing';
import { Count, Id, Instant, Micro, Nullable, OneOf, Shape } from '../shapes';

const Text = Type.String();
const Number = Type.String({ minLength: 1, maxLength: 40 });
/** The last text from them that was on the screen: nothing that came after it is answered or put away unread. */
const Seen = Type.Integer({ minimum: 0 });

export const View = OneOf('waiting', 'others', 'later', 'all');
export type View = Static<typeof View>;

/** A conversation as one line: who, since when they wait, and the last that they wrote. */
export const Conversation = Shape({
  number: Text,
  person_id: Nullable(Id),
  name: Text,
  /** The first of what waits for an answer; null when nothing does. */
  since: Nullable(Instant),
  /** How many of their texts wait. */
  waiting: Count,
  last: Shape({ id: Id, at: Instant, body: Text, kind: Text }),
  /** The last answer of ours. */
  answered: Seen,
  /** What waits and may mean stop, which need not be the last they wrote: no run texts them until somebody has decided. */
  doubtful: Nullable(Text),
  opted_out: Type.Boolean(),
  run_id: Nullable(Id),
  run: Nullable(Text),
  claimed_by: Nullable(Shape({ id: Id, name: Text })),
  later_at: Nullable(Instant),
});
export type Conversation = Static<typeof Conversation>;

const Counts = Shape({ waiting: Count, others: Count, later: Count });

/** One text of a conversation, either way. */
export const ThreadText = Shape({
  id: Id,
  direction: OneOf('to', 'from'),
  at: Instant,
  body: Text,
  /** Of texts to them: run, reply, confirmation, automatic, test, opt_out, passed, alarm. Of theirs: reply, stop, help, start, maybe_stop, auto, reaction, answer, unread. */
  kind: Text,
  state: Nullable(Text),
  reason: Nullable(Text),
  run_id: Nullable(Id),
  run: Nullable(Text),
  /** To how many that broadcast went. */
  people: Nullable(Count),
  /** Of texts to them: for whom it was, where several have the number, or who is shown was not meant. */
  meant: Nullable(Text),
  /** Who of the desk wrote it. */
  by: Nullable(Text),
  /** Of theirs: it came when the text it answers was of no more use, or when replies to it were read no more. */
  late: Type.Boolean(),
  /** Of theirs: for how many days replies to what it answers are read, where that has an end. */
  read_days: Nullable(Count),
  incomplete: Type.Boolean(),
  trouble: Nullable(Text),
  /** Of theirs: its octets in hexadecimal, where it could not be read. */
  octets: Nullable(Text),
  waits: Type.Boolean(),
  /** Of theirs: to whom it was passed on. */
  passed_to: Nullable(Text),
});
export type ThreadText = Static<typeof ThreadText>;

export const Thread = Shape({
  number: Text,
  person_id: Nullable(Id),
  name: Text,
  texts: Type.Array(ThreadText),
  /** There is more before the first of these. */
  more: Type.Boolean(),
  opted_out: Type.Boolean(),
  /** Others who have the number, too. */
  shared_with: Type.Array(Shape({ id: Id, name: Text })),
  /** Who was written to at this number before, and has another now, or none. */
  had_before: Type.Array(Shape({ id: Id, name: Text, until: Instant })),
  /** What an answer would come from; null where there is no sender that takes replies. */
  sender: Nullable(Shape({ id: Id, name: Text, address: Text })),
  /** The last of theirs and the last answer of ours, as they are now. */
  seen: Seen,
  answered: Seen,
  claimed_by: Nullable(Shape({ id: Id, name: Text })),
  later_at: Nullable(Instant),
  /** What somebody answered to whom it was passed on, and did not go on. */
  held: Type.Array(HeldAnswer),
});
export type Thread = Static<typeof Thread>;

const Words = Type.String({ minLength: 1, maxLength: 4000, pattern: '\\S' });

export const replies = {
  list: endpoint({
    method: 'get',
    path: '/api/replies',
    role: 'look',
    says: 'Conversations: those that wait for you (the longest first), that others have claimed, that are put away until later, or all (the latest first, found by ?search=, or of those who answered to ?run=); a page after ?after=',
    query: Type.Object({
      view: Type.Optional(View),
      search: Type.Optional(Type.String({ maxLength: 200 })),
      /** Those who answered to a run. */
      run: Type.Optional(Type.Integer({ minimum: 1 })),
      after: Type.Optional(Type.String({ maxLength: 80 })),
    }),
    answer: Shape({
      conversations: Type.Array(Conversation),
      counts: Counts,
      next: Nullable(Text),
      /** The name of the run that was asked for. */
      run: Nullable(Text),
    }),
    live: ['replies', 'people'],
  }),
  thread: endpoint({
    method: 'get',
    path: '/api/replies/thread',
    role: 'look',
    says: 'Everything that was said with a number or its person, either way, the latest last; what stands before ?before=',
    query: Type.Object({ number: Number, before: Type.Optional(Type.String({ maxLength: 40 })) }),
    answer: Thread,
    live: ['replies', 'people'],
  }),
  proof: endpoint({
    method: 'post',
    path: '/api/replies/proof',
    role: 'look',
    says: 'An answer as it would be received, what it would cost, and what must be fixed',
    body: Shape({ number: Number, words: Type.String({ maxLength: 4000 }) }),
    answer: Shape({
      text: Text,
      parts: Count,
      cost_micro: Nullable(Micro),
      problems: Type.Array(Text),
      /** When it would go, where not at once: nobody is woken who wrote long ago. */
      goes_at: Nullable(Instant),
    }),
  }),
  answer: endpoint({
    method: 'post',
    path: '/api/replies/answer',
    role: 'send',
    says: 'Answers a number; refused when somebody else has answered since what was seen',
    body: Shape({ number: Number, words: Words, seen: Seen, answered: Seen }),
    changes: ['replies', 'balance'],
  }),
  claim: endpoint({
    method: 'post',
    path: '/api/replies/claim',
    role: 'write',
    says: 'Claims a conversation for oneself or passes it on to a colleague; without an account nobody has it any more',
    body: Shape({ number: Number, account_id: Nullable(Id), from: Nullable(Id) }),
    changes: ['replies'],
  }),
  putAway: endpoint({
    method: 'post',
    path: '/api/replies/put-away',
    role: 'write',
    says: 'Puts a conversation away until a time or until they write again; without a time it needs no answer',
    body: Shape({ number: Number, seen: Seen, until: Nullable(Instant) }),
    changes: ['replies'],
  }),
  bringBack: endpoint({
    method: 'post',
    path: '/api/replies/bring-back',
    role: 'write',
    says: 'What was put away waits again; what needed no answer does, from the last that they wrote',
    body: Shape({ number: Number }),
    changes: ['replies'],
  }),
  notStop: endpoint({
    method: 'post',
    path: '/api/replies/not-a-stop',
    role: 'write',
    says: 'What may have meant stop does not: they are texted again, and their text waits for an answer',
    body: Shape({ number: Number, seen: Seen }),
    changes: ['replies', 'people'],
  }),
  optOut: endpoint({
    method: 'post',
    path: '/api/replies/opt-out',
    role: 'write',
    says: 'They meant stop, or it is a wrong number: puts the number on the register and takes it out of everything planned',
    body: Shape({ number: Number, wrong_number: Type.Boolean() }),
    changes: ['replies', 'people'],
  }),
  desk: endpoint({
    method: 'get',
    path: '/api/replies/desk',
    role: 'look',
    says: 'Who a conversation can be passed on to',
    answer: Shape({ accounts: Type.Array(Shape({ id: Id, name: Text })) }),
    live: ['account'],
  }),
};
