import { searchText, sortName } from '../../core/people/found-by';
import { foldedOf, type FieldTypes } from '../../core/people/person-fields';
import type { Prepared } from '../../core/people/prepare';
import type { FieldType } from '../../core/merge/compile';
import type { Param, Queryable, Tx } from '../db/db';
import { knownAgain } from '../db/sealed';

/** A person as they are stored; everything derived (folded values, search, sort key) is made on the way in. */
export interface StoredPerson extends Omit<Prepared, 'tags' | 'lists' | 'consent'> {
  id: number;
}

export const STORED = [
  'id',
  'given_name',
  'family_name',
  'reference',
  'number',
  'number_country',
  'number_kind',
  'kind_source',
  'language',
  'zone',
  'zone_guessed',
  'born',
  'quiet',
  'fields',
] as const;

const COLUMNS = [...STORED, 'folded', 'search', 'sort_name', 'import_id', 'created_at', 'updated_at'];

/** Types of the custom fields, by slug. */
export async function fieldTypes(db: Queryable, about: 'person' | 'dependant' = 'person'): Promise<FieldTypes> {
  const { rows } = await db.query<{ slug: string; type: FieldType }>(`SELECT slug, type FROM field_def WHERE about = $1`, [
    about,
  ]);
  return new Map(rows.map((row) => [row.slug, row.type]));
}

function derived(p: StoredPerson, types: FieldTypes): [string, string, string] {
  return [JSON.stringify(foldedOf(p, types)), searchText(p), sortName(p)];
}

/** New people, by bulk load; ids are given by the caller (see reserveIds). */
export async function insertPeople(
  tx: Tx,
  people: readonly StoredPerson[],
  types: FieldTypes,
  stamp: { at: string; importId: number | null },
): Promise<void> {
  await tx.copyIn('person', COLUMNS, [
    people.map((p): Param[] => [
      ...STORED.map((column) => (column === 'fields' ? JSON.stringify(p.fields) : p[column])),
      ...derived(p, types),
      stamp.importId,
      stamp.at,
      stamp.at,
    ]),
  ]);
  await knownAgain(
    tx,
    people.flatMap((p) => p.number ?? []),
  );
}

/** So many ids, so that rows that refer to one another can be loaded in bulk. */
export async function reserveIds(db: Queryable, table: 'person' | 'dependant', n: number): Promise<number[]> {
  if (n === 0) return [];
  const { rows } = await db.query<{ id: number }>(`SELECT nextval('${table}_id_seq') AS id FROM generate_series(1, $1::int)`, [
    n,
  ]);
  return rows.map((row) => row.id);
}

/** Changed people, as they are to be from now on. */
export async function updatePeople(tx: Queryable, people: readonly StoredPerson[], types: FieldTypes, at: string): Promise<void> {
  if (people.length === 0) return;
  // one statement a batch: row by row is fifty times slower; a document a person keeps the parameters few
  await tx.query(
    `UPDATE person SET given_name = new.given_name, family_name = new.family_name, reference = new.reference, number = new.number,
       number_country = new.number_country, number_kind = new.number_kind, kind_source = new.kind_source, language = new.language,
       zone = new.zone, zone_guessed = new.zone_guessed, born = new.born, quiet = new.quiet, fields = new.fields, folded = new.folded,
       search = new.search, sort_name = new.sort_name, updated_at = $2::timestamptz
     FROM jsonb_to_recordset($1::jsonb) AS new (id bigint, given_name text, family_name text, reference text, number text,
       number_country text, number_kind text, kind_source text, language text, zone text, zone_guessed boolean, born text,
       quiet text, fields jsonb, folded jsonb, search text, sort_name text)
     WHERE person.id = new.id`,
    [
      JSON.stringify(
        people.map((p) => ({
          ...Object.fromEntries(STORED.map((column) => [column, p[column]])),
          folded: foldedOf(p, types),
          search: searchText(p),
          sort_name: sortName(p),
        })),
      ),
      at,
    ],
  );
  await knownAgain(
    tx,
    people.flatMap((p) => p.number ?? []),
  );
}

/** A number that is not theirs is taken from everyone who has it; what it was stays in the record of changes. */
export async function detachNumber(tx: Queryable, number: string, at: string): Promise<void> {
  const { rows } = await tx.query<{ id: number }>(`SELECT id FROM person WHERE number = $1 FOR UPDATE`, [number]);
  const people = await peopleById(
    tx,
    rows.map((row) => row.id),
  );
  await updatePeople(
    tx,
    people.map((person) => ({ ...person, number: null, number_country: null, number_kind: null, kind_source: null })),
    await fieldTypes(tx),
    at,
  );
}

/** People by id, as stored; in no particular order. */
export async function peopleById(db: Queryable, ids: readonly number[]): Promise<StoredPerson[]> {
  return (await db.query<StoredPerson>(`SELECT ${STORED.join(', ')} FROM person WHERE id = ANY ($1::bigint[])`, [ids])).rows;
}
