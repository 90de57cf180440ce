import { Type, type Static } from 'typebox';
import { RUN_OUTCOMES, type RunOutcome } from '../../outcome/outcomes';
import { Repeats } from '../times/repeats';
import { LocalClock, LocalDate } from './wall-schemas';

/** Chosen one by one; more is what segments are for. */
export const MOST_DEPENDANTS = 2000;
/** Lists, segments, people and files that one broadcast goes to, or leaves out. */
export const MOST_SOURCES = 200;

/** The draft of a broadcast: one JSON document, saved by itself, validated by this one schema. */
const Source = Type.Union([
  Type.Object({ kind: Type.Literal('everyone') }, { additionalProperties: false }),
  Type.Object({ kind: Type.Literal('list'), id: Type.Integer() }, { additionalProperties: false }),
  Type.Object({ kind: Type.Literal('tag'), id: Type.Integer() }, { additionalProperties: false }),
  Type.Object({ kind: Type.Literal('person'), id: Type.Integer() }, { additionalProperties: false }),
  Type.Object({ kind: Type.Literal('segment'), id: Type.Integer() }, { additionalProperties: false }),
  /** The contacts of these dependants: of each the first who may hear about them. */
  Type.Object(
    { kind: Type.Literal('dependants'), ids: Type.Array(Type.Integer(), { minItems: 1, maxItems: MOST_DEPENDANTS }) },
    { additionalProperties: false },
  ),
  /** Typed or pasted, in E.164. */
  Type.Object(
    {
      kind: Type.Literal('numbers'),
      numbers: Type.Array(Type.String({ pattern: '^\\+[1-9]\\d{6,14}$' }), { minItems: 1, maxItems: 5000 }),
    },
    { additionalProperties: false },
  ),
  /** A file used once: an import that never enters the address book. */
  Type.Object({ kind: Type.Literal('file'), id: Type.Integer() }, { additionalProperties: false }),
  /** Those of an earlier run by what became of their text; of `answered`, only those whose answer holds these words. */
  Type.Object(
    {
      kind: Type.Literal('run'),
      id: Type.Integer(),
      outcome: Type.Unsafe<RunOutcome>(Type.Enum([...RUN_OUTCOMES])),
      words: Type.Optional(Type.String({ maxLength: 60 })),
      /** Of a run that asks a question: only those whose answer is counted as this choice. */
      choice: Type.Optional(
        Type.Object(
          { n: Type.Integer({ minimum: 0, maximum: 8 }), label: Type.String({ maxLength: 60 }) },
          { additionalProperties: false },
        ),
      ),
      /** Only those whose text has this reason. */
      reason: Type.Optional(Type.String({ maxLength: 160 })),
      /** What it was called and when it went, as it is shown. */
      name: Type.String({ maxLength: 160 }),
    },
    { additionalProperties: false },
  ),
  /** Numbers the carrier said do not exist, when last texted. Only to leave out. */
  Type.Object({ kind: Type.Literal('unreachable') }, { additionalProperties: false }),
]);
export type Source = Static<typeof Source>;

/** Links that words may hold, each `{link name}`. */
export const Links = Type.Array(
  Type.Object(
    {
      name: Type.String({ pattern: '^[a-z][a-z0-9_]{0,30}$' }),
      address: Type.String({ maxLength: 500 }),
      /** Leads nowhere any more so many days after the text went; always, where it is left out. */
      days: Type.Optional(Type.Integer({ minimum: 1, maximum: 400 })),
    },
    { additionalProperties: false },
  ),
  { maxItems: 5 },
);

/** Dependants by a field of theirs. */
export const About = Type.Object(
  {
    field: Type.String({ pattern: '^[a-z][a-z0-9_]{0,40}$' }),
    values: Type.Array(Type.String({ minLength: 1, maxLength: 200 }), { minItems: 1, maxItems: 60 }),
  },
  { additionalProperties: false },
);
export type About = Static<typeof About>;

export const Draft = Type.Object(
  {
    to: Type.Array(Source, { maxItems: MOST_SOURCES }),
    leave_out: Type.Array(Source, { maxItems: MOST_SOURCES }),
    unticked: Type.Array(Type.Integer(), { maxItems: 10_000 }),
    /** Unticked by number: those who are nobody in the address book. */
    unticked_numbers: Type.Optional(Type.Array(Type.String({ maxLength: 20 }), { maxItems: 10_000 })),
    /** Where a contact of a dependant cannot be texted, the next contact gets it. */
    second_contacts: Type.Optional(Type.Boolean()),
    /**
     * Whether those get it who must not hear about some dependant, where nobody knows for whom they were chosen: they do not, or they do since
     * it is about no dependant of theirs. Until somebody says, it is asked.
     */
    barred: Type.Optional(Type.Union([Type.Literal('leave_out'), Type.Literal('get_it')])),
    /**
     * Where nobody knows for whom people were chosen: the texts are about those of their dependants with one of these values, and name no
     * others. Left out, they name all.
     */
    about: Type.Optional(About),
    /** In the workspace's first language; for everyone for whom there is no other. */
    words: Type.String({ maxLength: 4000 }),
    /** By language code; a blank one is none. */
    translations: Type.Optional(Type.Record(Type.String({ pattern: '^[a-z]{2,3}$' }), Type.String({ maxLength: 4000 }))),
    /**
     * `in_text` appends the wording for the language, `link` a personal link behind it, `after` sends it as a text of its own once
     * the first is accepted; `none` is for texts that say it themselves.
     */
    opt_out: Type.Union([Type.Literal('in_text'), Type.Literal('link'), Type.Literal('after'), Type.Literal('none')]),
    /** This broadcast's own wording for it, by language code. */
    opt_out_words: Type.Optional(Type.Record(Type.String({ pattern: '^[a-z]{2,3}$' }), Type.String({ maxLength: 120 }))),
    /** The one link of drafts of before; see `links`. */
    link: Type.Union([
      Type.Null(),
      Type.Object(
        { name: Type.String({ pattern: '^[a-z][a-z0-9_]{0,30}$' }), address: Type.String({ maxLength: 500 }) },
        { additionalProperties: false },
      ),
    ]),
    links: Type.Optional(Links),
    /** Of which list each recipient gets a `{code}`. */
    code_list_id: Type.Optional(Type.Union([Type.Null(), Type.Integer()])),
    /** It puts right what an earlier run said: which, and its words, to be looked at beside these. */
    corrects: Type.Optional(
      Type.Object({ run_id: Type.Integer(), words: Type.String({ maxLength: 4000 }) }, { additionalProperties: false }),
    ),
    /** It thanks for answers to an earlier run: which, and its words. */
    thanks_for: Type.Optional(
      Type.Object({ run_id: Type.Integer(), words: Type.String({ maxLength: 4000 }) }, { additionalProperties: false }),
    ),
    purpose: Type.Union([Type.Literal('service'), Type.Literal('marketing')]),
    sender_id: Type.Union([Type.Null(), Type.Integer()]),
    when: Type.Union([
      Type.Object(
        {
          kind: Type.Literal('now'),
          /** It is a draft again when it has gone, to be sent again whenever somebody says so. */
          again: Type.Optional(Type.Boolean()),
        },
        { additionalProperties: false },
      ),
      Type.Object(
        {
          kind: Type.Literal('at'),
          date: LocalDate,
          time: LocalClock,
          /** In each recipient's own zone instead of the workspace's. */
          own: Type.Optional(Type.Boolean()),
          /** Again and again, beginning with that date. */
          repeats: Type.Optional(Repeats),
          /** Who is there when it goes, not when it was agreed to; at most so many, else those who were agreed to. */
          current: Type.Optional(Type.Object({ most: Type.Integer({ minimum: 1 }) }, { additionalProperties: false })),
        },
        { additionalProperties: false },
      ),
      /** Whenever people have been brought into a list. */
      Type.Object(
        {
          kind: Type.Literal('import'),
          list_id: Type.Integer(),
          wait: Type.Optional(Type.Integer({ minimum: 1, maximum: 100 })),
        },
        { additionalProperties: false },
      ),
    ]),
    /** Slower than the sender could: so many texts a minute, or evenly until a time of the workspace's wall clock. */
    pace: Type.Optional(
      Type.Union([
        Type.Object(
          { kind: Type.Literal('a_minute'), texts: Type.Integer({ minimum: 1, maximum: 60_000 }) },
          { additionalProperties: false },
        ),
        Type.Object({ kind: Type.Literal('until'), date: LocalDate, time: LocalClock }, { additionalProperties: false }),
      ]),
    ),
    /** Wall clock in the workspace's zone after which an unsent text is pointless; null = a day after the start. */
    no_use_after: Type.Union([Type.Null(), Type.Object({ date: LocalDate, time: LocalClock }, { additionalProperties: false })]),
    /** Hours and days in the recipient's time in which it may go, beside quiet hours; days 1 (Monday) to 7. */
    allowed: Type.Optional(
      Type.Object(
        {
          days: Type.Array(Type.Integer({ minimum: 1, maximum: 7 }), { minItems: 1, maxItems: 7 }),
          from: Type.String({ pattern: '^([01]\\d|2[0-3]):[0-5]\\d$' }),
          to: Type.String({ pattern: '^(([01]\\d|2[0-3]):[0-5]\\d|24:00)$' }),
        },
        { additionalProperties: false },
      ),
    ),
    /** Names of checks whose hints somebody has put aside; what must be fixed cannot be. */
    dismissed: Type.Optional(Type.Array(Type.String({ maxLength: 60 }), { maxItems: 60 })),
    /** Phones show it at once and need not keep it: class 0 (3GPP TS 23.038 §4). */
    show_at_once: Type.Optional(Type.Boolean()),
    /** Why an urgent service notice overrides quiet and personal hours; needs a role that may. Never for marketing. */
    urgent: Type.Optional(Type.String({ minLength: 4, maxLength: 300 })),
  },
  { additionalProperties: false },
);
export type Draft = Static<typeof Draft>;

export const EMPTY_DRAFT: Draft = {
  to: [],
  leave_out: [],
  unticked: [],
  words: '',
  opt_out: 'in_text',
  link: null,
  purpose: 'service',
  sender_id: null,
  when: { kind: 'now' },
  no_use_after: null,
};
