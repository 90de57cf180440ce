import { Type } from 'typebox';
import { Condition } from '../../audience/condition';
import { endpoint } from '../endpoint';
import { Count, Id, Made, Nullable, OneOf, Shape } from '../shapes';

const Named = Shape({ name: Type.String({ minLength: 1, maxLength: 100 }) });
export const FieldType = OneOf('text', 'number', 'date', 'choice', 'yes_no');
const About = OneOf('person', 'dependant');
const Choices = Type.Array(Type.String({ minLength: 1, maxLength: 100 }), { maxItems: 100 });
const Rule = Shape({ name: Type.String({ minLength: 1, maxLength: 100 }), rule: Type.Unknown() });

export const FieldDef = Shape({
  slug: Type.String(),
  label: Type.String(),
  type: FieldType,
  about: About,
  choices: Type.Array(Type.String()),
});
/** A condition as it stands; it nests, and is checked where it is taken in. */
export const RuleAnswer = Type.Unsafe<Condition>(Type.Object({}));

/** Lists and tags are made, renamed and deleted alike. */
const grouped = <const K extends 'list' | 'tag'>(kind: K) => ({
  make: endpoint({
    method: 'post',
    path: `/api/${kind}s`,
    role: 'write',
    says: `Makes an empty ${kind}`,
    body: Named,
    answer: Made,
    changes: ['people'],
  }),
  rename: endpoint({
    method: 'put',
    path: `/api/${kind}s/:id`,
    role: 'write',
    says: `Renames a ${kind}`,
    body: Named,
    changes: ['people'],
  }),
  remove: endpoint({
    method: 'delete',
    path: `/api/${kind}s/:id`,
    role: 'write',
    says: `Deletes a ${kind}; the people stay`,
    changes: ['people'],
  }),
  put: endpoint({
    method: 'put',
    path: `/api/${kind}s/:id/members/:person`,
    role: 'write',
    says: kind === 'list' ? 'Puts a person on a list' : 'Gives a person a tag',
    changes: ['people'],
  }),
  take: endpoint({
    method: 'delete',
    path: `/api/${kind}s/:id/members/:person`,
    role: 'write',
    says: kind === 'list' ? 'Takes a person off a list' : 'Takes a tag from a person',
    changes: ['people'],
  }),
});

export const groups = { list: grouped('list'), tag: grouped('tag') };

/** A list that keeps itself clean. */
export const listRule = endpoint({
  method: 'put',
  path: '/api/lists/:id/rule',
  role: 'write',
  says: 'After how many broadcasts in a row that did not reach them people leave a list by themselves; null for never',
  body: Shape({ leave_after: Nullable(Type.Integer({ minimum: 1, maximum: 10 })) }),
  changes: ['people'],
});

/** Custom fields of people and of dependants: at once a merge field and a condition. */
export const fields = {
  make: endpoint({
    method: 'post',
    path: '/api/fields',
    role: 'write',
    says: 'Adds a custom field of people or of dependants; it is at once a merge field and a condition',
    body: Shape({
      label: Type.String({ minLength: 1, maxLength: 60 }),
      type: FieldType,
      about: Type.Optional(About),
      choices: Type.Optional(Choices),
    }),
    answer: Shape({ slug: Type.String() }),
    changes: ['people', 'setup'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/fields/:about/:slug',
    role: 'write',
    says: 'Changes a field’s label and choices; its type and its name in texts stay',
    body: Shape({ label: Type.String({ minLength: 1, maxLength: 60 }), choices: Choices }),
    changes: ['people', 'setup'],
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/fields/:about/:slug',
    role: 'manage',
    says: 'Deletes a field that no segment uses; its values stay with the people until they are edited',
    changes: ['people', 'setup'],
  }),
  order: endpoint({
    method: 'put',
    path: '/api/field-order/:about',
    role: 'write',
    says: 'Puts the fields in an order; it is theirs everywhere',
    body: Shape({ slugs: Type.Array(Type.String({ maxLength: 60 }), { maxItems: 500 }) }),
    changes: ['people', 'setup'],
  }),
  values: endpoint({
    method: 'get',
    path: '/api/fields/:about/:slug/values',
    role: 'look',
    says: 'The values a field has, the most frequent first; for choosing among them',
    answer: Shape({ values: Type.Array(Shape({ value: Type.String(), n: Count })) }),
    live: ['people'],
  }),
};

/** Segments: rules that keep themselves current. */
export const segments = {
  list: endpoint({
    method: 'get',
    path: '/api/segments',
    role: 'look',
    says: 'Segments with their rules and how many people are in each just now',
    answer: Shape({ segments: Type.Array(Shape({ id: Id, name: Type.String(), rule: RuleAnswer, people: Count })) }),
    live: ['people'],
  }),
  make: endpoint({
    method: 'post',
    path: '/api/segments',
    role: 'write',
    says: 'Makes a segment from a rule',
    body: Rule,
    answer: Made,
    changes: ['people'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/segments/:id',
    role: 'write',
    says: 'Changes a segment’s name or rule',
    body: Rule,
    changes: ['people'],
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/segments/:id',
    role: 'write',
    says: 'Deletes a segment; the people stay',
    changes: ['people'],
  }),
  why: endpoint({
    method: 'post',
    path: '/api/segments/why',
    role: 'look',
    says: 'Why a person is in or out of a rule: each condition, whether it holds, and what they have',
    body: Shape({ rule: Type.Unknown(), person_id: Type.Integer() }),
    answer: Shape({
      why: Type.Array(Shape({ words: Type.String(), holds: Type.Boolean(), has: Type.Optional(Type.String()) })),
    }),
  }),
};
