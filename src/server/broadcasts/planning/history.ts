import { iso } from '../../../core/clock';
import { LATELY_DAYS, MUCH, type History } from '../../../core/plan/reach/history';
import type { Queryable } from '../../db/db';

const DAY = 86_400_000;
/** Runs that a new one is held against. */
const LAST = 20;
/** Of more texts than so many it is not asked who had many: it would take longer than it is worth. */
const MOST_TEXTS = 400_000;

/** Sizes of the last runs, who was texted much in the last days, and what goes besides this broadcast. */
export async function historyFor(db: Queryable, broadcast: number, now: number): Promise<History> {
  const since = iso(now - LATELY_DAYS * DAY);
  const sizes = await db.query<{ people: number }>(
    `SELECT people FROM run WHERE started_at IS NOT NULL AND broadcast_id <> $1 ORDER BY id DESC LIMIT ${LAST}`,
    [broadcast],
  );
  const others = await db.query<{ name: string; by: string | null; at: string; words: string }>(
    `SELECT run.name, account.name AS by, run.due_at AS at, run.words
     FROM run LEFT JOIN account ON account.id = run.account_id
     WHERE run.state IN ('waiting', 'sending', 'paused') AND NOT called_off AND broadcast_id <> $1 AND run.due_at < $2::timestamptz ORDER BY run.due_at LIMIT 50`,
    [broadcast, iso(now + LATELY_DAYS * DAY)],
  );
  const recent = await db.query<{ ids: number[] | null; people: number | null }>(
    `SELECT array_agg(id) AS ids, sum(people)::bigint AS people FROM run WHERE due_at >= $1::timestamptz AND due_at <= $2::timestamptz AND started_at IS NOT NULL`,
    [since, iso(now)],
  );
  const [{ ids, people }] = recent.rows;
  const texted =
    ids === null || ids.length < MUCH || (people ?? 0) > MOST_TEXTS
      ? { rows: [] }
      : await db.query<{ number: string; n: number }>(
          `SELECT number, count(*) AS n FROM outbound WHERE run_id = ANY ($1::bigint[]) AND kind = 'run' AND state IN ('delivered', 'with_carrier', 'uncertain')
           GROUP BY number HAVING count(*) >= ${MUCH}`,
          [ids],
        );
  return {
    sizes: sizes.rows.map((row) => row.people),
    texted: new Map(texted.rows.map(({ number, n }) => [number, n])),
    others: others.rows.map((row) => ({ ...row, at: Date.parse(row.at) })),
  };
}
