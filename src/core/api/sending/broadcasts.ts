import { Type, type Static } from 'typebox';
import { Draft, MOST_DEPENDANTS } from '../../plan/draft/draft';
import type { Tested } from '../../plan/ready/since-test';
import { RUN_OUTCOMES } from '../../outcome/outcomes';
import { endpoint, fileEndpoint } from '../endpoint';
import { PlanSummary, ProofText } from './plan';
import { Count, Id, Instant, Made, Micro, Nullable, OneOf, SenderKind, Shape, Skip } from '../shapes';

const Text = Type.String();
/** Labels: each once, short, as it was written. */
const Labels = Type.Array(Type.String({ minLength: 1, maxLength: 40 }), { maxItems: 12 });
const State = OneOf('draft', 'scheduled', 'set_aside', 'canceled', 'ended');

/** A broadcast as a row of their list, with its latest run. */
export const BroadcastRow = Shape({
  id: Id,
  name: Text,
  /** Its name, else its first words; empty where there are neither. */
  called: Text,
  state: State,
  updated_at: Instant,
  /** The first of its words. */
  words: Text,
  run_id: Nullable(Id),
  run_state: Nullable(Text),
  people: Nullable(Count),
  parts: Nullable(Count),
  cost_micro: Nullable(Micro),
  due_at: Nullable(Instant),
  by: Nullable(Text),
  labels: Labels,
  goes_on: Type.Boolean(),
  next_at: Nullable(Instant),
});
export type BroadcastRow = Static<typeof BroadcastRow>;

export const Sender = Shape({ id: Id, name: Text, kind: SenderKind, address: Text });

/** The last test of a draft. */
export const TestedAnswer = Shape({
  at: Instant,
  by: Nullable(Text),
  numbers: Count,
  /** As whom it was written. */
  as: Text,
  /** What a tester saw, as it was. */
  draft: Type.Unsafe<Tested>(Type.Object({})),
});
export type TestedAnswer = Static<typeof TestedAnswer>;

export const BroadcastAnswer = Shape({
  id: Id,
  name: Text,
  state: State,
  draft: Draft,
  version: Type.Integer(),
  updated_at: Instant,
  run: Nullable(Shape({ id: Id, state: Text, people: Count, due_at: Instant })),
  /** More runs come by themselves: on the next date, or with the next import (null). */
  goes_on: Type.Boolean(),
  next_at: Nullable(Instant),
  senders: Type.Array(Sender),
  labels: Labels,
  tested: Nullable(TestedAnswer),
});
export type BroadcastAnswer = Static<typeof BroadcastAnswer>;

const Which = Shape({ draft: Draft, which: Type.String({ maxLength: 20 }), index: Type.Integer({ minimum: 0 }) });

/** Someone in a step of the reach ledger. */
export const StepPerson = Shape({
  id: Nullable(Id),
  name: Text,
  number: Nullable(Text),
  why: Text,
  dependants: Type.Array(Text),
  other_numbers: Text,
});
export type StepPerson = Static<typeof StepPerson>;

export const broadcasts = {
  list: endpoint({
    method: 'get',
    path: '/api/broadcasts',
    role: 'look',
    says: 'Broadcasts, those being made and scheduled first; of one state by ?state=, of one label by ?label=, found by name, words or label with ?search=',
    query: Type.Object({
      state: Type.Optional(Type.String({ maxLength: 20 })),
      label: Type.Optional(Type.String({ maxLength: 40 })),
      search: Type.Optional(Type.String({ maxLength: 200 })),
      skip: Skip,
    }),
    answer: Shape({ broadcasts: Type.Array(BroadcastRow), total: Count }),
    live: ['broadcasts', 'run', 'runs'],
  }),
  labels: endpoint({
    method: 'get',
    path: '/api/labels',
    role: 'look',
    says: 'Every label in use, with how many broadcasts have it',
    answer: Shape({ labels: Type.Array(Shape({ label: Text, broadcasts: Count })) }),
    live: ['broadcasts'],
  }),
  label: endpoint({
    method: 'put',
    path: '/api/broadcasts/:id/labels',
    role: 'write',
    says: 'The labels of a broadcast, at any time, also after its end',
    body: Shape({ labels: Labels }),
    answer: Shape({ labels: Labels }),
    changes: ['broadcasts', 'runs'],
  }),
  make: endpoint({
    method: 'post',
    path: '/api/broadcasts',
    role: 'write',
    says: 'A new draft, to a list, a segment, chosen people or the contacts of chosen dependants where one is given, a copy of another, or a follow-up of a run',
    body: Shape({
      name: Type.String({ maxLength: 120 }),
      list_id: Type.Optional(Type.Integer()),
      segment_id: Type.Optional(Type.Integer()),
      people: Type.Optional(Type.Array(Type.Integer(), { maxItems: 200 })),
      /** To the contacts of these. */
      dependants: Type.Optional(Type.Array(Type.Integer(), { minItems: 1, maxItems: MOST_DEPENDANTS })),
      copy: Type.Optional(Type.Integer()),
      /** To those of a run by what became of their text, or to put right what it said. */
      follow: Type.Optional(
        Shape({
          run_id: Type.Integer(),
          outcome: OneOf(...RUN_OUTCOMES),
          words: Type.Optional(Type.String({ maxLength: 60 })),
          reason: Type.Optional(Type.String({ maxLength: 160 })),
          choice: Type.Optional(Shape({ n: Type.Integer({ minimum: 0, maximum: 8 }), label: Type.String({ maxLength: 60 }) })),
          /** The same words once more. */
          again: Type.Optional(Type.Boolean()),
          /** In the other half of the day. */
          better_hour: Type.Optional(Type.Boolean()),
          corrects: Type.Optional(Type.Boolean()),
          thanks: Type.Optional(Type.Boolean()),
        }),
      ),
    }),
    answer: Made,
    changes: ['broadcasts'],
  }),
  get: endpoint({
    method: 'get',
    path: '/api/broadcasts/:id',
    role: 'look',
    says: 'A broadcast with its draft and its latest run',
    answer: BroadcastAnswer,
    live: ['run', 'runs', 'setup', 'draft'],
  }),
  save: endpoint({
    method: 'put',
    path: '/api/broadcasts/:id',
    role: 'write',
    says: 'Saves the draft; the version must be the one it was made from',
    body: Shape({ name: Type.String({ maxLength: 120 }), draft: Draft, version: Type.Integer() }),
    answer: Shape({ version: Type.Integer(), updated_at: Instant }),
    changes: ['broadcasts', 'draft'],
  }),
  here: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/here',
    role: 'look',
    says: 'Says that the draft is open in a tab, and where on it somebody is (nowhere: the tab is closed); tells who else is, and where',
    body: Shape({
      tab: Type.String({ pattern: '^[0-9a-zA-Z-]{8,60}$' }),
      place: OneOf('name', 'to', 'words', 'when', 'look', 'nowhere'),
    }),
    answer: Shape({ others: Type.Array(Shape({ name: Text, place: Text })) }),
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/broadcasts/:id',
    role: 'write',
    says: 'Deletes a draft that was never sent',
    changes: ['broadcasts'],
  }),
  plan: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/plan',
    role: 'look',
    says: 'The exact reach, parts, cost and times of a draft over the real audience; nothing is written, but that with `reserve` its one-time codes are reserved for ten minutes',
    body: Shape({ draft: Draft, reserve: Type.Optional(Type.Boolean()) }),
    answer: Shape({ plan: PlanSummary, digest: Text }),
  }),
  proof: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/proof',
    role: 'look',
    says: 'The text exactly as one recipient gets it: which kind, and the how-manieth',
    body: Which,
    answer: Shape({
      total: Count,
      index: Count,
      proof: Nullable(ProofText),
      languages: Type.Array(Text),
      sender_id: Nullable(Id),
    }),
  }),
  proofs: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/proofs',
    role: 'look',
    says: 'Every text of a draft as its recipient would get it, paged by skip; for checking a plan from outside',
    body: Shape({ draft: Draft, skip: Type.Optional(Type.Integer({ minimum: 0 })) }),
    answer: Shape({ total: Count, proofs: Type.Array(ProofText) }),
  }),
  people: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/people',
    role: 'look',
    says: 'The people of one step of the reach ledger: will_get, chosen, named_twice, call_list, or a reason; found by name or number',
    body: Shape({
      draft: Draft,
      step: Type.String({ maxLength: 80 }),
      skip: Type.Integer({ minimum: 0, maximum: 10_000_000 }),
      search: Type.Optional(Type.String({ maxLength: 100 })),
    }),
    answer: Shape({ total: Count, people: Type.Array(StepPerson) }),
  }),
  aboutWhom: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/about',
    role: 'look',
    says: 'Where nobody knows for whom people were chosen: values of their dependants, to name only those, with how many people have one',
    body: Shape({ draft: Draft }),
    answer: Shape({
      choices: Type.Array(Shape({ field: Text, label: Text, value: Text, people: Count })),
    }),
  }),
  test: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/test',
    role: 'write',
    says: "Texts a proof to one's own number, to named testers, or to both; what it was is kept, to say later what has changed since",
    body: Type.Object(
      { ...Which.properties, me: Type.Boolean(), testers: Type.Array(Type.Integer(), { maxItems: 50 }) },
      { additionalProperties: false },
    ),
    answer: Shape({
      numbers: Type.Array(Text),
      /** For whom it is no hour to be texted: they got none. */
      later: Type.Array(Shape({ name: Text, at: Nullable(Instant) })),
      tested: TestedAnswer,
    }),
    changes: ['balance', 'broadcasts'],
  }),
  press: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/press',
    role: 'send',
    says: 'Sends: the digest must be that of the last look; the same press id twice is one run, and one that was refused or taken back makes none',
    body: Shape({
      version: Type.Integer(),
      digest: Type.String({ pattern: '^[0-9a-f]{64}$' }),
      press_id: Type.String({ pattern: '^[0-9a-zA-Z-]{8,60}$' }),
    }),
    /** Null where the first run comes with the next import. */
    answer: Shape({ run_id: Nullable(Id) }),
    changes: ['broadcasts', 'runs', 'balance'],
  }),
  setAside: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/set-aside',
    role: 'send',
    says: 'Takes a scheduled broadcast back, also while it is still being planned: nothing of it has gone, its money returns; of a repeated one nothing more goes, or only the next run is skipped',
    body: Shape({ as: OneOf('set_aside', 'draft', 'canceled', 'skipped') }),
    changes: ['broadcasts', 'runs', 'balance'],
  }),
  putBack: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/put-back',
    role: 'write',
    says: 'Makes a broadcast that was set aside or canceled the draft again that was agreed to; it goes once it is agreed to anew',
    body: Type.Object({}),
    answer: Shape({ version: Type.Integer() }),
    changes: ['broadcasts'],
  }),
  shorter: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/shorter',
    role: 'look',
    says: 'How the words of a language could be said shorter, plainer or cheaper, by rule, with what each saves over the real audience',
    body: Shape({ draft: Draft, language: Type.String({ pattern: '^[a-z]{2,3}$' }) }),
    answer: Shape({
      proposals: Type.Array(
        Shape({ words: Text, why: Text, was: Text, becomes: Text, saves_parts: Type.Integer(), saves_micro: Micro }),
      ),
    }),
  }),
  rehearse: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/rehearse',
    role: 'look',
    says: 'The plan of a draft played with how texts and answers fared lately: when the last arrives, how many fail, how many answers an hour; nothing is written',
    limits: [{ most: 60, seconds: 60, by: 'session' }],
    body: Shape({ draft: Draft }),
    answer: Shape({
      /** Null where too few texts have gone lately to say. */
      past: Nullable(
        Shape({
          texts: Count,
          hours: Count,
          failed: Type.Number(),
          answered: Type.Number(),
          delays: Type.Array(Type.Number()),
          lags: Type.Array(Type.Number()),
        }),
      ),
      played: Nullable(
        Shape({
          texts: Count,
          last_goes: Instant,
          last_arrives: Instant,
          fails: Type.Number(),
          answers: Type.Number(),
          hours: Type.Array(Shape({ at: Instant, texts: Count, answers: Type.Number() })),
        }),
      ),
      /** People who may write and are signed in somewhere. */
      desk: Count,
    }),
  }),
  xliff: fileEndpoint({
    path: '/api/broadcasts/:id/xliff',
    role: 'look',
    says: 'The words for a translator as XLIFF 2.0, into ?language=, with what there is of the translation unless ?whole=no',
    query: Type.Object({ language: Type.String({ pattern: '^[a-z]{2,3}$' }), whole: Type.Optional(OneOf('yes', 'no')) }),
  }),
  readXliff: endpoint({
    method: 'post',
    path: '/api/broadcasts/:id/xliff',
    role: 'write',
    says: 'A translation as XLIFF 2.0, read: its words as they are to stand in the draft; nothing is saved. One with a changed or missing placeholder is refused with its place',
    upload: 1024 * 1024,
    query: Type.Object({ language: Type.String({ pattern: '^[a-z]{2,3}$' }) }),
    answer: Shape({ words: Text }),
  }),
  checkLinks: endpoint({
    method: 'post',
    path: '/api/links/check',
    role: 'write',
    says: 'Whether somebody answers at these addresses, as far as can be told from here; only pages of the public internet are asked',
    limits: [{ most: 60, seconds: 60, by: 'session' }],
    body: Shape({ addresses: Type.Array(Type.String({ maxLength: 500 }), { minItems: 1, maxItems: 5 }) }),
    answer: Shape({ links: Type.Array(Shape({ address: Text, answers: OneOf('yes', 'no', 'unknown'), why: Text })) }),
  }),
  readNumbers: endpoint({
    method: 'post',
    path: '/api/numbers/read',
    role: 'look',
    says: 'Typed or pasted numbers, read: those that are numbers in E.164, and the others with why not',
    limits: [{ most: 120, seconds: 60, by: 'session' }],
    body: Shape({ text: Type.String({ maxLength: 200_000 }) }),
    answer: Shape({
      numbers: Type.Array(Text),
      wrong: Type.Array(Shape({ text: Text, why: Text, /** The number that it may be. */ after: Nullable(Text) })),
      twice: Count,
      /** Numbers beyond what one source can hold. */
      left: Count,
    }),
  }),
};
