import type { TextState } from '../../core/outcome/states';
import type { Queryable } from '../db/db';

/** The queue's statements. All times are parameters: the clock is the engine's. */

export interface ClaimedPart {
  part_id: number;
  outbound_id: number;
  part_no: number;
  reference: number;
  number: string;
  body: string;
  alphabet: 'gsm7' | 'ucs2';
  address: string;
  sender_kind: 'long' | 'short' | 'name';
}

/**
 * Claims due texts of one run (or, with null, of everything that belongs to no run: tests, replies, confirmations)
 * for at most `room` parts, and writes the intent for each part, in one statement. What is claimed here and not
 * answered becomes uncertain, so never claim more than the window has free.
 */
export async function claimTexts(db: Queryable, runId: number | null, now: string, room: number): Promise<ClaimedPart[]> {
  const which = runId === null ? 'run_id IS NULL AND $1::bigint IS NULL' : 'run_id = $1::bigint';
  const { rows } = await db.query<ClaimedPart>(
    `WITH due AS (
       SELECT id, parts, due_at FROM outbound
       WHERE ${which} AND state = 'planned' AND due_at <= $2::timestamptz AND not_after > $2::timestamptz
       ORDER BY due_at, id LIMIT $3::int FOR UPDATE SKIP LOCKED),
     room AS (SELECT id, sum(parts) OVER (ORDER BY due_at, id) AS upto FROM due),
     taken AS (
       UPDATE outbound SET state = 'handing_over', handed_at = $2::timestamptz
       FROM room WHERE outbound.id = room.id AND room.upto <= $3::int
       RETURNING outbound.id, outbound.number, outbound.sender_id, outbound.body, outbound.alphabet, outbound.parts, outbound.due_at),
     made AS (
       INSERT INTO outbound_part (outbound_id, part_no, number, state, reference, written_at)
       SELECT taken.id, n, taken.number, 'handing_over', nextval('part_reference'), $2::timestamptz FROM taken, generate_series(1, taken.parts) AS n
       RETURNING id, outbound_id, part_no, reference)
     SELECT made.id AS part_id, made.outbound_id, made.part_no, made.reference, taken.number, taken.body, taken.alphabet,
            sender.address, sender.kind AS sender_kind
     FROM made JOIN taken ON taken.id = made.outbound_id JOIN sender ON sender.id = taken.sender_id
     ORDER BY taken.due_at, made.outbound_id, made.part_no`,
    [runId, now, room],
  );
  return rows;
}

/** Claims parts that were throttled or never written, once their time has come, unless their run is paused or stopped. A finished run may have one: the carrier said it never got it. */
export async function claimRetries(db: Queryable, now: string, room: number): Promise<ClaimedPart[]> {
  const { rows } = await db.query<ClaimedPart>(
    `WITH due AS (
       SELECT part.id FROM outbound_part part JOIN outbound ON outbound.id = part.outbound_id LEFT JOIN run ON run.id = outbound.run_id
       WHERE part.state = 'planned' AND part.retry_at <= $1::timestamptz AND outbound.not_after > $1::timestamptz AND (run.id IS NULL OR run.state IN ('sending', 'finished'))
       ORDER BY part.retry_at, part.id LIMIT $2::int FOR UPDATE OF part SKIP LOCKED),
     taken AS (
       UPDATE outbound_part part SET state = 'handing_over', attempts = attempts + 1, written_at = $1::timestamptz, retry_at = NULL
       FROM due WHERE part.id = due.id RETURNING part.id, part.outbound_id, part.part_no, part.reference)
     SELECT taken.id AS part_id, taken.outbound_id, taken.part_no, taken.reference, outbound.number, outbound.body, outbound.alphabet,
            sender.address, sender.kind AS sender_kind
     FROM taken JOIN outbound ON outbound.id = taken.outbound_id JOIN sender ON sender.id = outbound.sender_id ORDER BY taken.id`,
    [now, room],
  );
  return rows;
}

export interface PartChange {
  id: number;
  state: TextState;
  messageId?: string;
  reason?: string;
  retryAt?: string;
}

/**
 * Records what became of parts that were being handed over. A part that a receipt has moved on in the meantime
 * keeps its state and only learns its message id.
 */
export async function recordHanded(db: Queryable, changes: readonly PartChange[], now: string): Promise<number[]> {
  const { rows } = await db.query<{ outbound_id: number }>(
    `UPDATE outbound_part part SET
       state = CASE WHEN part.state = 'handing_over' THEN new.state ELSE part.state END,
       message_id = coalesce(new.message_id, part.message_id),
       reason = CASE WHEN part.state = 'handing_over' THEN nullif(new.reason, '') ELSE part.reason END,
       retry_at = nullif(new.retry_at, '')::timestamptz,
       accepted_at = CASE WHEN new.message_id IS NULL THEN part.accepted_at ELSE coalesce(part.accepted_at, $6::timestamptz) END,
       final_at = CASE WHEN part.state = 'handing_over' AND new.state = 'not_delivered' THEN $6::timestamptz ELSE part.final_at END
     FROM unnest($1::bigint[], $2::text[], $3::text[], $4::text[], $5::text[]) AS new (id, state, message_id, reason, retry_at)
     WHERE part.id = new.id RETURNING part.outbound_id`,
    [
      changes.map((change) => change.id),
      changes.map((change) => change.state),
      changes.map((change) => change.messageId ?? null),
      changes.map((change) => change.reason ?? ''),
      changes.map((change) => change.retryAt ?? ''),
      now,
    ],
  );
  return [...new Set(rows.map((row) => row.outbound_id))];
}

/** Moves parts on receipts. The caller has decided the states (core/outcome/states.ts). */
export async function recordReceipts(db: Queryable, changes: readonly PartChange[], now: string): Promise<number[]> {
  const { rows } = await db.query<{ outbound_id: number }>(
    `UPDATE outbound_part part SET state = new.state, message_id = coalesce(part.message_id, new.message_id), reason = nullif(new.reason, ''),
       accepted_at = coalesce(part.accepted_at, $5::timestamptz),
       final_at = CASE WHEN new.state = 'with_carrier' THEN NULL ELSE $5::timestamptz END
     FROM unnest($1::bigint[], $2::text[], $3::text[], $4::text[]) AS new (id, state, message_id, reason)
     WHERE part.id = new.id RETURNING part.outbound_id`,
    [
      changes.map((c) => c.id),
      changes.map((c) => c.state),
      changes.map((c) => c.messageId ?? null),
      changes.map((c) => c.reason ?? ''),
      now,
    ],
  );
  return [...new Set(rows.map((row) => row.outbound_id))];
}

/** The same rule as `rollUp` in core/outcome/states.ts, over the rows of outbound_part; a test holds the two equal. */
const ROLL_UP = `CASE
  WHEN bool_and(state = 'not_sent') THEN 'not_sent'
  WHEN bool_or(state IN ('not_delivered', 'not_sent')) THEN 'not_delivered'
  WHEN bool_or(state = 'expired') THEN 'expired'
  WHEN bool_or(state IN ('planned', 'handing_over')) THEN 'handing_over'
  WHEN bool_or(state = 'uncertain') THEN 'uncertain'
  WHEN bool_or(state = 'with_carrier') THEN 'with_carrier'
  ELSE 'delivered' END`;

/** Brings texts up to date with their parts. Returns the runs concerned. */
export async function rollUpTexts(db: Queryable, outboundIds: readonly number[]): Promise<number[]> {
  if (outboundIds.length === 0) return [];
  const { rows } = await db.query<{ run_id: number | null }>(
    `UPDATE outbound SET state = parts.state, reason = parts.reason,
       final_at = CASE WHEN parts.state IN ('delivered', 'not_delivered', 'expired', 'not_sent') THEN coalesce(outbound.final_at, parts.final_at) END
     FROM (SELECT outbound_id, ${ROLL_UP} AS state, max(final_at) AS final_at, min(reason) AS reason
           FROM outbound_part WHERE outbound_id = ANY ($1::bigint[]) GROUP BY outbound_id) AS parts
     WHERE outbound.id = parts.outbound_id
     RETURNING outbound.run_id`,
    [outboundIds],
  );
  return [...new Set(rows.flatMap((row) => (row.run_id === null ? [] : [row.run_id])))];
}

/**
 * At the start of a process: parts whose intent was written and whose answer nobody recorded may or may not have
 * gone. They become uncertain and are never sent again by themselves.
 */
export async function markInterrupted(db: Queryable): Promise<number[]> {
  const { rows } = await db.query<{ outbound_id: number }>(
    `UPDATE outbound_part SET state = 'uncertain', reason = 'the server stopped before the carrier answered' WHERE state = 'handing_over' RETURNING outbound_id`,
  );
  return [...new Set(rows.map((row) => row.outbound_id))];
}
