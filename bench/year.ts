import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { iso } from '../src/core/clock';
import { machineClock, type MovableClock } from '../src/server/clock';
import { runById } from '../src/server/broadcasts/run/run-queries';
import type { Db } from '../src/server/db/db';
import { openEmbedded } from '../src/server/db/embedded';
import { migrate } from '../src/server/db/migrate';
import { sealWith } from '../src/server/db/sealed';
import { Bus } from '../src/server/desk/bus';
import { want } from '../src/server/desk/job-queries';
import { startEngine } from '../src/server/engine/engine';
import { makeWorkspace, NOTHING_LATER, NOW } from '../src/server/engine/testing/world';
import { keptForAWhile } from '../src/server/engine/trim';
import { startPractice } from '../src/server/practice/practice';
import { say } from './figures';

const DAY = 86_400_000;
const PEOPLE = 950;
const REPLIES = 50;
const MONTH = 30;

interface Month {
  heap: number;
  /** Rows of what is kept for a while only, and of what lives from moment to moment. */
  rows: Record<string, number>;
}

/**
 * A year of a busy desk: each day a run to 950 people, 50 of whom answer, one says stop and another START; people are changed, presses taken
 * back. What is kept on purpose grows; memory, and what is for a while only, are to be in the last month what they were in the second.
 */
export async function year(): Promise<void> {
  const days = Number(process.env.DAYS ?? 365);
  const folder = mkdtempSync(join(tmpdir(), 'bell-year-'));
  sealWith(new Uint8Array(32).fill(7));
  const db = await openEmbedded({ dataDir: join(folder, 'db') });
  await migrate(db);
  await makeWorkspace(db);
  await db.query(`UPDATE sender SET parts_per_second = 100000`);
  await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-01-01T00:00:00Z', 'top_up', 100000000000)`);
  await db.query(
    `INSERT INTO person (id, given_name, number, zone, created_at, updated_at)
     SELECT n, 'Noa', '+1207' || (2000000 + n), 'America/New_York', '2026-01-01', '2026-01-01' FROM generate_series(1, $1::int) AS n`,
    [PEOPLE],
  );
  const clock = machineClock(NOW - 5 * 3_600_000 - Date.now());
  // in a process of its own: what the practice carrier remembers of every text is not the server's
  const practice = await startPractice({
    journal: join(folder, 'carrier.journal'),
    offset: () => clock.offset(),
    profile: JSON.stringify({ outcomes: 'delivered', latency: [1, 20] }),
    log: (message) => process.stdout.write(`  ${message}\n`),
  });
  const carrier = async (path: string, body: object) => {
    const answer = await fetch(`${practice.controlUrl}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`The practice carrier answered ${path} with ${answer.status}.`);
  };
  const bus = new Bus();
  const errors: unknown[] = [];
  const engine = await startEngine({
    db,
    clock,
    bus,
    carrier: { host: '127.0.0.1', port: practice.port, systemId: 'bell', password: 'practice' },
    countAhead: runById,
    later: () => NOTHING_LATER,
    failed: (error) => errors.push(error),
  });
  const months: Month[] = [];
  for (let day = 1; day <= days; day += 1) {
    const morning = clock.now();
    await aRun(db, day, clock);
    bus.work();
    await until(async () => (await db.query(`SELECT 1 FROM run WHERE id = $1 AND ended_at IS NOT NULL`, [day])).rowCount > 0);
    for (let i = 0; i < REPLIES; i += 1) {
      const words = i === 0 ? 'STOP' : i === 1 && day > 1 ? 'START' : `Is it running? ${day} ${i}`;
      // yesterday's first comes back
      const who = i === 1 ? (day - 1) % 100 : i === 0 ? day % 100 : 100 + ((day * 37 + i) % 800);
      await carrier(`/phones/1207${2_000_001 + who}/texts`, { to: '72345', text: words });
    }
    await until(async () => (await db.query<{ n: number }>(`SELECT count(*) AS n FROM inbound`)).rows[0].n >= REPLIES * day);
    await engine.inbound.settle();
    await aDayAtTheDesk(db, day, clock.now());
    clock.move(DAY - (clock.now() - morning));
    await carrier('/clock', { offset: clock.offset() });
    await engine.jobs.settle();
    if (day % MONTH === 0) {
      months.push(await look(db));
      process.stdout.write(
        `  month ${months.length} of ${Math.floor(days / MONTH)}: ${Math.round(months[months.length - 1].heap / 1e6)} MB\n`,
      );
    }
  }
  await engine.stop();
  practice.stop();
  await db.close();
  rmSync(folder, { recursive: true, force: true });
  if (errors.length > 0) process.stdout.write(`  troubles: ${errors.length}, the first: ${String(errors[0])}\n`);
  tell(months);
}

/** One run to everybody who may be texted, as a press leaves it. */
async function aRun(db: Db, day: number, clock: MovableClock): Promise<void> {
  const at = iso(clock.now());
  const until = iso(clock.now() + DAY / 4);
  await db.transaction(async (tx) => {
    await tx.query(
      `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES ($1, 'Daily', 'scheduled', '{}', $2::timestamptz, $2::timestamptz)`,
      [day, at],
    );
    await tx.query(
      `INSERT INTO run (id, broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at)
       VALUES ($1, $1, 'waiting', 'day-' || $1::bigint, 'd', '', 'Daily', 1, 'service', $2::int, $2::int, $2::int * 7500, $3::timestamptz, $3::timestamptz, $3::timestamptz, $4::timestamptz, $3::timestamptz)`,
      [day, PEOPLE, at, until],
    );
    await tx.query(`INSERT INTO balance_entry (at, kind, amount_micro, run_id) VALUES ($1::timestamptz, 'hold', $2, $3)`, [
      at,
      -PEOPLE * 7500,
      day,
    ]);
    await tx.query(
      `INSERT INTO outbound (run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open)
       SELECT $1, 'run', id, number, 1, 'The Heron is on time. Ottermere Ferry. STOP to opt out', 'gsm7', 1, 7500, $2::timestamptz, $3::timestamptz, 1
       FROM person WHERE NOT EXISTS (SELECT 1 FROM suppression s WHERE s.number = person.number) ORDER BY id`,
      [day, at, until],
    );
    await tx.query(
      `INSERT INTO line_queue (run_id, sender_id, lane, due_at, parts, ids)
       SELECT $1, 1, 2, $2::timestamptz, count(*), array_agg(id ORDER BY id) FROM outbound WHERE run_id = $1 GROUP BY id % 3`,
      [day, at],
    );
    await tx.query(`UPDATE outbound SET queue = q.id FROM line_queue q WHERE q.run_id = $1 AND outbound.id = ANY (q.ids)`, [day]);
    await want(tx, [{ kind: 'start run', key: String(day), due: clock.now() }]);
  });
}

/** What people of the desk do beside: changes, sessions, presses that are taken back, receipts of nothing. */
async function aDayAtTheDesk(db: Db, day: number, now: number): Promise<void> {
  const at = iso(now);
  for (let i = 0; i < 40; i += 1)
    await db.query(`UPDATE person SET given_name = $2, updated_at = $3::timestamptz WHERE id = $1`, [
      1 + ((day * 41 + i) % PEOPLE),
      `Noa ${day}`,
      at,
    ]);
  for (let i = 0; i < 10; i += 1) {
    await db.query(`INSERT INTO press_over (press_id, broadcast_id, how, at) VALUES ($1, $2, 'refused', $3::timestamptz)`, [
      `over-${day}-${i}`,
      day,
      at,
    ]);
    await db.query(
      `INSERT INTO receipt_parked (at, message_id, reference, number, state, error) VALUES ($1::timestamptz, $2, NULL, '+12075550142', 'DELIVRD', '000')`,
      [at, `of-nothing-${day}-${i}`],
    );
    await db.query(`INSERT INTO invitation (token_hash, role, expires_at) VALUES ($1, 'look', $2::timestamptz)`, [
      `invited-${day}-${i}`,
      iso(now + DAY),
    ]);
  }
}

async function look(db: Db): Promise<Month> {
  (globalThis as { gc?: () => void }).gc?.();
  const kept = await keptForAWhile(db);
  const { rows } = await db.query<Record<string, number>>(
    `SELECT (SELECT count(*) FROM line_queue) AS "texts in the queue", (SELECT count(*) FROM job) AS "jobs"`,
  );
  return {
    heap: process.memoryUsage().heapUsed,
    rows: { ...Object.fromEntries(kept.map((each) => [each.words, each.rows])), ...rows[0] },
  };
}

function tell(months: readonly Month[]): void {
  if (months.length < 3) return;
  const [, second] = months;
  const last = months[months.length - 1];
  say({
    name: `memory after ${months.length} months, against the second`,
    value: last.heap / 1e6,
    unit: 'MB',
    against: 'month 2',
    ratio: last.heap / second.heap,
    bar: '1.25',
  });
  for (const [what, rows] of Object.entries(last.rows))
    say({
      name: `${what} after ${months.length} months`,
      value: rows,
      unit: 'rows',
      against: 'month 2',
      ratio: (rows + 1) / (second.rows[what] + 1),
      bar: '1.25',
    });
}

async function until(there: () => Promise<boolean>): Promise<void> {
  while (!(await there())) await new Promise((resolve) => setTimeout(resolve, 15));
}
