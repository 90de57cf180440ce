import { iso } from '../../../core/clock';
import { Chunks } from '../../db/chunks';
import type { Db, Queryable } from '../../db/db';
import { settleTexts } from '../money';

/** Whose texts are meant: to these numbers, of these people, with the words of one of them, or in these rows of the queue. */
export type Meant =
  | { numbers: readonly string[] }
  /** Of one run, where it is given. */
  | { people: readonly number[]; run?: number }
  | { copiesOf: number }
  | { rows: readonly number[]; dueBefore: string };

/**
 * What is meant, each with the value of $1. Whoever said stop gets nothing but its confirmation, and tests that they asked for; whoever
 * is gone, or has another number, gets no more of broadcasts.
 */
function where(meant: Meant): [sql: string, ...values: (readonly string[] | readonly number[] | number | string)[]] {
  if ('numbers' in meant)
    return [
      `o.number = ANY ($1::text[]) AND o.kind IN ('run', 'reply', 'opt_out', 'copy', 'automatic', 'passed', 'alarm')`,
      meant.numbers,
    ];
  if ('people' in meant) {
    const theirs = `o.person_id = ANY ($1::bigint[]) AND o.kind IN ('run', 'opt_out')`;
    return meant.run === undefined ? [theirs, meant.people] : [`${theirs} AND o.run_id = $4`, meant.people, meant.run];
  }
  if ('copiesOf' in meant) return [`o.copy_of = $1`, meant.copiesOf];
  return [
    `o.id IN (SELECT unnest(q.ids) FROM line_queue q WHERE q.id = ANY ($1::bigint[])) AND o.queue = ANY ($1::bigint[]) AND o.due_at < $4::timestamptz`,
    meant.rows,
    meant.dueBefore,
  ];
}

/**
 * The one road to *not sent* outside the line: after the press only removals happen by themselves. Removing here makes it visible at once;
 * it is the gate, asked by the claim, that makes it certain. So what a line has in hand at the moment, and what has gone in part or was
 * tried already, is left to it. Single texts get their money back with it. Returns the runs that lost a text.
 */
export async function notSent(db: Queryable, meant: Meant, reason: string, at: string): Promise<number[]> {
  const [sql, ...values] = where(meant);
  const { rows } = await db.query<{ id: number; run_id: number | null }>(
    `UPDATE outbound o SET state = 'not_sent', reason = $2, final_at = $3::timestamptz, open = 0, queue = NULL
     WHERE ${sql} AND o.state = 'planned'
       AND NOT EXISTS (SELECT 1 FROM outbound_part p WHERE p.outbound_id = o.id)
       AND NOT EXISTS (SELECT 1 FROM line_queue q WHERE q.id = o.queue AND q.leased_by IS NOT NULL)
     RETURNING o.id, o.run_id`,
    [values[0], reason, at, ...values.slice(1)],
  );
  await settleTexts(
    db,
    rows.flatMap(({ id, run_id }) => (run_id === null ? [id] : [])),
    at,
  );
  return [...new Set(rows.flatMap(({ run_id }) => (run_id === null ? [] : [run_id])))];
}

/** What long work of a job asks between two pieces. */
interface Between {
  now(): number;
  over(): boolean;
  stillMine(): Promise<void>;
}

/** Later than anything is due. */
const ANY_TIME = Date.UTC(9999, 11, 31);

/**
 * Makes what a run has in the queue, and what is due before a moment (ms), not sent: a few rows at a time, so that others' requests slip
 * between. Rows that a line has leased are left to it. False when it left off because the process ends.
 */
export async function sweepQueue(
  db: Db,
  run: number,
  reason: string,
  { now, over, stillMine }: Between,
  dueBefore = ANY_TIME,
): Promise<boolean> {
  const bulk = db.lane('bulk');
  const chunks = new Chunks(db, 1, 40);
  let after = 0;
  for (;;) {
    if (over()) return false;
    await stillMine();
    const last = await chunks.take((most) =>
      bulk.transaction(async (tx) => {
        const { rows } = await tx.query<{ id: number }>(
          `SELECT id FROM line_queue WHERE run_id = $1 AND id > $3 AND leased_by IS NULL AND due_at < $4::timestamptz ORDER BY id LIMIT $2
           FOR UPDATE SKIP LOCKED`,
          [run, most, after, iso(dueBefore)],
        );
        if (rows.length === 0) return undefined;
        const ids = rows.map((row) => row.id);
        await notSent(tx, { rows: ids, dueBefore: iso(dueBefore) }, reason, iso(now()));
        // a text with parts that have gone is decided by the line, part by part; its row stays
        await tx.query(
          `DELETE FROM line_queue q WHERE id = ANY ($1::bigint[]) AND NOT EXISTS (SELECT 1 FROM outbound o WHERE o.id = ANY (q.ids) AND o.queue = q.id AND o.open > 0)`,
          [ids],
        );
        return ids[ids.length - 1];
      }),
    );
    if (last === undefined) return true;
    after = last;
  }
}
