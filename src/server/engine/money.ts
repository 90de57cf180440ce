import type { Db, Queryable, Tx } from '../db/db';

/** Sum of all money moves, in millionths. */
export async function balanceMicro(db: Queryable): Promise<number> {
  return (await db.query<{ sum: number }>('SELECT coalesce(sum(amount_micro), 0)::bigint AS sum FROM balance_entry')).rows[0].sum;
}

/**
 * Of two who spend at the same moment one comes after the other: whoever looks at the balance and takes from it holds this until the end
 * of its transaction. After the conversation's lock, before texts (docs/engine.md, *Locks*).
 */
export const BALANCE_LOCK = `SELECT id FROM workspace FOR NO KEY UPDATE`;

/** Price of one part to a number in millionths: the longest matching prefix of the rate card; undefined when there is none. */
export async function priceOf(db: Queryable, number: string): Promise<number | undefined> {
  const { rows } = await db.query<{ price_micro: number }>(
    `SELECT price_micro FROM rate WHERE $1 LIKE prefix || '%' ORDER BY length(prefix) DESC LIMIT 1`,
    [number],
  );
  return rows[0]?.price_micro;
}

/**
 * Makes the ledger of an ended run right: what stands there for it is to be what the carrier took, or may have taken. The first
 * time that gives the hold back and spends; later, when an uncertain part has been found out about, it is the difference. Does
 * nothing while a part is still on its way, and nothing when the ledger is right.
 */
export async function settleRun(tx: Tx, runId: number, at: string): Promise<boolean> {
  const { rows } = await tx.query<{ entered: number; held: boolean; billed: number }>(
    `SELECT (SELECT coalesce(sum(amount_micro), 0)::bigint FROM balance_entry WHERE run_id = run.id) AS entered,
       NOT EXISTS (SELECT 1 FROM balance_entry WHERE run_id = run.id AND kind = 'release') AS held,
       (SELECT coalesce(sum(billed_micro), 0)::bigint FROM run_tally WHERE run_id = run.id) AS billed
     FROM run WHERE run.id = $1 AND run.state IN ('stopped', 'finished', 'missed')
       AND NOT EXISTS (SELECT 1 FROM run_tally WHERE run_id = run.id AND open_texts > 0)`,
    [runId],
  );
  if (rows.length === 0) return false;
  const { entered, held, billed } = rows[0];
  const enter = (kind: 'release' | 'spend', amount: number, note: string) =>
    tx.query(`INSERT INTO balance_entry (at, kind, amount_micro, run_id, note) VALUES ($1::timestamptz, $2, $3, $4, $5)`, [
      at,
      kind,
      amount,
      runId,
      note,
    ]);
  if (held) {
    if (entered !== 0) await enter('release', -entered, '');
    if (billed !== 0) await enter('spend', -billed, '');
  } else if (entered !== -billed)
    await enter(entered > -billed ? 'spend' : 'release', -billed - entered, 'put right: more is known of what the carrier took');
  return true;
}

/** The same for single texts of no run: each pays for the parts that were taken, once nothing of it is on its way. */
export async function settleTexts(tx: Queryable, ids: readonly number[], at: string): Promise<void> {
  if (ids.length === 0) return;
  const owed = `SELECT o.id, o.kind, -(o.billed * (o.cost_micro / o.parts)) AS due, coalesce(sum(b.amount_micro), 0)::bigint AS entered,
      coalesce(bool_or(b.kind = 'release'), false) AS released
    FROM outbound o LEFT JOIN balance_entry b ON b.outbound_id = o.id WHERE o.id = ANY ($1::bigint[]) AND o.run_id IS NULL AND o.open = 0 GROUP BY o.id`;
  // the hold goes back as a whole, once; then what was taken is spent, and later only the difference
  await tx.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, outbound_id, note)
     SELECT $2::timestamptz, 'release', -entered, id, kind FROM (${owed}) AS owed WHERE NOT released AND entered <> 0`,
    [ids, at],
  );
  await tx.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, outbound_id, note)
     SELECT $2::timestamptz, CASE WHEN due < entered THEN 'spend' ELSE 'release' END, due - entered, id, kind FROM (${owed}) AS owed WHERE due <> entered`,
    [ids, at],
  );
}

/** Pays for single texts that were left unpaid by an earlier version or a crash; at the start. */
export async function settleUnpaid(db: Db, at: string): Promise<void> {
  await db.transaction(async (tx) => {
    const { rows } = await tx.query<{ outbound_id: number }>(
      `SELECT outbound_id FROM balance_entry WHERE outbound_id IS NOT NULL AND kind = 'hold'
         AND NOT EXISTS (SELECT 1 FROM balance_entry later WHERE later.outbound_id = balance_entry.outbound_id AND later.id > balance_entry.id)`,
    );
    await settleTexts(
      tx,
      rows.map((row) => row.outbound_id),
      at,
    );
  });
}
