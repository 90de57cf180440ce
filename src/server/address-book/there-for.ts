import type { Queryable } from '../db/db';

/** Who is on a list for which dependant. */
export interface ThereFor {
  person: number;
  dependant: number;
}

/** Keeps for whom people were put on a list, beside what was kept before; whoever is not on the list is left out. */
export async function keepThereFor(
  db: Queryable,
  list: number,
  pairs: readonly ThereFor[],
  by: { importId?: number; bulkId?: number },
): Promise<void> {
  if (pairs.length === 0) return;
  await db.query(
    `INSERT INTO list_member_for (list_id, person_id, dependant_id, import_id, bulk_change_id)
     SELECT m.list_id, m.person_id, d.id, $4, $5 FROM unnest($2::bigint[], $3::bigint[]) AS new (person_id, dependant_id)
       JOIN list_member m ON m.list_id = $1 AND m.person_id = new.person_id JOIN dependant d ON d.id = new.dependant_id
     ON CONFLICT DO NOTHING`,
    [list, pairs.map((pair) => pair.person), pairs.map((pair) => pair.dependant), by.importId ?? null, by.bulkId ?? null],
  );
}

/** For whom people of a list are there; those of whom it is not known, and dependants who are not theirs any more, are left out. */
export async function thereFor(db: Queryable, list: number, people?: readonly number[]): Promise<Map<number, number[]>> {
  const { rows } = await db.query<{ person_id: number; dependants: number[] }>(
    `SELECT f.person_id, array_agg(f.dependant_id ORDER BY f.dependant_id) AS dependants FROM list_member_for f
       JOIN guardianship g ON g.person_id = f.person_id AND g.dependant_id = f.dependant_id
     WHERE f.list_id = $1 AND ($2::bigint[] IS NULL OR f.person_id = ANY ($2::bigint[])) GROUP BY f.person_id`,
    [list, people ?? null],
  );
  return new Map(rows.map((row) => [row.person_id, row.dependants]));
}
