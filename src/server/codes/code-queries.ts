import type { Answer } from '../../core/api/endpoint';
import type { codes as codesApi, CodeList } from '../../core/api/sending/codes';
import { fold } from '../../core/text/fold';
import { isDuplicate } from '../db/db-error';
import type { Db, Queryable } from '../db/db';
import { Chunks } from '../db/chunks';
import { nothingHere } from '../../core/api/refusal';

const FOUND = 50;
/** A page of others asks several things one after the other, and a long list takes half a minute: each piece is short, ms. */
const PIECE_MS = 40;

export async function codeLists(db: Queryable, at: string): Promise<CodeList[]> {
  const { rows } = await db.query<CodeList>(
    `SELECT code_list.id, name, created_at, coming,
       (SELECT count(*) FROM code WHERE list_id = code_list.id AND NOT twin AND taken_at IS NULL AND run_id IS NULL AND (reserved_until IS NULL OR reserved_until < $1::timestamptz)) AS free,
       (SELECT count(*) FROM code WHERE list_id = code_list.id AND taken_at IS NOT NULL) AS given
     FROM code_list ORDER BY code_list.id DESC LIMIT 200`,
    [at],
  );
  return rows;
}

/** Undefined when there is one of that name. */
export async function insertCodeList(
  db: Queryable,
  made: { name: string; account: number; at: string },
): Promise<number | undefined> {
  try {
    const { rows } = await db.query<{ id: number }>(
      `INSERT INTO code_list (name, folded, account_id, created_at) VALUES ($1, $2, $3, $4::timestamptz) RETURNING id`,
      [made.name, fold(made.name), made.account, made.at],
    );
    return rows[0].id;
  } catch (error) {
    if (isDuplicate(error)) return undefined;
    throw error;
  }
}

/** So many codes of a file are still to come; false when there is no such list. */
export async function codesComing(db: Queryable, list: number, count: number): Promise<boolean> {
  return (await db.query(`UPDATE code_list SET coming = $2 WHERE id = $1`, [list, count])).rowCount > 0;
}

/**
 * Adds codes to a list, a piece at a time, each in a transaction of its own, so that others' requests slip between: what ends it in
 * the middle leaves the list with `coming` codes to come, and the same file brings in the rest. A code that stands in another list is
 * not added: it would be given twice.
 *
 * @returns how many were there already, in this list and in others
 * @throws Refusal when somebody deleted the list
 */
export async function insertCodes(
  db: Db,
  list: number,
  codes: readonly string[],
  progress: () => void,
): Promise<{ here: number; elsewhere: number }> {
  const bulk = db.lane('bulk');
  const chunks = new Chunks(db, 50, 4000, PIECE_MS);
  const not = { here: 0, elsewhere: 0 };
  for (let from = 0; from < codes.length;) {
    const piece = await chunks.take(async (rows) => {
      const some = codes.slice(from, from + rows);
      await bulk.transaction(async (tx) => {
        // first of all, so that it cannot be deleted meanwhile
        if (!(await codesComing(tx, list, codes.length - from - some.length))) throw nothingHere();
        const { rowCount } = await tx.query(
          `INSERT INTO code (list_id, code) SELECT $1, each FROM unnest($2::text[]) WITH ORDINALITY AS t(each, n) ORDER BY n ON CONFLICT DO NOTHING`,
          [list, some],
        );
        if (rowCount < some.length) {
          const [{ here }] = (
            await tx.query<{ here: number }>(`SELECT count(*) AS here FROM code WHERE list_id = $1 AND code = ANY ($2::text[])`, [
              list,
              some,
            ])
          ).rows;
          not.here += here - rowCount;
          not.elsewhere += some.length - here;
        }
      });
      return some.length;
    });
    from += piece;
    progress();
  }
  return not;
}

export async function hasCodeList(db: Queryable, id: number): Promise<boolean> {
  return (await db.query(`SELECT 1 FROM code_list WHERE id = $1`, [id])).rowCount > 0;
}

/** False when a code of it was given, or is held for a run. */
export async function deleteCodeList(db: Queryable, id: number): Promise<boolean> {
  const gone = await db.query(
    `DELETE FROM code_list WHERE id = $1 AND NOT EXISTS (SELECT 1 FROM code WHERE list_id = $1 AND (taken_at IS NOT NULL OR run_id IS NOT NULL))`,
    [id],
  );
  return gone.rowCount > 0;
}

/** Who got which: by the code itself, the end of a number, or words of a name. Each by its own index, so that none is slow. */
export async function findCodes(db: Queryable, search: string): Promise<Answer<typeof codesApi.find>['codes']> {
  const digits = search.replace(/\D/g, '');
  const { rows } = await db.query<Answer<typeof codesApi.find>['codes'][number]>(
    `SELECT code.code, code_list.name AS list, code.number, code.person_id, coalesce(trim(given_name || ' ' || family_name), '') AS name,
       run.id AS run_id, run.name AS run, code.taken_at AS at
     FROM (
       SELECT * FROM code WHERE upper(code) = upper($1)
       UNION SELECT * FROM code WHERE $2 <> '' AND number IN ('+' || $2, '+1' || $2)
       UNION SELECT code.* FROM code JOIN person ON person.id = code.person_id WHERE $3 <> '' AND person.number IS NOT NULL AND code.number = person.number
         AND person.id IN (SELECT id FROM person WHERE search LIKE '%' || $3 || '%' LIMIT 200)
     ) AS code JOIN code_list ON code_list.id = code.list_id
       LEFT JOIN person ON person.id = code.person_id LEFT JOIN run ON run.id = code.run_id
     ORDER BY code.taken_at DESC NULLS LAST, code.id LIMIT ${FOUND}`,
    [search.trim(), digits.length >= 7 ? digits : '', /\d/.test(search) ? '' : fold(search).replace(/[\\%_]/g, '\\$&')],
  );
  return rows;
}
