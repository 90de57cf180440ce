import type { Source } from '../../../core/plan/draft/draft';
import type { Queryable } from '../../db/db';
import { outcomeSql, numbersThatChose } from '../../outcomes/for-others';
import type { Naming } from './named';

type RunSource = Extract<Source, { kind: 'run' }>;

/** Those of a run whom an outcome names: people of the address book, and numbers that are nobody's. */
export async function namedByRun(db: Queryable, source: RunSource): Promise<Naming[]> {
  // the second parameter is named by every statement, since not every outcome asks for words
  const words = source.words?.trim();
  const chose = source.choice === undefined ? null : await numbersThatChose(db, source.id, source.choice.n);
  const { rows } = await db.query<{ people: string | null; numbers: string[] | null }>(
    `SELECT string_agg(person_id::text, ',' ORDER BY person_id) AS people,
       array_agg(number ORDER BY o.id) FILTER (WHERE person_id IS NULL AND number LIKE '+%') AS numbers
     FROM outbound o WHERE run_id = $1 AND kind = 'run' AND ($2::text IS NULL OR true) AND ($3::text IS NULL OR reason = $3) AND ($4::text[] IS NULL OR number = ANY ($4)) AND ${outcomeSql(source.outcome, '$2::text')}`,
    [source.id, words ? `%${words.replace(/[\\%_]/g, '\\$&')}%` : null, source.reason ?? null, chose],
  );
  const [{ people, numbers }] = rows;
  return [...(people === null ? [] : people.split(',').map(Number)), ...(numbers ?? []).map((number) => ({ number }))];
}

/** What moves when an outcome does: equal versions name the same people. */
export async function outcomeVersion(db: Queryable, runs: readonly number[]): Promise<string> {
  const { rows } = await db.query<{ version: string }>(
    `SELECT concat_ws(' ',
       (SELECT string_agg(state || people, ',' ORDER BY run_id, state) FROM run_tally WHERE run_id = ANY ($1::bigint[])),
       (SELECT concat_ws('-', max(id), count(choice), sum(choice * id)) FROM inbound WHERE run_id = ANY ($1::bigint[])),
       (SELECT count(clicked_at) FROM link WHERE run_id = ANY ($1::bigint[]))) AS version`,
    [runs],
  );
  return rows[0].version;
}
