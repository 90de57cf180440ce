import { iso } from '../../../core/clock';
import type { LeasedRow } from '../../../core/line/effects';
import type { Db, Queryable } from '../../db/db';
import { Fenced } from './fenced';

/** States of a run whose rows are looked at: those that send, and those of which nothing goes any more, to say so. */
const LOOKED_AT = `('sending', 'finished', 'stopped', 'missed')`;
const ROWS = 40;

export interface QueueRow {
  runId: number | null;
  senderId: number;
  lane: 0 | 1 | 2;
  due: number;
  parts: number;
  ids: readonly number[];
}

/** Puts texts into the queue, each row with its own id, and tells the texts so. */
export async function enqueue(db: Queryable, rows: readonly QueueRow[]): Promise<void> {
  for (const row of rows) {
    const { rows: made } = await db.query<{ id: number }>(
      `INSERT INTO line_queue (run_id, sender_id, lane, due_at, parts, ids) VALUES ($1, $2, $3, $4::timestamptz, $5, $6::bigint[]) RETURNING id`,
      [row.runId, row.senderId, row.lane, iso(row.due), row.parts, row.ids],
    );
    await db.query(`UPDATE outbound SET queue = $1 WHERE id = ANY ($2::bigint[])`, [made[0].id, row.ids]);
  }
}

/**
 * Leases due rows for about so many parts, urgent before tried-again before runs. A row is leased whole; it is small.
 * @throws Fenced
 */
export async function lease(
  db: Db,
  epoch: number,
  asked: { parts: number; except: readonly number[]; known?: readonly number[]; now: number },
): Promise<{ rows: LeasedRow[]; next: number | null }> {
  return db.transaction(async (tx) => {
    if (asked.known)
      await tx.query(`UPDATE line_queue SET leased_by = NULL WHERE leased_by = $1 AND id <> ALL ($2::bigint[])`, [
        epoch,
        asked.known,
      ]);
    const { rows } = await tx.query<{ id: number; sender_id: number; lane: 0 | 1 | 2; texts: [number, number, number][] | null }>(
      `WITH due AS (
         SELECT q.id, q.lane, q.due_at, q.parts FROM line_queue q LEFT JOIN run ON run.id = q.run_id
         WHERE q.leased_by IS NULL AND q.due_at <= $2::timestamptz AND q.sender_id <> ALL ($3::bigint[])
           AND (q.run_id IS NULL OR run.state IN ${LOOKED_AT})
         ORDER BY q.lane, q.due_at, q.id LIMIT ${ROWS} FOR UPDATE OF q SKIP LOCKED),
       chosen AS (SELECT id, sum(parts) OVER (ORDER BY lane, due_at, id) - parts AS before FROM due),
       owner AS (SELECT epoch FROM line_owner WHERE epoch = $1 AND ended_at IS NULL FOR SHARE)
       UPDATE line_queue SET leased_by = owner.epoch FROM chosen, owner
       WHERE line_queue.id = chosen.id AND chosen.before < $4::int
       RETURNING line_queue.id, sender_id, lane,
         (SELECT json_agg(json_build_array(o.id, extract(epoch FROM o.due_at) * 1000, o.open) ORDER BY o.due_at, o.id)
          FROM outbound o WHERE o.id = ANY (line_queue.ids) AND o.queue = line_queue.id AND o.open > 0) AS texts`,
      [epoch, iso(asked.now), asked.except, asked.parts],
    );
    if (rows.length === 0) {
      // nothing due: is there nothing, or are we no longer the owner? And when is the next?
      const { rows: left } = await tx.query<{ lives: boolean; next: string | null }>(
        `SELECT EXISTS (SELECT 1 FROM line_owner WHERE epoch = $1 AND ended_at IS NULL) AS lives,
           (SELECT min(q.due_at) FROM line_queue q WHERE q.leased_by IS NULL AND q.due_at > $2::timestamptz) AS next`,
        [epoch, iso(asked.now)],
      );
      if (!left[0].lives) throw new Fenced();
      return { rows: [], next: left[0].next === null ? null : Date.parse(left[0].next) };
    }
    return {
      rows: rows.map((row) => ({
        row: row.id,
        sender: row.sender_id,
        lane: row.lane,
        texts: (row.texts ?? []).map(([id, due, parts]) => ({ id, due: Math.floor(Number(due)), parts })),
      })),
      next: asked.now,
    };
  });
}

/** Gives back rows of which nothing is left. Returns those that are gone. */
export async function dropEmptied(db: Queryable, epoch: number, rows: readonly number[]): Promise<number[]> {
  if (rows.length === 0) return [];
  await db.query(
    `DELETE FROM line_queue q WHERE id = ANY ($1::bigint[]) AND leased_by = $2
       AND NOT EXISTS (SELECT 1 FROM outbound o WHERE o.id = ANY (q.ids) AND o.queue = q.id AND o.open > 0)`,
    [rows, epoch],
  );
  const { rows: left } = await db.query<{ id: number }>(`SELECT id FROM line_queue WHERE id = ANY ($1::bigint[])`, [rows]);
  const still = new Set(left.map((row) => row.id));
  return rows.filter((row) => !still.has(row));
}
