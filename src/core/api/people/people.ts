import { Type, type Static } from 'typebox';
import { endpoint, fileEndpoint } from '../endpoint';
import { FieldDef, RuleAnswer } from './groups';
import { Count, FieldValues, Id, Instant, Made, Micro, Nullable, OneOf, Shape } from '../shapes';

const Text = Type.String();
const MaybeText = Nullable(Text);

/** Which people, as it stands in an address: all that is given holds together. `rule` is a condition as JSON. */
const FILTER = {
  search: Type.Optional(Type.String({ maxLength: 200 })),
  list: Type.Optional(Type.String({ maxLength: 20 })),
  tag: Type.Optional(Type.String({ maxLength: 20 })),
  segment: Type.Optional(Type.String({ maxLength: 20 })),
  cannot: Type.Optional(Type.String({ maxLength: 1 })),
  rule: Type.Optional(Type.String({ maxLength: 8000 })),
  /** Those of a run, by what became of their text and why. */
  run: Type.Optional(Type.String({ maxLength: 20 })),
  outcome: Type.Optional(Type.String({ maxLength: 20 })),
  reason: Type.Optional(Type.String({ maxLength: 160 })),
};
export const PeopleQuery = Type.Object(FILTER);
export type PeopleQuery = Static<typeof PeopleQuery>;
/** The same in a body. */
const FilterBody = Type.Record(Type.String({ maxLength: 20 }), Type.String({ maxLength: 8000 }));
export const ExportQuery = Type.Object({
  ...FILTER,
  name: Type.Optional(Type.String({ maxLength: 200 })),
  /** Keys of columns as the table shows them, in that order, with commas between; all of them where it is left out. */
  columns: Type.Optional(Type.String({ maxLength: 8000 })),
});
export type ExportQuery = Static<typeof ExportQuery>;

/** A person as a row of the people's table. */
export const PersonRow = Shape({
  id: Id,
  given_name: Text,
  family_name: Text,
  number: MaybeText,
  reference: MaybeText,
  language: MaybeText,
  zone: MaybeText,
  zone_guessed: Type.Boolean(),
  born: MaybeText,
  number_kind: MaybeText,
  number_country: MaybeText,
  created_at: Instant,
  /** `yes`, or why they cannot be texted. */
  reach: Text,
  /** Where this row stands in the order, for asking what comes after it. */
  key: Text,
  fields: Type.Record(Text, Text),
  tags: Type.Array(Text),
  dependants: Type.Array(Text),
});
export type PersonRow = Static<typeof PersonRow>;

/** Everyone, lists, tags and segments, with the fields. */
export const Sources = Shape({
  everyone: Count,
  cannot: Count,
  lists: Type.Array(
    Shape({
      id: Id,
      name: Text,
      people: Count,
      filling_import: Nullable(Id),
      /** Who is not reached by so many broadcasts in a row leaves it. */ leave_after: Nullable(Count),
    }),
  ),
  tags: Type.Array(Shape({ id: Id, name: Text, people: Count })),
  segments: Type.Array(Shape({ id: Id, name: Text, rule: RuleAnswer })),
  fields: Type.Array(FieldDef),
});
export type Sources = Static<typeof Sources>;

/** A person as they are typed by hand. */
export const PersonBody = Shape({
  given_name: Type.String({ maxLength: 100 }),
  family_name: Type.String({ maxLength: 100 }),
  number: Type.String({ maxLength: 40 }),
  reference: Type.String({ maxLength: 100 }),
  language: Type.String({ maxLength: 5 }),
  zone: Type.String({ maxLength: 60 }),
  born: Type.Optional(Type.String({ maxLength: 10 })),
  quiet: Type.Optional(Type.String({ pattern: '^(([01]\\d|2[0-3]):[0-5]\\d-([01]\\d|2[0-3]):[0-5]\\d)?$' })),
  kind: Type.Optional(OneOf('', 'mobile', 'fixed')),
  fields: FieldValues,
});
export type PersonBody = Static<typeof PersonBody>;

/** A change of many people at once. */
export const BulkAct = Type.Union([
  Shape({ kind: Type.Literal('tag'), name: Type.String({ minLength: 1, maxLength: 60 }) }),
  Shape({ kind: Type.Literal('untag'), id: Type.Integer() }),
  Shape({ kind: Type.Literal('put_on'), id: Type.Integer() }),
  Shape({ kind: Type.Literal('put_on_new'), name: Type.String({ minLength: 1, maxLength: 100 }) }),
  Shape({ kind: Type.Literal('take_off'), id: Type.Integer() }),
  Shape({
    kind: Type.Literal('set'),
    field: Type.String({ pattern: '^[a-z][a-z0-9_]{0,40}$' }),
    value: Type.String({ maxLength: 500 }),
  }),
]);
export type BulkAct = Static<typeof BulkAct>;

/** A dependant as a person's profile shows them. */
export const DependantRow = Shape({
  id: Id,
  given_name: Text,
  family_name: Text,
  reference: MaybeText,
  born: MaybeText,
  fields: Type.Record(Text, Text),
  contact: Type.Integer(),
  must_not_receive: Type.Boolean(),
  others: Nullable(Type.Array(Shape({ id: Id, name: Text, contact: Type.Integer() }))),
});
export type DependantRow = Static<typeof DependantRow>;

export const ConsentEvent = Shape({
  purpose: OneOf('service', 'marketing'),
  act: Text,
  how: Text,
  evidence: Text,
  wording: Text,
  number: Text,
  at: Instant,
  by: MaybeText,
});
export type ConsentEvent = Static<typeof ConsentEvent>;

/** Everything known about a person. */
export const KnownPerson = Shape({
  person: Shape({
    id: Id,
    given_name: Text,
    family_name: Text,
    reference: MaybeText,
    number: MaybeText,
    number_country: MaybeText,
    number_kind: MaybeText,
    kind_source: MaybeText,
    language: MaybeText,
    zone: MaybeText,
    zone_guessed: Type.Boolean(),
    born: MaybeText,
    /** Hours in which they are not to be disturbed, in their zone: HH:MM-HH:MM. */
    quiet: MaybeText,
    fields: Type.Record(Text, Text),
    created_at: Instant,
    updated_at: Instant,
    reach: Text,
    /** How many others have the same number. */
    shares: Count,
  }),
  lists: Type.Array(Shape({ id: Id, name: Text })),
  tags: Type.Array(Shape({ id: Id, name: Text })),
  consent: Type.Array(ConsentEvent),
  texts: Type.Array(
    Shape({
      id: Id,
      direction: OneOf('to', 'from'),
      body: Text,
      at: Instant,
      state: Type.Optional(Text),
      reason: Type.Optional(MaybeText),
      run: Type.Optional(MaybeText),
      run_id: Type.Optional(Nullable(Id)),
      kind: Type.Optional(Text),
    }),
  ),
  dependants: Type.Array(DependantRow),
  sharers: Type.Array(Shape({ id: Id, given_name: Text, family_name: Text })),
  suppressed: Nullable(Shape({ at: Instant, how: Text, words: Text })),
});
export type KnownPerson = Static<typeof KnownPerson>;

/** Something done with many people at once: by somebody, or by itself. */
export const ManyChanged = Shape({
  id: Id,
  what: Text,
  people: Count,
  at: Instant,
  by: Nullable(Text),
  undone: Type.Boolean(),
});
export type ManyChanged = Static<typeof ManyChanged>;

export const people = {
  sources: endpoint({
    method: 'get',
    path: '/api/people/sources',
    role: 'look',
    says: 'Everyone, lists, tags and segments, with counts of all but the segments, and the fields',
    answer: Sources,
    live: ['people', 'import'],
  }),
  list: endpoint({
    method: 'get',
    path: '/api/people',
    role: 'look',
    says: 'A page of people of a filter, in the order of ?sort= (?down=1), after ?after_key= and ?after_id=',
    query: Type.Object({
      ...FILTER,
      sort: Type.Optional(Type.String({ maxLength: 60 })),
      down: Type.Optional(Type.String({ maxLength: 1 })),
      after_key: Type.Optional(Type.String({ maxLength: 1000 })),
      after_id: Type.Optional(Type.String({ maxLength: 20 })),
    }),
    answer: Shape({ people: Type.Array(PersonRow) }),
    live: ['people'],
  }),
  count: endpoint({
    method: 'get',
    path: '/api/people/count',
    role: 'look',
    says: 'How many people a filter has, and how many of them can be texted',
    query: PeopleQuery,
    answer: Shape({ people: Count, can: Count }),
    live: ['people'],
  }),
  bulk: endpoint({
    method: 'post',
    path: '/api/people/bulk',
    role: 'write',
    says: 'Changes many people at once: those of a filter (as in the address of the list) or by id; can be undone',
    body: Shape({
      filter: Type.Optional(FilterBody),
      ids: Type.Optional(Type.Array(Type.Integer(), { maxItems: 5000 })),
      act: BulkAct,
      what: Type.String({ maxLength: 200 }),
    }),
    answer: Shape({ id: Id, people: Count }),
    changes: ['people'],
  }),
  changes: endpoint({
    method: 'get',
    path: '/api/people/changes',
    role: 'look',
    says: 'What was done with many people at once within thirty days, the latest first; what has not been undone can be',
    answer: Shape({ changes: Type.Array(ManyChanged) }),
    live: ['people'],
  }),
  undoBulk: endpoint({
    method: 'post',
    path: '/api/people/bulk/:id/undo',
    role: 'write',
    says: 'Takes a bulk change back, where it still stands',
    body: Type.Object({}),
    answer: Shape({ people: Count }),
    changes: ['people'],
  }),
  sharing: endpoint({
    method: 'get',
    path: '/api/people/sharing',
    role: 'look',
    says: 'Who has a number, however it is written, but for ?except=',
    query: Shape({
      number: Type.String({ maxLength: 60 }),
      except: Type.Optional(Type.Integer({ minimum: 1, maximum: 2_000_000_000 })),
    }),
    answer: Shape({ number: Nullable(Text), sharers: Type.Array(Shape({ id: Id, name: Text })) }),
  }),
  get: endpoint({
    method: 'get',
    path: '/api/people/:id',
    role: 'look',
    says: 'Everything known about a person',
    answer: KnownPerson,
    live: ['people', 'replies'],
  }),
  make: endpoint({
    method: 'post',
    path: '/api/people',
    role: 'write',
    says: 'Adds a person by hand',
    body: PersonBody,
    answer: Made,
    changes: ['people'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/people/:id',
    role: 'write',
    says: 'Changes a person; a changed number takes them out of what is planned for the old one',
    body: PersonBody,
    changes: ['people'],
  }),
  merge: endpoint({
    method: 'post',
    path: '/api/people/:id/merge',
    role: 'write',
    says: 'Makes one person of this one and another, who goes',
    body: Shape({ other_id: Type.Integer() }),
    answer: Made,
    changes: ['people'],
  }),
  consent: endpoint({
    method: 'post',
    path: '/api/people/:id/consent',
    role: 'write',
    says: 'Writes down what a person said about being texted: how, and the wording they agreed to',
    body: Shape({
      purpose: OneOf('service', 'marketing'),
      act: OneOf('granted', 'withdrawn'),
      how: Type.String({ minLength: 1, maxLength: 100 }),
      evidence: Type.String({ maxLength: 300 }),
      wording: Type.String({ maxLength: 500 }),
    }),
    changes: ['people'],
  }),
  optOut: endpoint({
    method: 'post',
    path: '/api/people/:id/opt-out',
    role: 'write',
    says: 'Puts a person’s number on the do-not-text register, as told by them',
    body: Shape({ words: Type.String({ maxLength: 300 }) }),
    changes: ['people'],
  }),
  twins: endpoint({
    method: 'get',
    path: '/api/people/:id/twins',
    role: 'look',
    says: 'People who may be the same: the same number, reference or name',
    answer: Shape({
      people: Type.Array(Shape({ id: Id, given_name: Text, family_name: Text, number: MaybeText, reference: MaybeText })),
    }),
    live: ['people'],
  }),
  erase: endpoint({
    method: 'delete',
    path: '/api/people/:id',
    role: 'manage',
    says: 'Erases a person; a number that opted out stays in the register',
    changes: ['people'],
  }),
  text: endpoint({
    method: 'post',
    path: '/api/people/:id/text',
    role: 'send',
    says: 'Sends one text to a person, as an answer',
    body: Shape({ words: Type.String({ minLength: 1, maxLength: 1600 }) }),
    changes: ['people', 'replies', 'balance'],
  }),
  exportCsv: fileEndpoint({
    path: '/api/people/export.csv',
    role: 'look',
    says: 'The people of a filter as CSV',
    query: ExportQuery,
  }),
  exportXlsx: fileEndpoint({
    path: '/api/people/export.xlsx',
    role: 'look',
    says: 'The people of a filter as a workbook',
    query: ExportQuery,
  }),
  exportVcf: fileEndpoint({
    path: '/api/people/export.vcf',
    role: 'look',
    says: 'The people of a filter as vCards (RFC 6350)',
    query: ExportQuery,
  }),
  lookupOffer: endpoint({
    method: 'get',
    path: '/api/people/lookup',
    role: 'look',
    says: 'How many numbers of a filter a line lookup would ask about, and what it would cost',
    query: PeopleQuery,
    answer: Shape({ numbers: Count, cost_micro: Micro, price_micro: Micro }),
  }),
  lookup: endpoint({
    method: 'post',
    path: '/api/people/lookup',
    role: 'send',
    says: 'Looks up what lines the numbers of a filter are, paid per number; agreed for at most so many',
    body: Shape({
      filter: FilterBody,
      /** What was shown before: if there are more by now, nothing is asked. */
      agreed: Type.Integer({ minimum: 1 }),
    }),
    answer: Shape({ numbers: Count, fixed: Count, cost_micro: Micro }),
    changes: ['people', 'balance'],
  }),
};
