import { oneLine } from '../../core/text/tidy';
import { Type } from 'typebox';
import { fold, sortName } from '../../core/people/fold';
import { foldedOf } from '../../core/people/person-fields';
import type { Queryable } from '../db/db';
import { idOf, nothingHere, Problem } from '../http/problem';
import { After } from '../http/query';
import { route, type Route } from '../http/route';
import { writeRecord } from '../setup/record';
import { readBorn, readFields } from './person-body';
import { fieldTypes } from './person-store';

const Body = Type.Object(
  {
    given_name: Type.String({ maxLength: 100 }),
    family_name: Type.String({ maxLength: 100 }),
    reference: Type.String({ maxLength: 100 }),
    born: Type.String({ maxLength: 10 }),
    fields: Type.Record(Type.String({ pattern: '^[a-z][a-z0-9_]{0,40}$' }), Type.String({ maxLength: 500 })),
  },
  { additionalProperties: false },
);
const Guard = Type.Object(
  { contact: Type.Integer({ minimum: 1, maximum: 9 }), must_not_receive: Type.Boolean() },
  { additionalProperties: false },
);

async function save(
  db: Queryable,
  id: number | undefined,
  body: { given_name: string; family_name: string; reference: string; born: string; fields: Record<string, string> },
  at: string,
): Promise<number> {
  const born = readBorn(body.born, at);
  const d = {
    given_name: oneLine(body.given_name),
    family_name: oneLine(body.family_name),
    reference: body.reference.trim() || null,
    born,
    fields: await readFields(db, 'dependant', body.fields),
  };
  if (d.given_name === '' && d.family_name === '' && d.reference === null)
    throw new Problem(422, 'nobody', 'A dependant needs a name or a reference.', { place: 'given_name' });
  const values = [
    d.given_name,
    d.family_name,
    d.reference,
    d.born,
    JSON.stringify(d.fields),
    JSON.stringify(foldedOf(d, await fieldTypes(db, 'dependant'))),
    sortName(d),
    at,
  ];
  const { rows } = await db.query<{ id: number }>(
    id === undefined
      ? `INSERT INTO dependant (given_name, family_name, reference, born, fields, folded, sort_name, created_at, updated_at)
         VALUES ($1, $2, $3, $4, $5::jsonb, $6::jsonb, $7, $8::timestamptz, $8::timestamptz) RETURNING id`
      : `UPDATE dependant SET given_name = $1, family_name = $2, reference = $3, born = $4, fields = $5::jsonb, folded = $6::jsonb, sort_name = $7, updated_at = $8::timestamptz WHERE id = $9 RETURNING id`,
    id === undefined ? values : [...values, id],
  );
  if (rows.length === 0) throw nothingHere();
  return rows[0].id;
}

export const dependantRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/dependants',
    role: 'look',
    says: 'Dependants by name (?search=), with their contacts; a page after ?after_sort= and ?after_id=',
    query: Type.Object({
      search: Type.Optional(Type.String({ maxLength: 200 })),
      after_sort: Type.Optional(Type.String({ maxLength: 500 })),
      after_id: After,
    }),
    async handle(app, asked) {
      const { query } = asked;
      const { rows } = await app.db.query(
        `SELECT d.id, d.given_name, d.family_name, d.reference, d.born, d.fields, d.sort_name,
           coalesce((SELECT json_agg(json_build_object('id', p.id, 'name', trim(p.given_name || ' ' || p.family_name), 'number', p.number, 'contact', g.contact, 'must_not_receive', g.must_not_receive) ORDER BY g.contact, p.id)
             FROM guardianship g JOIN person p ON p.id = g.person_id WHERE g.dependant_id = d.id), '[]'::json) AS contacts
         FROM dependant d WHERE d.sort_name LIKE $1 AND ($2::text IS NULL OR (d.sort_name, d.id) > ($2::text COLLATE "C", $3::bigint)) ORDER BY d.sort_name, d.id LIMIT 100`,
        [`%${fold(query.search ?? '').replace(/[\\%_]/g, '\\$&')}%`, query.after_sort ?? null, query.after_id ?? 0],
      );
      return { dependants: rows, total: (await app.db.query<{ n: number }>(`SELECT count(*) AS n FROM dependant`)).rows[0].n };
    },
  }),
  route({
    method: 'post',
    path: '/api/people/:id/dependants',
    role: 'write',
    says: 'Adds someone whom a person is written to about',
    body: Type.Object({ dependant: Body, guard: Guard }, { additionalProperties: false }),
    async handle(app, asked) {
      const person = idOf(asked.params.id);
      const id = await app.db.transaction(async (tx) => {
        if ((await tx.query(`SELECT 1 FROM person WHERE id = $1`, [person])).rowCount === 0) throw nothingHere();
        const made = await save(tx, undefined, asked.body.dependant, asked.at);
        await tx.query(`INSERT INTO guardianship (dependant_id, person_id, contact, must_not_receive) VALUES ($1, $2, $3, $4)`, [
          made,
          person,
          asked.body.guard.contact,
          asked.body.guard.must_not_receive,
        ]);
        await writeRecord(tx, asked, 'added a dependant', String(made));
        return made;
      });
      app.bus.changed('people');
      return { id };
    },
  }),
  route({
    method: 'put',
    path: '/api/dependants/:id',
    role: 'write',
    says: 'Changes a dependant',
    body: Body,
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      await app.db.transaction(async (tx) => {
        await save(tx, id, asked.body, asked.at);
        await writeRecord(tx, asked, 'changed a dependant', String(id));
      });
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'delete',
    path: '/api/dependants/:id',
    role: 'write',
    says: 'Deletes a dependant; the contacts stay',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const gone = await app.db.query(`DELETE FROM dependant WHERE id = $1`, [id]);
      if (gone.rowCount === 0) throw nothingHere();
      await writeRecord(app.db, asked, 'deleted a dependant', String(id));
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'put',
    path: '/api/dependants/:id/contacts/:person',
    role: 'write',
    says: 'Makes a person a contact of a dependant: which in order, and whether they must not receive',
    body: Guard,
    async handle(app, asked) {
      const [id, person] = [idOf(asked.params.id), idOf(asked.params.person)];
      const put = await app.db.query(
        `INSERT INTO guardianship (dependant_id, person_id, contact, must_not_receive) SELECT d.id, p.id, $3, $4 FROM dependant d, person p WHERE d.id = $1 AND p.id = $2
         ON CONFLICT (dependant_id, person_id) DO UPDATE SET contact = excluded.contact, must_not_receive = excluded.must_not_receive`,
        [id, person, asked.body.contact, asked.body.must_not_receive],
      );
      if (put.rowCount === 0) throw nothingHere();
      await writeRecord(app.db, asked, 'changed a contact', String(id), {
        person,
        must_not_receive: asked.body.must_not_receive,
      });
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'delete',
    path: '/api/dependants/:id/contacts/:person',
    role: 'write',
    says: 'A person is no longer a contact of a dependant',
    async handle(app, asked) {
      const [id, person] = [idOf(asked.params.id), idOf(asked.params.person)];
      await app.db.query(`DELETE FROM guardianship WHERE dependant_id = $1 AND person_id = $2`, [id, person]);
      await writeRecord(app.db, asked, 'took a contact away', String(id), { person });
      app.bus.changed('people');
      return {};
    },
  }),
];
