import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { PreparedRow } from '../../../core/people/prepare';
import type { Queryable } from '../../db/db';
import { nextRows, type StagedRow, readerOf } from '../../people/for-others';

export interface OnceRow extends PreparedRow {
  /** What the file says about being texted for this purpose. */
  said: 'granted' | 'withdrawn' | null;
}

/** The rows of a file that is used for one broadcast, as people; rejected rows stay out. */
export async function onceRows(db: Queryable, importId: number, purpose: 'service' | 'marketing'): Promise<OnceRow[]> {
  const staged = (
    await db.query<{ settings: ImportSettings }>(`SELECT settings FROM import WHERE id = $1 AND state = 'once'`, [importId])
  ).rows[0];
  if (!staged) return [];
  const reader = await readerOf(db, staged.settings);
  const refused = new Set(
    (await db.query<{ number: string }>(`SELECT number FROM import_refusal WHERE import_id = $1`, [importId])).rows.map(
      (row) => row.number,
    ),
  );
  const once: OnceRow[] = [];
  for (let after = -1; ;) {
    const rows = await nextRows(db, importId, { after, verdicts: ['new', 'changed', 'unchanged', 'twice'] }, 2000);
    if (rows.length === 0) return once;
    after = rows[rows.length - 1].row_no;
    for (const row of rows) {
      const made = onceRow(row);
      if (made) once.push(made);
    }
  }
  function onceRow(row: StagedRow): OnceRow | undefined {
    const read = reader.read(row.row_no, row.cells);
    if (!read.ok) return undefined;
    // a no in any row of the file counts for its number
    const consent = refused.has(read.row.person.number ?? '') ? 'withdrawn' : read.row.person.consent;
    const { consent_all, consent_purpose } = staged.settings;
    // a "no" counts whatever it was asked for; a "yes" only for its own purpose
    const said =
      consent === 'withdrawn' ? consent : consent_purpose === purpose ? (consent ?? (consent_all ? 'granted' : null)) : null;
    return { ...read.row, said };
  }
}
