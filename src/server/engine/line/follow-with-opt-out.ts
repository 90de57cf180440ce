import { iso } from '../../../core/clock';
import type { Posted } from '../../../core/line/posting';
import type { TextState } from '../../../core/outcome/states';
import { measure } from '../../../core/text/measure';
import type { Tx } from '../../db/db';
import { enqueue } from './queue';

const TAKEN: readonly TextState[] = ['with_carrier', 'delivered'];

interface Followed {
  id: number;
  run_id: number;
  sender_id: number;
  person_id: number | null;
  number: string;
  price_micro: number;
  not_after: string;
  dependants: number[] | null;
  language: string | null;
  words: string;
}

/**
 * Where a run's wording for opting out is a text of its own, it goes after the text it belongs to, as soon as the carrier has taken all of
 * that: in the posting's own transaction, and once, since nothing may follow the same text twice. What was never taken has none.
 *
 * @param before states as they were before this posting
 */
export async function followWithOptOut(
  tx: Tx,
  moved: Posted['texts'],
  before: ReadonlyMap<number, { state: TextState; run_id: number | null }>,
  now: number,
): Promise<boolean> {
  const taken = moved.filter((text) => {
    const was = before.get(text.id);
    return (
      text.open === 0 && TAKEN.includes(text.state) && was !== undefined && was.run_id !== null && !TAKEN.includes(was.state)
    );
  });
  if (taken.length === 0) return false;
  const { rows } = await tx.query<Followed>(
    `SELECT o.id, o.run_id, o.sender_id, o.person_id, o.number, o.cost_micro / o.parts AS price_micro, o.not_after, o.dependants, o.language, l.words
     FROM outbound o JOIN run ON run.id = o.run_id JOIN run_opt_out l ON l.run_id = run.id AND l.language = o.language
     WHERE o.id = ANY ($1::bigint[]) AND o.kind = 'run' AND run.opts_out_after
       AND NOT EXISTS (SELECT 1 FROM outbound f WHERE f.follows = o.id) ORDER BY o.id`,
    [taken.map((text) => text.id)],
  );
  if (rows.length === 0) return false;
  const measures = new Map([...new Set(rows.map((row) => row.words))].map((words) => [words, measure(words)]));
  const of = <T>(pick: (row: Followed, parts: number) => T) => rows.map((row) => pick(row, measures.get(row.words)?.parts ?? 1));
  const { rows: made } = await tx.query<{ id: number; follows: number }>(
    `INSERT INTO outbound (run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, dependants, language, follows)
     SELECT run_id, 'opt_out', nullif(person_id, 0), number, sender_id, body, alphabet, parts, cost, $11::timestamptz, not_after, parts,
       (SELECT dependants FROM outbound m WHERE m.id = follows), language, follows
     FROM unnest($1::bigint[], $2::bigint[], $3::text[], $4::bigint[], $5::text[], $6::text[], $7::int[], $8::bigint[], $9::timestamptz[], $10::bigint[], $12::text[])
       AS new (run_id, person_id, number, sender_id, body, alphabet, parts, cost, not_after, follows, language) RETURNING id, follows`,
    [
      of((row) => row.run_id),
      of((row) => row.person_id ?? 0),
      of((row) => row.number),
      of((row) => row.sender_id),
      of((row) => row.words),
      of((row) => measures.get(row.words)?.alphabet ?? 'gsm7'),
      of((_, parts) => parts),
      of((row, parts) => row.price_micro * parts),
      of((row) => row.not_after),
      of((row) => row.id),
      iso(now),
      of((row) => row.language ?? ''),
    ],
  );
  const ids = new Map(made.map((each) => [each.follows, each.id]));
  const groups = new Map<string, { runId: number; senderId: number; parts: number; ids: number[] }>();
  for (const row of rows) {
    const key = `${row.run_id} ${row.sender_id}`;
    const group = groups.get(key) ?? { runId: row.run_id, senderId: row.sender_id, parts: 0, ids: [] };
    group.parts += measures.get(row.words)?.parts ?? 1;
    group.ids.push(ids.get(row.id) ?? 0);
    groups.set(key, group);
  }
  // before the texts of the run that have not begun: each recipient's two come one after the other
  await enqueue(
    tx,
    [...groups.values()].map((group) => ({ ...group, lane: 1 as const, due: now })),
  );
  return true;
}
