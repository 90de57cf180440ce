import type { RunOutcome } from '../../core/outcome/outcomes';
import type { Source } from '../../core/plan/draft';
import type { Queryable } from '../db/db';
import type { Naming } from './named';

type RunSource = Extract<Source, { kind: 'run' }>;

const ANSWER = `inbound.run_id = o.run_id AND inbound.number = o.number AND inbound.kind IN ('reply', 'maybe_stop')`;
const CLICK = `EXISTS (SELECT 1 FROM link WHERE link.outbound_id = o.id AND link.clicked_at IS NOT NULL)`;
/**
 * Recipients by what became of their text. A text that is uncertain may have arrived: it is among those that left, never among those
 * that were not delivered, or it would go twice.
 */
const OF: Record<RunOutcome, string> = {
  delivered: `o.state = 'delivered'`,
  not_delivered: `o.state IN ('not_delivered', 'expired')`,
  not_sent: `o.state = 'not_sent'`,
  left: `o.state IN ('handing_over', 'with_carrier', 'delivered', 'uncertain')`,
  answered: `EXISTS (SELECT 1 FROM inbound WHERE ${ANSWER} AND ($2::text IS NULL OR inbound.body ILIKE $2))`,
  not_answered: `o.state = 'delivered' AND NOT EXISTS (SELECT 1 FROM inbound WHERE ${ANSWER})`,
  clicked: CLICK,
  not_clicked: `o.state = 'delivered' AND EXISTS (SELECT 1 FROM link WHERE link.outbound_id = o.id AND NOT link.opt_out) AND NOT ${CLICK}`,
};

/** Those of a run whom an outcome names: people of the address book, and numbers that are nobody's. */
export async function namedByRun(db: Queryable, source: RunSource): Promise<Naming[]> {
  // the second parameter is named by every statement, since not every outcome asks for words
  const words = source.words?.trim();
  const { rows } = await db.query<{ people: string | null; numbers: string[] | null }>(
    `SELECT string_agg(person_id::text, ',' ORDER BY person_id) AS people,
       array_agg(number ORDER BY o.id) FILTER (WHERE person_id IS NULL AND number LIKE '+%') AS numbers
     FROM outbound o WHERE run_id = $1 AND kind = 'run' AND ($2::text IS NULL OR true) AND ${OF[source.outcome]}`,
    [source.id, words ? `%${words.replace(/[\\%_]/g, '\\$&')}%` : null],
  );
  const [{ people, numbers }] = rows;
  return [...(people === null ? [] : people.split(',').map(Number)), ...(numbers ?? []).map((number) => ({ number }))];
}

/** What moves when an outcome does: equal versions name the same people. */
export async function outcomeVersion(db: Queryable, runs: readonly number[]): Promise<string> {
  const { rows } = await db.query<{ version: string }>(
    `SELECT concat_ws(' ',
       (SELECT string_agg(state || people, ',' ORDER BY run_id, state) FROM run_tally WHERE run_id = ANY ($1::bigint[])),
       (SELECT max(id) FROM inbound WHERE run_id = ANY ($1::bigint[])),
       (SELECT count(clicked_at) FROM link WHERE run_id = ANY ($1::bigint[]))) AS version`,
    [runs],
  );
  return rows[0].version;
}
