import { iso } from '../../core/clock';
import type { Resolved } from '../../core/line/entries';
import type { Db } from '../db/db';
import type { Work } from '../desk/job-runner';
import type { Bus } from '../desk/bus';
import { insertTexts } from './replies/inbound';
import { takeIncomplete } from './replies/join-parts';
import type { LineDriver } from './line/driver';

const MINUTE = 60_000;
/** The longest validity, and an hour for the last receipt. */
const FORGOTTEN_AFTER = 25 * 3_600_000;
const QUIET_CARE = 10 * MINUTE;
const FORGOTTEN_AT_ONCE = 2000;
/** So many of the latest changes of audiences stay as rows; the others are counted. */
const CHANGES_KEPT = 1000;
/** Of what only grows, so many go at once. */
const TRIMMED_AT_ONCE = 20_000;

/** Replies whose missing parts never came are shown as they are, and acted on as such. */
export function incompleteWork(bus: Bus): Work {
  return async ({ now, inOne }) => {
    let runs: number[] = [];
    await inOne(async (tx) => {
      const { texts, next } = await takeIncomplete(tx, now());
      ({ runs } = await insertTexts(tx, texts, now()));
      return { again: next };
    });
    bus.changed('replies');
    for (const run of runs) bus.changed('run', run);
    return undefined;
  };
}

/** An hour after its validity, a text of which the carrier never said what became is uncertain for good. */
export function forgottenWork(db: Db, line: LineDriver): Work {
  return async ({ now }) => {
    const { rows } = await db.query<{ outbound_id: number; part_no: number }>(
      `SELECT p.outbound_id, p.part_no FROM outbound o JOIN outbound_part p ON p.outbound_id = o.id
       WHERE (o.run_id IN (SELECT t.run_id FROM run_tally t JOIN run ON run.id = t.run_id WHERE t.state = 'with_carrier' AND t.people > 0 AND run.due_at < $1::timestamptz)
              OR o.run_id IS NULL)
         AND o.state = 'with_carrier' AND p.state = 'with_carrier' AND p.written_at < $1::timestamptz ORDER BY p.outbound_id LIMIT ${FORGOTTEN_AT_ONCE}`,
      [iso(now() - FORGOTTEN_AFTER)],
    );
    await line.resolved(rows.map((row): Resolved => ({ text: row.outbound_id, no: row.part_no, kind: 'forgotten' })));
    return { again: now() + (rows.length === FORGOTTEN_AT_ONCE ? MINUTE / 6 : 5 * MINUTE) };
  };
}

/**
 * Keeps small what only grows: the line's journal that is posted, owners that are long over, changes of audiences, receipts that belong to
 * nothing here, sessions and links to come in that are over; and looks after the embedded engine, which has no autovacuum. Small tables that live fast every minute; the large ones when nothing is going out, since a statement there makes everyone
 * wait.
 */
export function trimWork(db: Db): Work {
  let caredAt: number | undefined;
  return async ({ now, over }) => {
    await db.query(`DELETE FROM line_journal j USING line_owner o WHERE o.epoch = j.epoch AND j.id <= o.posted`);
    await db.query(
      `DELETE FROM line_owner o WHERE ended_at IS NOT NULL AND NOT EXISTS (SELECT 1 FROM line_journal j WHERE j.epoch = o.epoch)
       AND epoch < (SELECT max(epoch) FROM line_owner) - 20`,
    );
    await trimGrown(db, now());
    if (db.engine === 'embedded') {
      const bulk = db.lane('bulk');
      for (const table of ['line_queue', 'line_journal', 'line_pace', 'line_owner', 'run_tally', 'job'])
        await bulk.exec(`VACUUM (ANALYZE) ${table}`);
      caredAt ??= now();
      if (now() >= caredAt + QUIET_CARE && !(await busy(db, now()))) {
        caredAt = now();
        for (const table of ['outbound_part', 'outbound', 'inbound']) if (!over()) await bulk.exec(`VACUUM (ANALYZE) ${table}`);
      }
    }
    return { again: now() + MINUTE };
  };
}

async function trimGrown(db: Db, now: number): Promise<void> {
  await db.query(
    `WITH gone AS (DELETE FROM audience_change
       WHERE id <= least((SELECT max(id) FROM audience_change) - $1, (SELECT min(id) FROM audience_change) + $2) RETURNING 1)
     INSERT INTO audience_trimmed (id, changes) SELECT 1, count(*) FROM gone HAVING count(*) > 0
     ON CONFLICT (id) DO UPDATE SET changes = audience_trimmed.changes + excluded.changes`,
    [CHANGES_KEPT, TRIMMED_AT_ONCE],
  );
  // by then a text that it could be of is uncertain for good
  await db.query(
    `DELETE FROM receipt_parked WHERE ctid = ANY (ARRAY(SELECT ctid FROM receipt_parked WHERE at < $1::timestamptz ORDER BY at LIMIT ${TRIMMED_AT_ONCE}))`,
    [iso(now - 2 * FORGOTTEN_AFTER)],
  );
  await db.query(`DELETE FROM session WHERE expires_at <= $1::timestamptz`, [iso(now)]);
  await db.query(`DELETE FROM invitation WHERE expires_at <= $1::timestamptz`, [iso(now)]);
}

async function busy(db: Db, now: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `SELECT 1 FROM run WHERE state IN ('planning', 'sending') OR (state = 'waiting' AND due_at < $1::timestamptz) LIMIT 1`,
    [iso(now + QUIET_CARE)],
  );
  return rowCount > 0;
}
