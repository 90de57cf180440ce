import { openEmbedded } from '../src/server/db/embedded';
import { preparedSnapshot } from '../src/server/db/snapshot';
import type { Db } from '../src/server/db/db';
import { runById } from '../src/server/broadcasts/run/run-queries';
import { listOutcomes } from '../src/server/outcomes/outcome-queries';
import { findConversations } from '../src/server/replies/conversation-queries';
import { recipientRows } from '../src/server/broadcasts/run/recipient-routes';
import { streamRecipients } from '../src/server/broadcasts/run/recipient-queries';
import { streamCsv } from '../src/server/files/delimited';
import { say, timed } from './figures';

const RUNS = 2000;
const PEOPLE = 100_000;
const TEXTS = 1_000_000;
const SENT = Date.UTC(2026, 11, 2, 15, 0);

async function run(db: Db, id: number, people: number, at: number, words: string): Promise<void> {
  const due = new Date(at).toISOString();
  await db.query(
    `INSERT INTO broadcast (id, name, state, draft, labels, created_at, updated_at) VALUES ($1, $2, 'ended', '{"to":[]}', $3::jsonb, $4::timestamptz, $4::timestamptz)`,
    [id, `Run ${id}`, JSON.stringify(id % 3 === 0 ? ['ferry'] : []), due],
  );
  await db.query(
    `INSERT INTO run (id, broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, started_at, ended_at)
     VALUES ($1, $1, 'finished', $2, 'd', $3, $4, 1, 'service', $5::int, $5::int, $5::int, $6::timestamptz, $6::timestamptz, $6::timestamptz + interval '40 minutes', $6::timestamptz + interval '12 hours', $6::timestamptz, $6::timestamptz, $6::timestamptz + interval '1 hour')`,
    [id, `p${id}`, words, `Run ${id}`, people, due],
  );
}

/** Outcomes as they are after years: many runs with filters, one of 100,000 opened and watched, a million texts searched. */
export async function outcomes(): Promise<void> {
  const db = await openEmbedded({ snapshot: await preparedSnapshot('.cache', '0.5.16') });
  await db.query(`INSERT INTO workspace (id, name, zone, country) VALUES (1, 'Bench', 'America/New_York', 'US')`);
  await db.query(
    `INSERT INTO sender (id, name, kind, address, parts_per_second, created_at) VALUES (1, 'Desk', 'short', '72345', 100, '2026-01-01')`,
  );
  await db.transaction(async (tx) => {
    for (let id = 2; id <= RUNS; id += 1)
      await run(
        tx as unknown as Db,
        id,
        50 + (id % 900),
        SENT - id * 3_600_000 * 4,
        `Notice ${id} about the ${id % 7 === 0 ? 'Kittiwake' : 'Heron'}`,
      );
  });
  await db.query(
    `INSERT INTO run_tally (run_id, state, people, billed_parts, billed_micro, open_texts) SELECT id, 'delivered', people * 9 / 10, people, people, 0 FROM run UNION ALL SELECT id, 'not_delivered', people - people * 9 / 10, 0, 0, 0 FROM run`,
  );
  await run(db, 1, PEOPLE, SENT, 'The winter timetable starts Monday. {link timetable}');
  const write = async (sql: string, n: number, chunk: number) => {
    for (let from = 1; from <= n; from += chunk) await db.query(sql, [from, Math.min(n, from + chunk - 1)]);
  };
  await write(
    `INSERT INTO outbound (id, run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, state, reason, handed_at, final_at)
     SELECT n, 1, 'run', n, '+1207' || (2000000 + n), 1, 'The winter timetable starts Monday.', 'gsm7', 1, 7500, '2026-12-02T15:00:00Z'::timestamptz, '2026-12-03', 0,
       CASE WHEN n % 11 = 0 THEN 'not_delivered' ELSE 'delivered' END, CASE WHEN n % 11 = 0 THEN 'reason ' || n % 5 END,
       '2026-12-02T15:00:00Z'::timestamptz + make_interval(secs => n / 40.0), '2026-12-02T15:00:00Z'::timestamptz + make_interval(secs => n / 40.0 + 3 + n % 17) FROM generate_series($1::int, $2::int) AS n`,
    PEOPLE,
    10_000,
  );
  await write(
    `INSERT INTO link (token, run_id, outbound_id, number, address, name, clicked_at, opens)
     SELECT 'token' || n, 1, n, '+1207' || (2000000 + n), 'https://example.org/timetable', 'timetable', CASE WHEN n % 5 = 0 THEN '2026-12-02T16:00:00Z'::timestamptz END, CASE WHEN n % 5 = 0 THEN 1 ELSE 0 END FROM generate_series($1::int, $2::int) AS n`,
    PEOPLE,
    10_000,
  );
  const words = `(ARRAY['is the 5:20 running', 'thank you', 'can we come a day later', 'where do we park', 'yes both of us', 'no', 'what about the dog'])[1 + n % 7] || ' ' || md5(n::text)`;
  await write(
    `INSERT INTO inbound (received_at, number, to_address, body, folded, kind, person_id, run_id, done_at, applied)
     SELECT '2024-01-01'::timestamptz + make_interval(mins => n), '+1207' || (2000000 + n % 90000), '72345', ${words}, ${words}, 'reply', n % 90000 + 1, CASE WHEN n % 50 = 0 THEN 1 ELSE 2 + n % ${RUNS - 1} END, '2026-12-01', true
     FROM generate_series($1::int, $2::int) AS n`,
    TEXTS,
    20_000,
  );
  await db.exec('VACUUM (ANALYZE)');
  const zone = 'America/New_York';
  const best = async (times: number, act: () => Promise<unknown>) => {
    const all: number[] = [];
    for (let i = 0; i < times; i += 1) all.push(await timed(act));
    return all.sort((a, b) => a - b)[times >> 1];
  };
  const first = await timed(() => listOutcomes(db, {}, zone));
  say({ name: 'outcomes of 2,000 runs, never looked at', value: first, unit: 'ms', against: '', ratio: 0, bar: '-' });
  for (const [name, query] of [
    ['all', {}],
    ['a label and half a year', { label: 'ferry', from: '2026-06-01', to: '2026-11-30' }],
    ['words', { search: 'kittiwake' }],
    ['page 30', { skip: 1500 }],
  ] as const)
    say({
      name: `outcomes of 2,000 runs: ${name}`,
      value: await best(9, () => listOutcomes(db, query, zone)),
      unit: 'ms',
      against: '',
      ratio: 0,
      bar: '≤ 200 ms',
    });
  // as the end of a run does; what it keeps in memory is as good as gone, since another handle of the database is another server's
  const end = await timed(() => runById(db, 1, '2026-12-02T20:50:00Z'));
  say({ name: 'a run of 100,000 counted at its end', value: end, unit: 'ms', against: '', ratio: 0, bar: '-' });
  const cold = await timed(() => runById(db.lane('bulk'), 1, '2026-12-02T20:50:00Z'));
  say({ name: 'a run of 100,000 opened, first', value: cold, unit: 'ms', against: '', ratio: 0, bar: '≤ 300 ms' });
  say({
    name: 'a run of 100,000 opened',
    value: await best(7, () => runById(db, 1, '2026-12-02T20:50:00Z')),
    unit: 'ms',
    against: '',
    ratio: 0,
    bar: '≤ 300 ms',
  });
  // watched while it goes: looked at every second, and something of it has always changed
  const began = performance.now();
  let busy = 0;
  while (performance.now() - began < 15_000) {
    await db.query(
      `INSERT INTO run_tally VALUES (1, 'delivered', 1, 0, 0, 0) ON CONFLICT (run_id, state) DO UPDATE SET people = run_tally.people + 1`,
    );
    busy += await timed(() => runById(db, 1, '2026-12-02T20:50:00Z'));
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  const part = (100 * busy) / (performance.now() - began);
  say({
    name: 'a run of 100,000 watched live',
    value: part,
    unit: '% a core',
    against: '2 %',
    ratio: part / 2,
    bar: '≤ 1',
  });
  for (const search of ['dog', 'a day later', 'c4ca4238a0b9', 'nothing like it', '5550142'])
    say({
      name: `search of 1,000,000 texts: “${search}”`,
      value: await best(5, () => findConversations(db, search, Number.MAX_SAFE_INTEGER)),
      unit: 'ms',
      against: '',
      ratio: 0,
      bar: '≤ 300 ms',
    });
  await db.close();
}

/** A summary of a million recipients as CSV: streamed, and no more held of it at the end than at its beginning. */
export async function recipientsFile(): Promise<void> {
  const db = await openEmbedded({ snapshot: await preparedSnapshot('.cache', '0.5.16') });
  await db.query(`INSERT INTO workspace (id, name, zone, country) VALUES (1, 'Bench', 'America/New_York', 'US')`);
  await db.query(
    `INSERT INTO sender (id, name, kind, address, parts_per_second, created_at) VALUES (1, 'Desk', 'short', '72345', 100, '2026-01-01')`,
  );
  await run(db, 1, TEXTS, SENT, 'The winter timetable starts Monday.');
  for (let from = 1; from <= TEXTS; from += 20_000)
    await db.query(
      `INSERT INTO outbound (id, run_id, kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, state, handed_at, final_at)
       SELECT n, 1, 'run', '+1207' || (2000000 + n), 1, 'The winter timetable starts Monday.', 'gsm7', 1, 7500, '2026-12-02', '2026-12-03', 0, 'delivered', '2026-12-02', '2026-12-02' FROM generate_series($1::int, $2::int) AS n`,
      [from, from + 19_999],
    );
  await db.exec('VACUUM (ANALYZE) outbound');
  const seen: number[] = [];
  let bytes = 0;
  const took = await timed(async () => {
    let pieces = 0;
    for await (const piece of streamCsv(recipientRows(streamRecipients(db, 1, {}), 'America/New_York'))) {
      bytes += piece.length;
      pieces += 1;
      if (pieces % 20 === 0) seen.push(process.memoryUsage().rss / 1e6);
    }
  });
  const early = Math.max(...seen.slice(0, Math.ceil(seen.length / 5)));
  const late = Math.max(...seen.slice(-Math.ceil(seen.length / 5)));
  say({
    name: 'CSV of 1,000,000 recipients',
    value: took / 1000,
    unit: 's',
    against: `${(bytes / 1e6).toFixed(0)} MB`,
    ratio: 0,
    bar: '-',
  });
  say({
    name: 'memory in its last fifth',
    value: late,
    unit: 'MB',
    against: 'its first fifth',
    ratio: late / early,
    bar: '≤ 1.1',
  });
  await db.close();
}
