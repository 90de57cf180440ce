import { Type, type Static } from 'typebox';
import { RUN_OUTCOMES } from '../../outcome/outcomes';
import { endpoint, fileEndpoint } from '../endpoint';
import { After, Count, Id, Instant, Nullable, OneOf, Shape } from '../shapes';

const Text = Type.String();
const MaybeInstant = Nullable(Instant);

export const Recipient = Shape({
  id: Id,
  person_id: Nullable(Id),
  given_name: Nullable(Text),
  family_name: Nullable(Text),
  number: Text,
  parts: Count,
  state: Text,
  reason: Nullable(Text),
  due_at: Instant,
  handed_at: MaybeInstant,
  final_at: MaybeInstant,
  body: Text,
  /** As they are known now. */
  language: Nullable(Text),
  zone: Nullable(Text),
  /** The text for opting out that followed it, once it has. */
  after: Nullable(Shape({ body: Text, parts: Count, state: Text, reason: Nullable(Text) })),
});
export type Recipient = Static<typeof Recipient>;

/** One radio message of a text, and what became of it. */
export const PartStory = Shape({
  no: Count,
  state: Text,
  reason: Nullable(Text),
  message_id: Nullable(Text),
  attempts: Count,
  written_at: MaybeInstant,
  accepted_at: MaybeInstant,
  final_at: MaybeInstant,
});
export type PartStory = Static<typeof PartStory>;

/** Which recipients of a run. */
const WHICH = {
  state: Type.Optional(Type.String({ maxLength: 20 })),
  reason: Type.Optional(Type.String({ maxLength: 160 })),
  outcome: Type.Optional(OneOf(...RUN_OUTCOMES)),
  language: Type.Optional(Type.String({ maxLength: 10 })),
  zone: Type.Optional(Type.String({ maxLength: 60 })),
  search: Type.Optional(Type.String({ maxLength: 100 })),
};
const Which = Type.Object(WHICH);
export type WhichRecipients = Static<typeof Which>;

export const recipients = {
  list: endpoint({
    method: 'get',
    path: '/api/runs/:id/recipients',
    role: 'look',
    says: 'Recipients of a run, by ?state= and ?reason=, by ?outcome= (answered, clicked and so on), ?language= and ?zone= (as they are known now), found by name or number with ?search=, paged by ?after=',
    query: Type.Object({ ...WHICH, after: After }),
    answer: Shape({ recipients: Type.Array(Recipient) }),
    live: ['run'],
  }),
  kinds: endpoint({
    method: 'get',
    path: '/api/runs/:id/recipients/kinds',
    role: 'look',
    says: 'Languages and zones of the recipients of a run, with how many have each',
    answer: Shape({
      languages: Type.Array(Shape({ language: Nullable(Text), n: Count })),
      zones: Type.Array(Shape({ zone: Nullable(Text), n: Count })),
    }),
  }),
  parts: endpoint({
    method: 'get',
    path: '/api/runs/:id/recipients/:text/parts',
    role: 'look',
    says: 'The story of the parts of one text of a run',
    answer: Shape({ parts: Type.Array(PartStory) }),
    live: ['run'],
  }),
  csv: fileEndpoint({
    path: '/api/runs/:id/recipients.csv',
    role: 'look',
    says: 'Recipients of a run with state, times, reason and exact words, as CSV; narrowed as the list is',
    query: Which,
  }),
  xlsx: fileEndpoint({
    path: '/api/runs/:id/recipients.xlsx',
    role: 'look',
    says: 'The same as a workbook',
    query: Which,
  }),
};
