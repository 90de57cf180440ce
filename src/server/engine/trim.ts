import { iso } from '../../core/clock';
import { LAST_WORD_WITHIN } from '../../core/runs/life';
import type { Db, Queryable } from '../db/db';
import { worthSweeping } from '../db/statistics';
import type { Work } from '../desk/job-runner';

const MINUTE = 60_000;
const DAY = 86_400_000;
const QUIET_CARE = 10 * MINUTE;
/** So many of the latest changes of audiences stay as rows; the others are counted. */
const CHANGES_KEPT = 1000;
/** Of what only grows, so many go at once. */
const TRIMMED_AT_ONCE = 20_000;
/** Nobody presses what they looked at so long ago, ms. */
const PRESSES_KEPT = 30 * DAY;
/** Owners of the line that are over, beside the present one. */
const OWNERS_KEPT = 20;

/** What is kept for a while only. Everything else in the database is kept on purpose, until somebody deletes it. */
interface Trimmed {
  table: string;
  words: string;
  /** For how long, in words. */
  keeps: string;
  trim(db: Db, now: number): Promise<unknown>;
}

const over = (table: string) => (db: Db, now: number) =>
  db.query(`DELETE FROM ${table} WHERE expires_at <= $1::timestamptz`, [iso(now)]);

const TRIMMED: readonly Trimmed[] = [
  {
    table: 'line_journal',
    words: 'the line’s journal',
    keeps: 'until it is posted',
    trim: (db) => db.query(`DELETE FROM line_journal j USING line_owner o WHERE o.epoch = j.epoch AND j.id <= o.posted`),
  },
  {
    table: 'line_owner',
    words: 'processes that had the line',
    keeps: `the last ${OWNERS_KEPT}`,
    trim: (db) =>
      db.query(
        `DELETE FROM line_owner o WHERE ended_at IS NOT NULL AND NOT EXISTS (SELECT 1 FROM line_journal j WHERE j.epoch = o.epoch)
         AND epoch < (SELECT max(epoch) FROM line_owner) - ${OWNERS_KEPT}`,
      ),
  },
  {
    table: 'audience_change',
    words: 'changes of audiences',
    keeps: `the last ${CHANGES_KEPT.toLocaleString('en-US')}, the others are counted`,
    trim: (db) =>
      db.query(
        `WITH gone AS (DELETE FROM audience_change
           WHERE id <= least((SELECT max(id) FROM audience_change) - $1, (SELECT min(id) FROM audience_change) + $2) RETURNING 1)
         INSERT INTO audience_trimmed (id, changes) SELECT 1, count(*) FROM gone HAVING count(*) > 0
         ON CONFLICT (id) DO UPDATE SET changes = audience_trimmed.changes + excluded.changes`,
        [CHANGES_KEPT, TRIMMED_AT_ONCE],
      ),
  },
  {
    table: 'receipt_parked',
    words: 'receipts that belong to no text of ours',
    keeps: 'two days',
    // by then a text that it could be of is uncertain for good
    trim: (db, now) =>
      db.query(
        `DELETE FROM receipt_parked WHERE ctid = ANY (ARRAY(SELECT ctid FROM receipt_parked WHERE at < $1::timestamptz ORDER BY at LIMIT ${TRIMMED_AT_ONCE}))`,
        [iso(now - 2 * LAST_WORD_WITHIN)],
      ),
  },
  { table: 'session', words: 'who is signed in', keeps: 'until it is over', trim: over('session') },
  { table: 'invitation', words: 'links to come in', keeps: 'until they are over', trim: over('invitation') },
  {
    table: 'broadcast_blank',
    words: 'drafts that were begun and never touched',
    keeps: 'a day',
    trim: (db, now) =>
      db.query(
        `DELETE FROM broadcast WHERE id IN (SELECT id FROM broadcast_blank WHERE created_at < $1::timestamptz)
           AND NOT EXISTS (SELECT 1 FROM run WHERE broadcast_id = broadcast.id)
           AND NOT EXISTS (SELECT 1 FROM draft_presence p WHERE p.broadcast_id = broadcast.id AND p.seen_at > $1::timestamptz)`,
        [iso(now - DAY)],
      ),
  },
  {
    table: 'press_over',
    words: 'presses that were taken back',
    keeps: '30 days',
    trim: (db, now) => db.query(`DELETE FROM press_over WHERE at < $1::timestamptz`, [iso(now - PRESSES_KEPT)]),
  },
];

/** How much there is of what is kept for a while only. */
export async function keptForAWhile(db: Queryable): Promise<{ words: string; keeps: string; rows: number }[]> {
  const { rows } = await db.query<Record<string, number>>(
    `SELECT ${TRIMMED.map(({ table }) => `(SELECT count(*) FROM ${table}) AS ${table}`).join(', ')}`,
  );
  return TRIMMED.map(({ table, words, keeps }) => ({ words, keeps, rows: rows[0][table] }));
}

/**
 * Keeps small what only grows, and looks after the embedded engine, which has no autovacuum: small tables that live fast every minute, the
 * large ones when nothing is going out, since a statement there makes everyone wait. The job of the kind `trim`.
 */
export function trimWork(db: Db): Work {
  let caredAt: number | undefined;
  return async ({ now, over: ending }) => {
    for (const { trim } of TRIMMED) await trim(db, now());
    if (db.engine === 'embedded') {
      const bulk = db.lane('bulk');
      for (const table of await worthSweeping(bulk, [
        'line_queue',
        'line_journal',
        'line_pace',
        'line_owner',
        'run_tally',
        'job',
      ]))
        await bulk.exec(`VACUUM (ANALYZE) ${table}`);
      caredAt ??= now();
      if (now() >= caredAt + QUIET_CARE && !(await busy(db, now()))) {
        caredAt = now();
        for (const table of ['outbound_part', 'outbound', 'inbound']) if (!ending()) await bulk.exec(`VACUUM (ANALYZE) ${table}`);
      }
    }
    return { again: now() + MINUTE };
  };
}

async function busy(db: Db, now: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `SELECT 1 FROM run WHERE state IN ('planning', 'sending') OR (state = 'waiting' AND due_at < $1::timestamptz) LIMIT 1`,
    [iso(now + QUIET_CARE)],
  );
  return rowCount > 0;
}
