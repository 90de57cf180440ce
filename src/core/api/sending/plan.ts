import { Type, type Static } from 'typebox';
import { DROP_REASONS } from '../../plan/reach/reach';
import { Count, Id, Instant, Micro, Nullable, OneOf, SenderKind, Shape } from '../shapes';

const Text = Type.String();

/** The text exactly as one recipient gets it. */
export const ProofText = Shape({
  kind: OneOf('usual', 'longest', 'fallback', 'language'),
  /** How many get a text of this kind. */
  people: Count,
  /** Null for a number that is nobody's in the address book. */
  person_id: Nullable(Id),
  name: Text,
  number: Text,
  text: Text,
  parts: Count,
  /** With what follows it. */
  cost_micro: Micro,
  /** The text for opting out that follows it. */
  after: Nullable(Shape({ text: Text, parts: Count })),
  alphabet: OneOf('gsm7', 'ucs2'),
  due: Instant,
  zone: Text,
  zone_guessed: Type.Boolean(),
  language: Text,
});
export type ProofText = Static<typeof ProofText>;

const Place = OneOf('to', 'words', 'when', 'from', 'cost');
/** Something that must be fixed, or a hint: what it is about, and which check says so. */
export const Remark = Shape({
  place: Place,
  message: Text,
  fix: Type.Optional(Text),
  /** A time that could be taken instead, on the workspace's wall clock. */
  instead: Type.Optional(Shape({ date: Text, time: Text })),
  /** The step of the reach ledger that lists its people. */
  step: Type.Optional(Text),
  check: Text,
});
export type Remark = Static<typeof Remark>;

/** What the sheet, the last look and the run show; made by the server over the real audience. */
export const PlanSummary = Shape({
  chosen: Count,
  named_twice: Count,
  /** Next contacts who get it because the one before them cannot be texted. */
  stepped_in: Count,
  /** How many could step in, if it were so chosen. */
  can_step_in: Count,
  dropped: Shape({
    ...(Object.fromEntries(DROP_REASONS.map((reason) => [reason, Count])) as Record<(typeof DROP_REASONS)[number], typeof Count>),
    too_late: Count,
  }),
  people: Count,
  parts: Count,
  cost_micro: Micro,
  balance_micro: Micro,
  currency: Text,
  /** Instants of the first and the last text. */
  first: Nullable(Instant),
  last: Nullable(Instant),
  not_after: Instant,
  /** For a start at once: the few seconds in which it can be taken back. */
  takeback_seconds: Type.Number(),
  /** parts → people, ascending. */
  distribution: Type.Array(Shape({ parts: Count, people: Count })),
  /** Usual units and the longest, for the measure line. */
  units: Shape({ usual: Count, longest: Count, room: Count }),
  alphabet: Shape({ gsm7: Count, ucs2: Count }),
  fallback: Count,
  zones: Type.Array(Shape({ zone: Text, people: Count, first: Instant, last: Instant, guessed: Count })),
  /** One-time codes: how many there are for this broadcast, how many it needs, and whether each recipient's is known. */
  codes: Nullable(Shape({ name: Text, free: Count, needed: Count, exact: Type.Boolean() })),
  /** By where it goes, as the rate card calls it; the prefix stands for it. */
  destinations: Type.Array(Shape({ prefix: Text, name: Text, people: Count, parts: Count, cost_micro: Micro })),
  /** Texts over time: how many are due in each step after `from`, in all and for the first zones as they are listed. */
  course: Nullable(
    Shape({
      from: Instant,
      step_seconds: Count,
      all: Type.Array(Count),
      zones: Type.Array(Shape({ zone: Text, texts: Type.Array(Count) })),
    }),
  ),
  sender: Nullable(Shape({ id: Id, name: Text, kind: SenderKind, address: Text, reply_days: Nullable(Count) })),
  /** What characters force the extended alphabet in the words themselves, with what they cost over everyone. */
  forcing: Type.Array(
    Shape({
      language: Text,
      character: Text,
      replacement: Nullable(Text),
      /** It can go without a word changing. */
      picture: Type.Boolean(),
      at: Type.Array(Count),
    }),
  ),
  /** Who gets which words, by language; `worded_in` is another where there are none in their own. */
  languages: Type.Array(
    Shape({
      language: Text,
      worded_in: Text,
      opt_out: Text,
      /** What is added to say until which day replies are read; empty where nothing is. */
      replies: Text,
      people: Count,
      parts: Count,
      longest: Count,
      extra_parts: Type.Integer(),
      extra_micro: Micro,
    }),
  ),
  extended_cost: Nullable(Shape({ parts: Type.Integer(), cost_micro: Micro })),
  /** What texts of their own for opting out come to, counted in parts and cost above. */
  after: Nullable(Shape({ parts: Count, cost_micro: Micro })),
  /** Copies for people of the desk, counted in parts and cost above but in nobody's number of people. */
  copies: Nullable(Shape({ names: Type.Array(Text), parts: Count, cost_micro: Micro })),
  opt_out_words: Text,
  must_fix: Type.Array(Remark),
  hints: Type.Array(Remark),
  samples: Type.Array(ProofText),
});
export type PlanSummary = Static<typeof PlanSummary>;
