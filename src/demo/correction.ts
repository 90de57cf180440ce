import { EMPTY_DRAFT, type Draft } from '../core/plan/draft/draft';
import { measure } from '../core/text/measure';
import type { Tx } from '../server/db/db';

const PRICE = 7500;
const NAME = 'Correction: Pike class: wind';
const WORDS =
  'Ottermere Boathouse: please forget our last text. The wind has dropped: the Pike class meets at the slip as always, not indoors.';

/**
 * A correction of some weeks ago to everyone whom the broadcast before it had reached, as the engine would have left it. It comes last,
 * so that nothing else of Ottermere moves.
 */
export async function makeCorrection(tx: Tx, now: number): Promise<void> {
  const { rows } = await tx.query<{ id: number; sender_id: number; words: string; due_at: string; labels: string }>(
    `SELECT run.id, run.sender_id, run.words, run.due_at, broadcast.labels FROM run JOIN broadcast ON broadcast.id = run.broadcast_id
     WHERE run.name LIKE 'Pike class%' AND run.due_at < $1::timestamptz ORDER BY run.due_at DESC LIMIT 1`,
    [new Date(now - 9 * 86_400_000).toISOString()],
  );
  const [wrong] = rows;
  const due = new Date(Date.parse(wrong.due_at) + 24 * 60_000).toISOString();
  const text = `${WORDS}\nSTOP to opt out`;
  const { alphabet, parts } = measure(text);
  const draft: Draft = {
    ...EMPTY_DRAFT,
    to: [{ kind: 'run', id: wrong.id, outcome: 'left', name: 'Pike class: wind' }],
    words: WORDS,
    sender_id: wrong.sender_id,
    corrects: { run_id: wrong.id, words: wrong.words },
  };
  const broadcast = (
    await tx.query<{ id: number }>(
      `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at, labels) VALUES ($1, 'ended', $2::jsonb, 1, $3::timestamptz, $3::timestamptz, $4::jsonb) RETURNING id`,
      [NAME, JSON.stringify(draft), due, JSON.stringify(wrong.labels)],
    )
  ).rows[0].id;
  const run = (
    await tx.query<{ id: number }>(
      `INSERT INTO run (broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, account_id, started_at, ended_at)
       SELECT $1::bigint, 'finished', 'past-correction', '', $2, $3, $4::bigint, 'service', count(*), count(*) * $5::int, count(*) * $5::int * $6::int, $7::timestamptz, $7::timestamptz, $7::timestamptz,
         $7::timestamptz + interval '12 hours', $7::timestamptz, 1, $7::timestamptz, $7::timestamptz + interval '40 seconds'
       FROM outbound WHERE run_id = $8::bigint AND kind = 'run' AND state = 'delivered' RETURNING id`,
      [broadcast, WORDS, NAME, wrong.sender_id, parts, PRICE, due, wrong.id],
    )
  ).rows[0].id;
  await tx.query(
    `INSERT INTO outbound (run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, handed_at, final_at, billed)
     SELECT $1::bigint, 'run', person_id, number, sender_id, $2, $3, $4::int, $4::int * $5::int, $6::timestamptz, $6::timestamptz + interval '12 hours', 'delivered', $6::timestamptz,
       $6::timestamptz + make_interval(secs => 2 + id % 17), $4::int
     FROM outbound WHERE run_id = $7::bigint AND kind = 'run' AND state = 'delivered' ORDER BY id`,
    [run, text, alphabet, parts, PRICE, due, wrong.id],
  );
  await tx.query(
    `INSERT INTO outbound_part (outbound_id, part_no, number, state, reference, message_id, written_at, accepted_at, final_at)
     SELECT id, part, number, state, (id + part) % 65535 + 1, 'c' || id || '-' || part, handed_at, handed_at + interval '60 milliseconds', final_at
     FROM outbound CROSS JOIN generate_series(1, $2::int) AS part WHERE run_id = $1::bigint`,
    [run, parts],
  );
  const cost = `(SELECT cost_micro FROM run WHERE id = $1::bigint)`;
  await tx.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note) VALUES ($2::timestamptz, 'spend', -${cost}, $1::bigint, '')`,
    [run, due],
  );
  await tx.query(`UPDATE balance_entry SET amount_micro = amount_micro + ${cost} WHERE note = 'opening balance'`, [run]);
  await tx.query(`INSERT INTO run_event (run_id, at, what, account_id) VALUES ($1, $2::timestamptz, $3, 1)`, [
    wrong.id,
    due,
    `put right by “${NAME}”`,
  ]);
}
