import { Chunks } from '../../db/chunks';
import type { Db } from '../../db/db';

/** Digits of a number that are looked for in the cells of files; fewer would find others. */
const DIGITS = 9;

/** Who is looked for in what files have left. */
interface Looked {
  person_id: number;
  number: string | null;
  /** Files that came later are of somebody else, ISO 8601. */
  at: string;
}

/**
 * Rows of files that are theirs, by their number or since they were matched with them, lose their cells: those that came in and those that
 * were rejected, a piece at a time. Returns how many.
 *
 * @param going asked between two pieces; false leaves off, and it is begun anew another time
 */
export async function eraseFromFiles(
  db: Db,
  { person_id, number, at }: Looked,
  going: () => Promise<boolean> = () => Promise.resolve(true),
): Promise<number | undefined> {
  const bulk = db.lane('bulk');
  const digits = number?.replace(/\D/g, '').slice(-DIGITS);
  const isTheirs = (cell: string) => digits !== undefined && cell.length < 240 && cell.replace(/\D/g, '').includes(digits);
  const chunks = new Chunks(db, 500);
  let [atImport, atRow, erased] = [0, -1, 0];
  const imports = new Set<number>();
  for (;;) {
    if (!(await going())) return undefined;
    const done = await chunks.take(async (most) => {
      const { rows } = await bulk.query<{ import_id: number; row_no: number; cells: string[]; matched: boolean }>(
        `SELECT r.import_id, r.row_no, r.cells, coalesce(v.person_id = $4, false) AS matched
         FROM import_row r JOIN import ON import.id = r.import_id AND import.created_at <= $5::timestamptz
           LEFT JOIN import_verdict v ON v.import_id = r.import_id AND v.row_no = r.row_no
         WHERE (r.import_id, r.row_no) > ($1::bigint, $2::int) ORDER BY r.import_id, r.row_no LIMIT $3::int`,
        [atImport, atRow, most, person_id, at],
      );
      if (rows.length === 0) return true;
      ({ import_id: atImport, row_no: atRow } = rows[rows.length - 1]);
      const theirs = rows.filter((row) => row.matched || row.cells.some(isTheirs));
      if (theirs.length > 0)
        for (const set of [
          `import_row r SET cells = '{}'`,
          `import_verdict r SET changes = NULL, blanks = '{}', person_id = NULL`,
        ])
          await bulk.query(
            `UPDATE ${set} FROM unnest($1::bigint[], $2::int[]) AS t (import_id, row_no) WHERE r.import_id = t.import_id AND r.row_no = t.row_no`,
            [theirs.map((row) => row.import_id), theirs.map((row) => row.row_no)],
          );
      erased += theirs.length;
      for (const row of theirs) imports.add(row.import_id);
      return false;
    });
    if (done) break;
  }
  await eraseExamples(bulk, [...imports], isTheirs);
  if (number !== null) await eraseFromDrafts(bulk, number);
  return erased;
}

/** What the counts of an import show as examples: those that hold their number, and all of a row that does. */
async function eraseExamples(db: Db, imports: readonly number[], isTheirs: (cell: string) => boolean): Promise<void> {
  const { rows } = await db.query<{ id: number; counts: unknown }>(
    `SELECT id, counts FROM import WHERE id = ANY ($1::bigint[])`,
    [imports],
  );
  for (const { id, counts } of rows) {
    const bare = JSON.stringify(counts, (_key, value: unknown) => (typeof value === 'string' && isTheirs(value) ? '' : value));
    await db.query(`UPDATE import SET counts = $2::jsonb WHERE id = $1`, [id, bare]);
  }
}

/** Where their number was typed, or left out, by hand: in drafts, and in what became of those. */
async function eraseFromDrafts(db: Db, number: string): Promise<void> {
  const { rows } = await db.query<{ id: number; draft: unknown }>(
    `SELECT id, draft FROM broadcast WHERE draft::text LIKE '%' || $1 || '%'`,
    [number],
  );
  for (const { id, draft } of rows) {
    const without = JSON.stringify(draft, (_key, value: unknown) =>
      Array.isArray(value)
        ? value
            .filter((each) => each !== number)
            // a source of typed numbers of which none is left is none
            .filter((each) => !isEmptied(each, number))
        : value,
    );
    await db.query(`UPDATE broadcast SET draft = $2::jsonb, version = version + 1 WHERE id = $1`, [id, without]);
  }
}

function isEmptied(source: unknown, number: string): boolean {
  if (typeof source !== 'object' || source === null || !('kind' in source) || source.kind !== 'numbers') return false;
  return 'numbers' in source && Array.isArray(source.numbers) && source.numbers.every((each) => each === number);
}
