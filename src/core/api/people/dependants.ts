import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { After, Count, FieldValues, Id, Made, Nullable, Shape } from '../shapes';

export const DependantBody = Shape({
  given_name: Type.String({ maxLength: 100 }),
  family_name: Type.String({ maxLength: 100 }),
  reference: Type.String({ maxLength: 100 }),
  born: Type.String({ maxLength: 10 }),
  fields: FieldValues,
});
export type DependantBody = Static<typeof DependantBody>;
export const Guard = Shape({ contact: Type.Integer({ minimum: 1, maximum: 9 }), must_not_receive: Type.Boolean() });
export type Guard = Static<typeof Guard>;

/** A dependant with those who are written to about them. */
export const DependantListed = Shape({
  id: Id,
  given_name: Type.String(),
  family_name: Type.String(),
  reference: Nullable(Type.String()),
  born: Nullable(Type.String()),
  fields: Type.Record(Type.String(), Type.String()),
  sort_name: Type.String(),
  contacts: Type.Array(
    Shape({
      id: Id,
      name: Type.String(),
      number: Nullable(Type.String()),
      contact: Type.Integer(),
      must_not_receive: Type.Boolean(),
    }),
  ),
});
export type DependantListed = Static<typeof DependantListed>;

const Which = {
  search: Type.Optional(Type.String({ maxLength: 200 })),
  field: Type.Optional(Type.String({ pattern: '^[a-z][a-z0-9_]{0,40}$' })),
  value: Type.Optional(Type.String({ maxLength: 200 })),
};
export interface WhichDependants {
  search?: string;
  field?: string;
  value?: string;
}

export const dependants = {
  list: endpoint({
    method: 'get',
    path: '/api/dependants',
    role: 'look',
    says: 'Dependants by name (?search=) and a value of a field (?field=, ?value=), with their contacts; a page after ?after_sort= and ?after_id=',
    query: Type.Object({
      ...Which,
      after_sort: Type.Optional(Type.String({ maxLength: 500 })),
      after_id: After,
    }),
    answer: Shape({ dependants: Type.Array(DependantListed), total: Count }),
    live: ['people'],
  }),
  get: endpoint({
    method: 'get',
    path: '/api/dependants/:id',
    role: 'look',
    says: 'One dependant, with their contacts in order',
    answer: DependantListed,
    live: ['people'],
  }),
  ids: endpoint({
    method: 'get',
    path: '/api/dependants/ids',
    role: 'look',
    says: 'Which dependants these are, to be written about all of them at once; refused where they are too many',
    query: Type.Object(Which),
    answer: Shape({ ids: Type.Array(Id) }),
  }),
  make: endpoint({
    method: 'post',
    path: '/api/people/:id/dependants',
    role: 'write',
    says: 'Adds someone whom a person is written to about',
    body: Shape({ dependant: DependantBody, guard: Guard }),
    answer: Made,
    changes: ['people'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/dependants/:id',
    role: 'write',
    says: 'Changes a dependant',
    body: DependantBody,
    changes: ['people'],
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/dependants/:id',
    role: 'write',
    says: 'Deletes a dependant; the contacts stay',
    changes: ['people'],
  }),
  putContact: endpoint({
    method: 'put',
    path: '/api/dependants/:id/contacts/:person',
    role: 'write',
    says: 'Makes a person a contact of a dependant: which in order, and whether they must not receive',
    body: Guard,
    changes: ['people'],
  }),
  takeContact: endpoint({
    method: 'delete',
    path: '/api/dependants/:id/contacts/:person',
    role: 'write',
    says: 'A person is no longer a contact of a dependant',
    changes: ['people'],
  }),
};
