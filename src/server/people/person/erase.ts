import { nanoid } from 'nanoid';
import type { Db, Tx } from '../../db/db';
import { Chunks } from '../../db/chunks';
import { removeByPerson, removeCopiesOf } from '../../engine/for-others';

/** Digits of a number that are looked for in the cells of files; fewer would find others. */
const DIGITS = 9;

export interface Erased {
  /** Runs that a planned text was taken out of. */
  runs: number[];
  /** Their number, to be looked for in what files have left. */
  number: string | null;
}

/**
 * Erases a person: their texts lose their words, and their number becomes a name that leads to nobody, wherever the ledger needs
 * one. A number that opted out stays in the register. What may still be handed over keeps the id that is nobody's now: by it the
 * gate knows that they were erased. Undefined when there is no such person.
 */
export async function erasePerson(tx: Tx, id: number, at: string): Promise<Erased | undefined> {
  const { rows } = await tx.query<{ number: string | null }>(`SELECT number FROM person WHERE id = $1 FOR UPDATE`, [id]);
  if (rows.length === 0) return undefined;
  const [{ number }] = rows;
  const nobody = `erased-${nanoid(10)}`;
  const runs = await removeByPerson(tx, [id], 'erased', at);
  const { rows: closed } = await tx.query<{ id: number }>(
    `UPDATE outbound SET body = '', number = $2, person_id = NULL WHERE person_id = $1 AND open = 0 AND state <> 'uncertain' RETURNING id`,
    [id, nobody],
  );
  await tx.query(`UPDATE outbound SET body = '' WHERE person_id = $1 AND open = 0`, [id]);
  // a copy that is on its way goes; one that has not begun does not, and none keeps their words
  runs.push(...(await removeCopiesOf(tx, id, 'erased', at)));
  await tx.query(`UPDATE outbound SET body = '' WHERE copy_of = $1 AND open = 0`, [id]);
  const ids = closed.map((row) => row.id);
  await tx.query(`UPDATE outbound_part SET number = $2 WHERE outbound_id = ANY ($1::bigint[])`, [ids, nobody]);
  await tx.query(`UPDATE code SET number = $2, person_id = NULL WHERE outbound_id = ANY ($1::bigint[])`, [ids, nobody]);
  await tx.query(`UPDATE link SET number = $2 WHERE outbound_id = ANY ($1::bigint[])`, [ids, nobody]);
  // what was said of a run in their words
  await tx.query(`DELETE FROM run_kept WHERE what = 'back' AND run_id IN (SELECT run_id FROM inbound WHERE person_id = $1)`, [
    id,
  ]);
  await tx.query(
    `UPDATE outbound SET body = '' WHERE open = 0 AND id IN (SELECT outbound_id FROM alarm WHERE kind = 'wrong' AND run_id IN (SELECT run_id FROM inbound WHERE person_id = $1))`,
    [id],
  );
  await tx.query(
    `UPDATE alarm SET words = 'An answer says that it is wrong.' WHERE kind = 'wrong' AND run_id IN (SELECT run_id FROM inbound WHERE person_id = $1)`,
    [id],
  );
  // a reply that may mean stop keeps its number until someone has decided what it meant
  await tx.query(
    `UPDATE inbound SET person_id = NULL, body = '', folded = '', octets = NULL, carrier_id = NULL, number = CASE WHEN kind IN ('maybe_stop', 'unread', 'stop') AND done_at IS NULL THEN number ELSE $2 END WHERE person_id = $1`,
    [id, nobody],
  );
  await tx.query(`UPDATE sign_up SET number = $2, person_id = NULL WHERE person_id = $1`, [id, nobody]);
  if (number !== null) {
    await tx.query(`UPDATE passed_answer SET words = '', number = $2 WHERE number = $1`, [number, nobody]);
    await tx.query(
      `UPDATE passed SET number = $2, state = CASE WHEN state = 'waiting' THEN 'failed' ELSE state END WHERE number = $1`,
      [number, nobody],
    );
    for (const table of ['receipt_parked', 'conversation']) await tx.query(`DELETE FROM ${table} WHERE number = $1`, [number]);
  }
  for (const table of ['consent_event', 'import_change', 'import_touch', 'bulk_change_person'])
    await tx.query(`DELETE FROM ${table} WHERE person_id = $1`, [id]);
  await tx.query(`DELETE FROM person WHERE id = $1`, [id]);
  return { runs, number };
}

/** Rows of files that hold this number lose their cells, those that came in and those that were rejected, a piece at a time. */
export async function eraseFromFiles(db: Db, number: string): Promise<number> {
  const bulk = db.lane('bulk');
  const digits = number.replace(/\D/g, '').slice(-DIGITS);
  const chunks = new Chunks(db, 500);
  let [atImport, atRow, erased] = [0, -1, 0];
  const imports = new Set<number>();
  for (;;) {
    const done = await chunks.take(async (most) => {
      const { rows } = await bulk.query<{ import_id: number; row_no: number; cells: string[] }>(
        `SELECT import_id, row_no, cells FROM import_row WHERE (import_id, row_no) > ($1::bigint, $2::int) ORDER BY import_id, row_no LIMIT $3::int`,
        [atImport, atRow, most],
      );
      if (rows.length === 0) return true;
      ({ import_id: atImport, row_no: atRow } = rows[rows.length - 1]);
      const theirs = rows.filter((row) =>
        row.cells.some((cell) => cell.length < 240 && cell.replace(/\D/g, '').includes(digits)),
      );
      if (theirs.length > 0)
        for (const set of [`import_row r SET cells = '{}'`, `import_verdict r SET changes = NULL, blanks = '{}'`])
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
  await bulk.query(`DELETE FROM import_refusal WHERE number = $1`, [number]);
  await eraseExamples(bulk, [...imports], digits);
  return erased;
}

/** What the counts of an import show as examples. */
async function eraseExamples(db: Db, imports: readonly number[], digits: string): Promise<void> {
  const { rows } = await db.query<{ id: number; counts: unknown }>(
    `SELECT id, counts FROM import WHERE id = ANY ($1::bigint[])`,
    [imports],
  );
  for (const { id, counts } of rows) {
    const bare = JSON.stringify(counts, (_key, value: unknown) =>
      typeof value === 'string' && value.replace(/\D/g, '').includes(digits) ? '' : value,
    );
    await db.query(`UPDATE import SET counts = $2::jsonb WHERE id = $1`, [id, bare]);
  }
}
