import type { Tester } from '../../core/api/sending/testers';
import type { Queryable } from '../db/db';

export async function allTesters(db: Queryable): Promise<Tester[]> {
  return (await db.query<Tester>(`SELECT id, name, number, copies FROM tester ORDER BY lower(name), id`)).rows;
}

export async function testersOf(db: Queryable, ids: readonly number[]): Promise<{ name: string; number: string }[]> {
  return (
    await db.query<{ name: string; number: string }>(
      `SELECT name, number FROM tester WHERE id = ANY ($1::bigint[]) ORDER BY id`,
      [ids],
    )
  ).rows;
}

/** Who gets a copy of every broadcast: nobody who said stop. */
export async function whoGetsCopies(db: Queryable): Promise<{ name: string; number: string }[]> {
  return (
    await db.query<{ name: string; number: string }>(
      `SELECT name, number FROM tester WHERE copies AND NOT EXISTS (SELECT 1 FROM suppression s WHERE s.number = tester.number) ORDER BY id`,
    )
  ).rows;
}

/** @throws what the driver throws where the number is there already */
export async function insertTester(
  db: Queryable,
  made: { name: string; number: string; copies: boolean; at: string },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO tester (name, number, copies, created_at) VALUES ($1, $2, $3, $4::timestamptz) RETURNING id`,
    [made.name, made.number, made.copies, made.at],
  );
  return rows[0].id;
}

/** The name of what was changed; undefined when there is none. */
export async function setCopies(db: Queryable, id: number, copies: boolean): Promise<string | undefined> {
  const { rows } = await db.query<{ name: string }>(`UPDATE tester SET copies = $2 WHERE id = $1 RETURNING name`, [id, copies]);
  return rows[0]?.name;
}

export async function deleteTester(db: Queryable, id: number): Promise<string | undefined> {
  return (await db.query<{ name: string }>(`DELETE FROM tester WHERE id = $1 RETURNING name`, [id])).rows[0]?.name;
}
