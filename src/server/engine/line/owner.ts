import type { Db } from '../../db/db';
import { postJournal } from './post-journal';

/** After so long without a sign of life an owner is taken for dead, ms of the machine's time. */
const DEAD_AFTER = 20_000;

/** A new owner; its epoch is larger than any before. */
export async function beginOwner(db: Db, process: string, machineNow: number): Promise<number> {
  const { rows } = await db.query<{ epoch: number }>(
    `INSERT INTO line_owner (process, beat_at) VALUES ($1, $2::timestamptz) RETURNING epoch`,
    [process, new Date(machineNow).toISOString()],
  );
  return rows[0].epoch;
}

/** Says that the owner lives. False when it has been taken over. */
export async function beat(db: Db, epoch: number, machineNow: number): Promise<boolean> {
  const { rowCount } = await db.query(`UPDATE line_owner SET beat_at = $2::timestamptz WHERE epoch = $1 AND ended_at IS NULL`, [
    epoch,
    new Date(machineNow).toISOString(),
  ]);
  return rowCount > 0;
}

/**
 * Takes over every owner that is dead: on the embedded engine all others (the folder lock says so), on a server those that
 * have long been silent. What they intended and never recorded an answer for becomes uncertain; what they had leased goes
 * back into the queue.
 */
export async function takeOverDead(
  db: Db,
  own: number,
  now: number,
  machineNow: number,
): Promise<{ runs: number[]; taken: number }> {
  const silentSince = new Date(machineNow - (db.engine === 'embedded' ? -60_000 : DEAD_AFTER)).toISOString();
  const { rows } = await db.query<{ epoch: number }>(
    `SELECT epoch FROM line_owner WHERE ended_at IS NULL AND epoch <> $1 AND beat_at < $2::timestamptz ORDER BY epoch`,
    [own, silentSince],
  );
  const runs = new Set<number>();
  for (const { epoch } of rows) for (const run of await endOwner(db, epoch, now, silentSince)) runs.add(run);
  return { runs: [...runs], taken: rows.length };
}

/** Ends an owner, in one transaction with the posting of all it has journaled. */
export async function endOwner(db: Db, epoch: number, now: number, silentSince?: string): Promise<number[]> {
  return db.transaction(async (tx) => {
    const ended = await tx.query(
      `UPDATE line_owner SET ended_at = beat_at WHERE epoch = $1 AND ended_at IS NULL AND ($2::timestamptz IS NULL OR beat_at < $2::timestamptz)`,
      [epoch, silentSince ?? null],
    );
    if (ended.rowCount === 0) return [];
    const { runs } = await postJournal(tx, { epoch, ended: true, now });
    await tx.query(`UPDATE line_queue SET leased_by = NULL WHERE leased_by = $1`, [epoch]);
    return runs;
  });
}
