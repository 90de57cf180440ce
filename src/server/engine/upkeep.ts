import { iso } from '../../core/clock';
import type { Resolved } from '../../core/line/entries';
import { LAST_WORD_WITHIN } from '../../core/runs/life';
import type { Db } from '../db/db';
import type { Work } from '../desk/job-runner';
import type { Bus } from '../desk/bus';
import { insertTexts } from './replies/inbound';
import { takeIncomplete } from './replies/join-parts';
import type { LineDriver } from './line/driver';

const MINUTE = 60_000;
const FORGOTTEN_AT_ONCE = 2000;

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
      [iso(now() - LAST_WORD_WITHIN)],
    );
    await line.resolved(rows.map((row): Resolved => ({ text: row.outbound_id, no: row.part_no, kind: 'forgotten' })));
    return { again: now() + (rows.length === FORGOTTEN_AT_ONCE ? MINUTE / 6 : 5 * MINUTE) };
  };
}
