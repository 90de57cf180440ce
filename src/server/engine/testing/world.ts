import { measure } from '../../../core/text/measure';
import type { Clock } from '../../../core/clock';
import type { Db, Queryable } from '../../db/db';
import { want } from '../../desk/job-queries';
import type { LaterWorks } from '../kinds';

const notHere = () => Promise.reject(new Error('This does not go on here.'));
/** Where nothing is planned and nobody erased. */
export const NOTHING_LATER: LaterWorks = { 'store run': notHere, 'plan next': notHere, erase: notHere };

/** The least a run needs: a workspace, a sender, a rate, and a run of so many one-part texts due at once. */
export const NOW = Date.UTC(2026, 11, 2, 20, 50);

/**
 * A clock that goes on only when somebody sleeps: a nap of a real millisecond is up to a twentieth of a second of it, so that
 * what waits for time gets it, however fast or slow the machine is.
 */
export function testClock(at = NOW): Clock & { at: number } {
  // however many sleep at a time, it goes on as for one of them
  let went = performance.now();
  return {
    at,
    now() {
      return this.at;
    },
    async sleep(ms, signal) {
      await new Promise((resolve) => setTimeout(resolve, 2));
      const real = performance.now() - went;
      if (signal?.aborted || real < 1) return;
      went += real;
      this.at += Math.min(Math.max(0, ms), 50);
    },
  };
}

export async function makeWorkspace(db: Db): Promise<void> {
  await db.query(
    `INSERT INTO workspace (id, name, zone, country, help_wording) VALUES (1, 'Ottermere Ferry', 'America/New_York', 'US', 'Ottermere Ferry desk. STOP to opt out.')`,
  );
  await db.query(
    `INSERT INTO sender (name, kind, address, parts_per_second, created_at) VALUES ('Ferry desk', 'short', '72345', 1000, '2026-01-01T00:00:00Z')`,
  );
  await db.query(`INSERT INTO rate (prefix, destination, price_micro) VALUES ('+1', 'United States, Canada', 7500)`);
  await db.query(`INSERT INTO balance_entry (at, kind, amount_micro) VALUES ('2026-01-01T00:00:00Z', 'top_up', 100000000)`);
}

/** The nth fictional number: NPA-555-01xx over many area codes is too few for a load, so any valid pattern serves here. */
export function benchNumber(n: number): string {
  return `+1207${String(2_000_000 + n)}`;
}

interface RunOptions {
  now?: number;
  state?: string;
  body?: string;
  parts?: number;
  id?: number;
  notAfter?: number;
  /** Phones show it at once. */
  showAtOnce?: boolean;
  /** The words of a text of its own that follows each. */
  after?: string;
}

export function makeRun(db: Db, count: number, options: RunOptions = {}): Promise<number> {
  // in one transaction, as the real plan is: the scheduler must not see a run without its texts
  return db.transaction((tx) => insertRun(tx, count, options));
}

async function insertRun(db: Queryable, count: number, options: RunOptions): Promise<number> {
  const now = options.now ?? NOW;
  const at = new Date(now).toISOString();
  const id = options.id ?? 1;
  const parts = options.parts ?? 1;
  const notAfter = new Date(options.notAfter ?? now + 3_600_000 * 12).toISOString();
  await db.query(
    `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES ($1, 'Trial', 'scheduled', '{}', $2::timestamptz, $2::timestamptz)`,
    [id, at],
  );
  await db.query(
    `INSERT INTO run (id, broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, show_at_once)
     VALUES ($1, $1, $2, $3, 'd', '', 'Trial', 1, 'service', $4, $5, $6, $7::timestamptz, $7::timestamptz, $7::timestamptz, $8::timestamptz, $7::timestamptz, $9)`,
    [
      id,
      options.state ?? 'waiting',
      `press-${id}`,
      count,
      count * parts,
      count * parts * 7500,
      at,
      notAfter,
      options.showAtOnce ?? false,
    ],
  );
  await want(db, [
    { kind: options.state === undefined || options.state === 'waiting' ? 'start run' : 'end run', key: String(id), due: now },
  ]);
  await db.query(`INSERT INTO balance_entry (at, kind, amount_micro, run_id) VALUES ($1::timestamptz, 'hold', $2, $3)`, [
    at,
    -count * parts * 7500,
    id,
  ]);
  await db.query(
    `INSERT INTO person (id, number, zone, created_at, updated_at) SELECT $2::int + n, '+1207' || (2000000 + $2::int + n), 'America/New_York', $1::timestamptz, $1::timestamptz FROM generate_series(0, $3::int - 1) AS n`,
    [at, id * 1_000_000, count],
  );
  await db.query(
    `INSERT INTO outbound (run_id, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open)
     SELECT $1, 'run', id, number, 1, $2, 'gsm7', $3::smallint, $3 * 7500, $4::timestamptz, $5::timestamptz, $3 FROM person WHERE id >= $6::int AND id < $6::int + $7::int ORDER BY id`,
    [id, options.body ?? 'Heron is out of service. Ottermere Ferry. STOP to opt out', parts, at, notAfter, id * 1_000_000, count],
  );
  if (options.after !== undefined) {
    const cost = count * measure(options.after).parts * 7500;
    await db.query(`UPDATE outbound SET language = 'en' WHERE run_id = $1`, [id]);
    await db.query(`UPDATE run SET opts_out_after = true WHERE id = $1`, [id]);
    await db.query(`INSERT INTO run_opt_out (run_id, language, words) VALUES ($1, 'en', $2)`, [id, options.after]);
    await db.query(`UPDATE balance_entry SET amount_micro = amount_micro - $2 WHERE run_id = $1`, [id, cost]);
  }
  await db.query(
    `INSERT INTO line_queue (run_id, sender_id, lane, due_at, parts, ids)
     SELECT $1, 1, 2, $2::timestamptz, sum(parts), array_agg(id ORDER BY id) FROM (SELECT *, (row_number() OVER (ORDER BY id) - 1) / 400 AS chunk FROM outbound WHERE run_id = $1) AS o GROUP BY chunk ORDER BY chunk`,
    [id, at],
  );
  await db.query(`UPDATE outbound SET queue = q.id FROM line_queue q WHERE q.run_id = $1 AND outbound.id = ANY (q.ids)`, [id]);
  return id;
}
