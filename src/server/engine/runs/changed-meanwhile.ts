import { nanoid } from 'nanoid';
import { iso } from '../../../core/clock';
import type { Tx } from '../../db/db';
import { want } from '../../desk/job-queries';
import { notSent } from './not-sent';

/**
 * Who said stop, changed number or was erased between a run's plan and the moment at which its last text is stored: theirs were not there
 * yet to be taken out. It is the gate that makes it certain that nothing goes; here it becomes visible, and of whoever was erased nothing
 * stays that was stored after it.
 *
 * @param since when the plan was made, ISO 8601
 */
export async function dropChangedMeanwhile(tx: Tx, run: number, since: string, now: number): Promise<void> {
  const at = iso(now);
  const stopped = await tx.query<{ number: string }>(`SELECT number FROM suppression WHERE at >= $1::timestamptz`, [since]);
  if (stopped.rowCount > 0) await notSent(tx, { numbers: stopped.rows.map(({ number }) => number) }, 'opted out', at);
  const moved = await tx.query<{ id: number }>(
    `SELECT person.id FROM person JOIN outbound o ON o.run_id = $1 AND o.person_id = person.id
     WHERE person.updated_at >= $2::timestamptz AND person.number IS DISTINCT FROM o.number`,
    [run, since],
  );
  if (moved.rowCount > 0) await notSent(tx, { people: moved.rows.map(({ id }) => id), run }, 'number changed', at);
  const gone = await tx.query<{ person_id: number; number: string }>(
    `SELECT o.person_id, o.number FROM outbound o WHERE o.run_id = $1 AND o.person_id IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM person WHERE person.id = o.person_id)`,
    [run],
  );
  if (gone.rowCount === 0) return;
  await notSent(tx, { people: gone.rows.map((row) => row.person_id) }, 'erased', at);
  for (const { person_id, number } of gone.rows) {
    await tx.query(
      `INSERT INTO erasing (person_id, number, nobody, at, files_done)
       VALUES ($1, CASE WHEN EXISTS (SELECT 1 FROM person WHERE person.number = $2) THEN NULL ELSE $2 END, $3, $4::timestamptz, true)
       ON CONFLICT (person_id) DO NOTHING`,
      [person_id, number, `erased-${nanoid(10)}`, at],
    );
    await want(tx, [{ kind: 'erase', key: String(person_id), due: now }]);
  }
}
