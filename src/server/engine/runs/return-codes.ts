import type { Queryable, Tx } from '../../db/db';

const FREE = `run_id = NULL, reserved_for = NULL, reserved_until = NULL, outbound_id = NULL, number = NULL, person_id = NULL, taken_at = NULL`;

/** Codes of texts that never left are free again; what was handed over, whatever became of it, keeps its own. */
export async function returnUnsentCodes(tx: Tx, run: number): Promise<void> {
  await tx.query(
    `UPDATE code SET ${FREE} FROM outbound WHERE code.run_id = $1 AND outbound.id = code.outbound_id AND outbound.state = 'not_sent'
       AND NOT EXISTS (SELECT 1 FROM outbound_part p WHERE p.outbound_id = outbound.id)`,
    [run],
  );
}

/** Every code of a run that is taken away as if it had never been pressed. */
export async function returnAllCodes(db: Queryable, run: number): Promise<void> {
  await db.query(`UPDATE code SET ${FREE} WHERE run_id = $1`, [run]);
}
