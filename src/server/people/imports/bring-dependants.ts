import { sortName } from '../../../core/people/found-by';
import { fold } from '../../../core/text/fold';
import { foldedOf, type FieldTypes } from '../../../core/people/person-fields';
import type { PreparedDependant } from '../../../core/people/prepare';
import type { Param, Tx } from '../../db/db';
import type { Placed } from './placed';
import { keepThereFor, reserveIds } from '../../address-book/for-others';

interface KnownDependant extends PreparedDependant {
  id: number;
  person_id: number | null;
}

const nameOf = (d: { given_name: string; family_name: string }) => fold(`${d.given_name} ${d.family_name}`);

/**
 * The dependants of a chunk's rows with their first and second contacts. One already here is told by its own reference,
 * else by its name under the same contact; only blanks of it are filled.
 */
export async function bringDependants(
  tx: Tx,
  importId: number,
  placed: readonly Placed[],
  types: FieldTypes,
  at: string,
  /** The list that people are put on: for these dependants, then. */
  list: number | null,
): Promise<void> {
  const rows = placed.flatMap((each) => (each.row.dependant ? [{ ...each, dependant: each.row.dependant }] : []));
  if (rows.length === 0) return;
  const { rows: known } = await tx.query<KnownDependant>(
    `SELECT d.id, d.given_name, d.family_name, d.reference, d.born, d.fields, g.person_id FROM dependant d LEFT JOIN guardianship g ON g.dependant_id = d.id
     WHERE g.person_id = ANY ($1::bigint[]) OR d.reference = ANY ($2::text[]) ORDER BY d.id`,
    [
      rows.flatMap((row) => [row.id, ...(row.secondId ? [row.secondId] : [])]),
      rows.flatMap((row) => row.dependant.reference ?? []),
    ],
  );
  const byReference = new Map(known.flatMap((d) => (d.reference ? [[d.reference, d] as const] : [])));
  const byContact = new Map(known.flatMap((d) => (d.person_id === null ? [] : [[`${d.person_id}|${nameOf(d)}`, d] as const])));
  const fresh: { key: string; dependant: PreparedDependant }[] = [];
  const grown: KnownDependant[] = [];
  const pairs = new Map<string, { key: string | number; person: number; contact: number }>();
  for (const row of rows) {
    const { dependant } = row;
    const already =
      (dependant.reference ? byReference.get(dependant.reference) : undefined) ??
      byContact.get(`${row.id}|${nameOf(dependant)}`) ??
      (row.secondId ? byContact.get(`${row.secondId}|${nameOf(dependant)}`) : undefined);
    const key = already ? already.id : (dependant.reference ?? `${row.id}|${nameOf(dependant)}`);
    if (already) {
      const fields = { ...dependant.fields, ...already.fields };
      if (Object.keys(fields).length > Object.keys(already.fields).length || (!already.born && dependant.born))
        grown.push({ ...already, born: already.born ?? dependant.born, fields });
    } else if (!fresh.some((each) => each.key === key)) fresh.push({ key: String(key), dependant });
    pairs.set(`${key}|${row.id}`, { key, person: row.id, contact: 1 });
    if (row.secondId && row.secondId !== row.id) pairs.set(`${key}|${row.secondId}`, { key, person: row.secondId, contact: 2 });
  }
  const ids = await reserveIds(tx, 'dependant', fresh.length);
  await tx.copyIn(
    'dependant',
    [
      'id',
      'given_name',
      'family_name',
      'reference',
      'born',
      'fields',
      'folded',
      'sort_name',
      'import_id',
      'created_at',
      'updated_at',
    ],
    [
      fresh.map(({ dependant: d }, i): Param[] => [
        ids[i],
        d.given_name,
        d.family_name,
        d.reference,
        d.born,
        JSON.stringify(d.fields),
        JSON.stringify(foldedOf(d, types)),
        sortName(d),
        importId,
        at,
        at,
      ]),
    ],
  );
  const made = new Map(fresh.map(({ key }, i) => [key, ids[i]]));
  if (ids.length > 0)
    await touch(
      tx,
      importId,
      'dependant',
      ids.map((id) => [id, 0]),
    );
  for (const d of grown)
    await tx.query(
      `UPDATE dependant SET born = $2, fields = $3::jsonb, folded = $4::jsonb, updated_at = $5::timestamptz WHERE id = $1`,
      [d.id, d.born, JSON.stringify(d.fields), JSON.stringify(foldedOf(d, types)), at],
    );
  const guard = [...pairs.values()].map((pair) => ({
    dependant: typeof pair.key === 'number' ? pair.key : (made.get(pair.key) ?? 0),
    person: pair.person,
    contact: pair.contact,
  }));
  // a second contact is on no list by this row
  const there = guard.filter(({ contact }) => contact === 1);
  if (list !== null) await keepThereFor(tx, list, there, { importId });
  // whoever is a contact already stays the contact they are
  const { rows: added } = await tx.query<{ dependant_id: number; person_id: number }>(
    `INSERT INTO guardianship (dependant_id, person_id, contact) SELECT * FROM unnest($1::bigint[], $2::bigint[], $3::smallint[]) ON CONFLICT DO NOTHING RETURNING dependant_id, person_id`,
    [guard.map((g) => g.dependant), guard.map((g) => g.person), guard.map((g) => g.contact)],
  );
  await touch(
    tx,
    importId,
    'guardianship',
    added.map((row) => [row.dependant_id, row.person_id]),
  );
}

async function touch(tx: Tx, importId: number, kind: string, pairs: readonly (readonly [number, number])[]): Promise<void> {
  await tx.query(
    `INSERT INTO import_touch (import_id, kind, target_id, person_id) SELECT $1, $2, * FROM unnest($3::bigint[], $4::bigint[]) ON CONFLICT DO NOTHING`,
    [importId, kind, pairs.map((pair) => pair[0]), pairs.map((pair) => pair[1])],
  );
}
