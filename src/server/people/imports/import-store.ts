import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { BenchRow, ImportFacts, ImportState, PastImport, StagedImport } from '../../../core/api/people/imports';
import { showPhone } from '../../../core/phone/read';
import type { Queryable } from '../../db/db';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { MOST_AT_ONCE } from './file-rows';
import { headingsOf } from './first-settings';

/** Characters of a cell that count for anything; the whole of it stays with the file. */
const SHOWN_CELL = 2000;
const toShow = (columnSql: 'cells' | 'was') =>
  `ARRAY(SELECT left(cell, ${SHOWN_CELL}) FROM unnest(${columnSql}) WITH ORDINALITY AS c (cell, at) ORDER BY at)`;
export const CELLS_TO_SHOW = toShow('cells');
const WAS_TO_SHOW = toShow('was');

/** @throws Refusal 404 */
export async function importOf(db: Queryable, id: number): Promise<StagedImport> {
  const { rows } = await db.query<StagedImport>(
    `SELECT id, file_name, state, facts, settings, counts, row_count, written_row, at_row, version, checked_version, created_at, decided_at, done_at, undone_at FROM import WHERE id = $1`,
    [id],
  );
  if (rows.length === 0) throw nothingHere();
  return rows[0];
}

/** An import that is on the bench. @throws Refusal 404, or 409 with what is going on instead */
export async function openImport(db: Queryable, id: number): Promise<StagedImport> {
  const staged = await importOf(db, id);
  if (staged.state !== 'open') throw busy(staged);
  return staged;
}

const GOING_ON: Record<ImportState, { title: string; act: string }> = {
  open: { title: 'It is on the bench, and its rows are being checked.', act: 'Wait for the counts, then decide or give it up.' },
  reading: { title: 'The file is being read just now.', act: 'Wait until it is read, or give it up.' },
  writing: { title: 'Its people are being brought in just now; the bench is closed.', act: 'When it is done it can be undone.' },
  done: { title: 'Its people have been brought in; the bench is closed.', act: 'It can be undone, from the history of imports.' },
  undoing: { title: 'It is being undone just now.', act: 'Wait until it is undone, then choose the file again.' },
  undone: { title: 'It has been undone.', act: 'Choose the file again.' },
  given_up: { title: 'It has been given up.', act: 'Choose the file again.' },
  failed: { title: 'It could not be read.', act: 'Give it up and choose another file.' },
  once: { title: 'It is used for one broadcast; its bench is closed.', act: 'Choose the file again for another use.' },
};

/** What is going on with an import, and what can be done about it. */
export function busy({ state }: { state: ImportState }): Refusal {
  const { title, act } = GOING_ON[state];
  return new Refusal('clash', 'decided', title, { act });
}

/** The history of imports; those decided after `undoableSince` can still be undone. */
export async function historyOf(db: Queryable, undoableSince: string): Promise<PastImport[]> {
  return (
    await db.query<PastImport>(
      `SELECT import.id, file_name, state, counts, row_count, settings->>'list' AS list, facts->>'failure' AS failure, import.created_at, decided_at, done_at, undone_at, account.name AS by,
         state = 'done' AND decided_at > $1::timestamptz AS can_undo
       FROM import LEFT JOIN account ON account.id = account_id ORDER BY import.id DESC LIMIT 100`,
      [undoableSince],
    )
  ).rows;
}

/** A new import that is about to be read. */
export async function beginImport(
  db: Queryable,
  made: { name: string; pasted: boolean; accountId: number | null; at: string },
): Promise<number> {
  const facts: ImportFacts = { headings: [], notes: [], ...(made.pasted ? { pasted: true } : {}) };
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO import (file_name, state, facts, account_id, created_at) VALUES ($1, 'reading', $2::jsonb, $3, $4::timestamptz) RETURNING id`,
    [made.name, JSON.stringify(facts), made.accountId, made.at],
  );
  return rows[0].id;
}

export interface RowsWanted {
  after: number;
  verdict?: string;
  fix?: string;
  waiting: boolean;
  otherName: boolean;
  blank?: string;
}

const PAGE = 100;
/** Asked for, so that it is known whether there are more. */
const ONE_MORE = PAGE + 1;

/** A row of a file with what would happen to it. */
type JudgedRow = Omit<BenchRow, 'after' | 'stored'>;

/**
 * Rows of an import with what would happen: a page of a hundred, or fewer where they hold much. `next` is what to go on after, null at
 * the end.
 */
export async function rowsOf(db: Queryable, id: number, wanted: RowsWanted): Promise<{ rows: JudgedRow[]; next: number | null }> {
  const { rows } = await db.query<JudgedRow & { there?: number }>(
    `SELECT row_no, ${CELLS_TO_SHOW} AS cells, CASE WHEN was IS NOT NULL THEN ${WAS_TO_SHOW} END AS was, verdict, reason, fix, changes, blanks, other_name, person_id, there FROM (
       SELECT *, sum(size) OVER (ORDER BY row_no) - size AS before, count(*) OVER () AS there FROM (
         SELECT r.row_no, r.cells, r.was, r.size, verdict, reason, fix, changes, blanks, v.other_name, v.person_id FROM import_row r JOIN import_verdict v USING (import_id, row_no)
         WHERE import_id = $1 AND row_no > $2 AND ($3::text IS NULL OR verdict = $3) AND ($4::text IS NULL OR fix = $4)
           AND (NOT $5::boolean OR reason LIKE 'waits for your fix%')
           AND (NOT $7::boolean OR v.other_name IS NOT NULL)
           AND ($6::text IS NULL OR EXISTS (SELECT 1 FROM unnest(blanks) AS b WHERE b = $6 OR starts_with(b, $6 || ':')))
         ORDER BY row_no LIMIT ${ONE_MORE}) AS batch) AS summed
     WHERE before < ${MOST_AT_ONCE} ORDER BY row_no LIMIT ${PAGE}`,
    [id, wanted.after, wanted.verdict ?? null, wanted.fix ?? null, wanted.waiting, wanted.blank ?? null, wanted.otherName],
  );
  const more = rows.length < (rows[0]?.there ?? 0);
  for (const row of rows) delete row.there;
  return { rows, next: more ? rows[rows.length - 1].row_no : null };
}

/**
 * Changes the choices of a bench; its counts are to be made anew.
 * @throws Refusal 409 when it has been decided in the meantime: what was decided stays as it was
 */
export async function changeBench(db: Queryable, id: number, settings: ImportSettings): Promise<void> {
  const before = await openImport(db, id);
  const facts: Partial<ImportFacts> = {};
  let kept = settings;
  if (settings.heading_row !== before.settings.heading_row) {
    const { rows } = await db.query<{ cells: string[] }>(`SELECT cells FROM import_row WHERE import_id = $1 AND row_no = $2`, [
      id,
      settings.heading_row,
    ]);
    facts.headings = headingsOf(rows[0]?.cells, before.facts.headings.length);
    // what was said was said of other headings
    kept = { ...settings, not_about_texts: [], stop_columns: [] };
  }
  const changed = await db.query(
    `UPDATE import SET settings = $2::jsonb, facts = facts || $3::jsonb, at_row = 1, version = version + 1 WHERE id = $1 AND state = 'open'`,
    [id, JSON.stringify(kept), JSON.stringify(facts)],
  );
  if (changed.rowCount === 0) throw busy(await importOf(db, id));
}

/** Marks an import as given up, also while it is read or checked: whoever does that sees the mark and stops. @throws Refusal 409 */
export async function giveUp(db: Queryable, id: number): Promise<void> {
  const gone = await db.query(
    `UPDATE import SET state = 'given_up', at_row = 0 WHERE id = $1 AND state IN ('reading', 'open', 'failed')`,
    [id],
  );
  if (gone.rowCount === 0) throw busy(await importOf(db, id));
}

/** People that an undone import left as they are, with why. */
export async function keptPeople(db: Queryable, { facts }: StagedImport) {
  const why = new Map((facts.kept?.people ?? []).map((each) => [each.id, each.why]));
  const { rows } = await db.query<{ id: number; given_name: string; family_name: string; number: string | null }>(
    `SELECT id, given_name, family_name, number FROM person WHERE id = ANY ($1::bigint[]) ORDER BY sort_name, id`,
    [[...why.keys()]],
  );
  return rows.map((row) => ({
    id: row.id,
    name: `${row.given_name} ${row.family_name}`.trim(),
    number: row.number ? showPhone(row.number) : null,
    why: why.get(row.id) ?? '',
  }));
}

/** From now on it is being undone; false when it is not (or no longer) done. */
export async function beginUndo(tx: Queryable, id: number): Promise<boolean> {
  return (await tx.query(`UPDATE import SET state = 'undoing' WHERE id = $1 AND state = 'done'`, [id])).rowCount > 0;
}
