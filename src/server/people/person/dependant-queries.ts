import type { DependantBody, DependantListed, Guard, WhichDependants } from '../../../core/api/people/dependants';
import { sortName } from '../../../core/people/found-by';
import { fold } from '../../../core/text/fold';
import { foldedOf } from '../../../core/people/person-fields';
import { oneLine } from '../../../core/text/tidy';
import type { Param, Queryable, Tx } from '../../db/db';
import { Refusal } from '../../../core/api/refusal';
import { readBorn, readFields } from './person-body';
import { fieldTypes } from '../../address-book/for-others';

const PAGE = 100;

const LISTED_SQL = `d.id, d.given_name, d.family_name, d.reference, d.born, d.fields, d.sort_name,
       coalesce((SELECT json_agg(json_build_object('id', p.id, 'name', trim(p.given_name || ' ' || p.family_name), 'number', p.number, 'contact', g.contact, 'must_not_receive', g.must_not_receive) ORDER BY g.contact, p.id)
         FROM guardianship g JOIN person p ON p.id = g.person_id WHERE g.dependant_id = d.id), '[]'::json) AS contacts`;
const WHICH_SQL = `d.sort_name LIKE $1 AND ($2::text IS NULL OR d.folded->>$2::text = $3)`;

const whichParams = ({ search, field, value }: WhichDependants): Param[] => [
  `%${fold(search ?? '').replace(/[\\%_]/g, '\\$&')}%`,
  field && value ? field : null,
  fold(value ?? ''),
];

/** A page of dependants by name, with those who are written to about them; and how many there are of them in all. */
export async function listDependants(
  db: Queryable,
  wanted: WhichDependants & { after_sort?: string; after_id?: number },
): Promise<{ dependants: DependantListed[]; total: number }> {
  const which = whichParams(wanted);
  const { rows } = await db.query<DependantListed>(
    `SELECT ${LISTED_SQL} FROM dependant d WHERE ${WHICH_SQL} AND ($4::text IS NULL OR (d.sort_name, d.id) > ($4::text COLLATE "C", $5::bigint)) ORDER BY d.sort_name, d.id LIMIT ${PAGE}`,
    [...which, wanted.after_sort ?? null, wanted.after_id ?? 0],
  );
  const counted = await db.query<{ n: number }>(`SELECT count(*) AS n FROM dependant d WHERE ${WHICH_SQL}`, which);
  return { dependants: rows, total: counted.rows[0].n };
}

/** One of them; undefined where there is none of that id. */
export async function dependantOf(db: Queryable, id: number): Promise<DependantListed | undefined> {
  return (await db.query<DependantListed>(`SELECT ${LISTED_SQL} FROM dependant d WHERE d.id = $1`, [id])).rows.at(0);
}

/** All of them by their ids, or that they are more than `most`. */
export async function dependantIds(db: Queryable, wanted: WhichDependants, most: number): Promise<number[] | 'too many'> {
  const { rows } = await db.query<{ id: number }>(`SELECT d.id FROM dependant d WHERE ${WHICH_SQL} ORDER BY d.id LIMIT $4::int`, [
    ...whichParams(wanted),
    most + 1,
  ]);
  return rows.length > most ? 'too many' : rows.map(({ id }) => id);
}

/**
 * Writes a dependant as they were typed: a new one, or the one of the id. Undefined when there is none of that id.
 * @throws Refusal 422 with the place of what cannot be read
 */
export async function saveDependant(
  db: Queryable,
  id: number | undefined,
  body: DependantBody,
  at: string,
): Promise<number | undefined> {
  const d = {
    given_name: oneLine(body.given_name),
    family_name: oneLine(body.family_name),
    reference: body.reference.trim() || null,
    born: readBorn(body.born, at),
    fields: await readFields(db, 'dependant', body.fields),
  };
  if (d.given_name === '' && d.family_name === '' && d.reference === null)
    throw new Refusal('wrong', 'nobody', 'A dependant needs a name or a reference.', { place: 'given_name' });
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
  return rows[0]?.id;
}

export async function deleteDependant(db: Queryable, id: number): Promise<boolean> {
  return (await db.query(`DELETE FROM dependant WHERE id = $1`, [id])).rowCount > 0;
}

/** Makes a person a contact of a dependant, or changes how they are one; false when one of the two is not there. */
export async function putContact(db: Queryable | Tx, dependant: number, person: number, guard: Guard): Promise<boolean> {
  const put = await db.query(
    `INSERT INTO guardianship (dependant_id, person_id, contact, must_not_receive) SELECT d.id, p.id, $3, $4 FROM dependant d, person p WHERE d.id = $1 AND p.id = $2
     ON CONFLICT (dependant_id, person_id) DO UPDATE SET contact = excluded.contact, must_not_receive = excluded.must_not_receive`,
    [dependant, person, guard.contact, guard.must_not_receive],
  );
  return put.rowCount > 0;
}

export async function takeContact(db: Queryable, dependant: number, person: number): Promise<void> {
  await db.query(`DELETE FROM guardianship WHERE dependant_id = $1 AND person_id = $2`, [dependant, person]);
}
