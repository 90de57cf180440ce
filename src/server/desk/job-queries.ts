import { iso } from '../../core/clock';
import { SEEN_AFTER, SEEN_AFTER_TRIES, type Leased, type Postponed } from '../../core/jobs/jobs';
import type { Db, Queryable } from '../db/db';

/** Everything that goes on by itself. Each kind's work stands beside what it is about; `desk/kinds.ts` gathers them. */
export const JOB_KINDS = [
  'replies',
  'reply',
  'incomplete',
  'pass on',
  'look up',
  'forgotten',
  'store run',
  'plan next',
  'start run',
  'end run',
  'clear run',
  'erase',
  'clean lists',
  'watch',
  'tell duty',
  'trim',
] as const;
export type JobKind = (typeof JOB_KINDS)[number];

export interface Wanted {
  kind: JobKind;
  key?: string;
  /** ms */
  due: number;
}

/**
 * Makes work due, in the caller's transaction: with its commit the work is there, and whoever waits is woken. Asked for again it is the
 * same row, due at the earlier moment; while it runs, it runs once more, at the earliest of the moments that were asked for since it was
 * leased; while it fails, its backoff holds.
 */
export async function want(db: Queryable, jobs: readonly Wanted[]): Promise<void> {
  if (jobs.length === 0) return;
  // of one statement, one row may be asked for once; in one order, so that two who ask for the same do not lock each other out
  const rows = [...new Map(jobs.map((job) => [`${job.kind}\n${job.key ?? ''}`, job])).entries()]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([, job]) => job);
  await db.query(
    `INSERT INTO job (kind, key, due_at) SELECT * FROM unnest($1::text[], $2::text[], $3::timestamptz[])
     ON CONFLICT (kind, key) DO UPDATE SET wanted = job.wanted + 1,
       due_at = CASE WHEN job.leased_until IS NOT NULL AND job.wanted = job.leased_wanted THEN excluded.due_at
         WHEN job.leased_until IS NULL AND job.attempts > 0 THEN job.due_at ELSE least(job.due_at, excluded.due_at) END`,
    [rows.map((job) => job.kind), rows.map((job) => job.key ?? ''), rows.map((job) => iso(job.due))],
  );
}

/** Makes a job due at once, whatever it waited for: what it failed on is over. */
export async function rouse(db: Queryable, kind: JobKind, now: number, key = ''): Promise<void> {
  await db.query(
    `INSERT INTO job (kind, key, due_at) VALUES ($1, $2, $3::timestamptz)
     ON CONFLICT (kind, key) DO UPDATE SET wanted = job.wanted + 1, due_at = excluded.due_at, attempts = 0, trouble = NULL, failing_since = NULL`,
    [kind, key, iso(now)],
  );
}

/** Tries a job that failed at once; false when there is none that failed. */
export async function tryAgain(db: Queryable, kind: JobKind, key: string, now: number): Promise<boolean> {
  const tried = await db.query(
    `UPDATE job SET wanted = wanted + 1, due_at = $3::timestamptz WHERE kind = $1 AND key = $2 AND attempts > 0 AND leased_until IS NULL`,
    [kind, key, iso(now)],
  );
  return tried.rowCount > 0;
}

/**
 * How long a lease holds, ms of the clock; work that takes longer keeps it by `holdOn`. So long waits what a process that died had in hand,
 * where there are several; and no single step of any work takes longer.
 */
export const LEASE = 40_000;

/** Gives back what dead processes had in hand: the embedded engine's folder lock says that all others are. */
export async function freeLeases(db: Db): Promise<void> {
  if (db.engine === 'embedded') await db.query(`UPDATE job SET leased_until = NULL WHERE leased_until IS NOT NULL`);
}

/**
 * Makes a job and leases it to this very process, in the caller's transaction: what the process has in memory serves the work (it is then
 * `given` to the runner). Where it dies before, or its commit was not heard of, the lease runs out and whoever leases it does without.
 */
export async function wantLeased(db: Queryable, kind: JobKind, key: string, now: number): Promise<LeasedJob> {
  const until = now + LEASE;
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO job (kind, key, due_at, lease, leased_until) VALUES ($1, $2, $3::timestamptz, 1, $4::timestamptz) RETURNING id`,
    [kind, key, iso(now), iso(until)],
  );
  return { id: rows[0].id, kind, key, lease: 1, until, wanted: 0, attempts: 0, failingSince: null };
}

export interface LeasedJob extends Leased<JobKind> {
  wanted: number;
}

/** Leases what is due, the longest due first, and says when the next is. */
export async function lease(
  db: Queryable,
  asked: { most: number; except: readonly string[]; now: number; not: readonly number[] },
): Promise<{ jobs: LeasedJob[]; next: number | null }> {
  const { rows } = await db.query<{
    id: number;
    kind: JobKind;
    key: string;
    lease: number;
    wanted: number;
    attempts: number;
    failing_since: string | null;
  }>(
    `WITH due AS (SELECT id FROM job WHERE due_at <= $1::timestamptz AND (leased_until IS NULL OR leased_until <= $1::timestamptz)
       AND kind <> ALL ($2::text[]) AND id <> ALL ($3::bigint[]) ORDER BY due_at, id LIMIT $4::int FOR UPDATE SKIP LOCKED)
     UPDATE job SET lease = job.lease + 1, leased_until = $5::timestamptz, leased_wanted = job.wanted FROM due WHERE job.id = due.id
     RETURNING job.id, kind, key, lease, wanted, attempts, failing_since`,
    [iso(asked.now), asked.except, asked.not, asked.most, iso(asked.now + LEASE)],
  );
  const next =
    rows.length > 0
      ? null
      : (
          await db.query<{ next: string | null }>(
            // what is overdue and not leased is of a kind that is full: its end asks again
            `SELECT min(greatest(due_at, leased_until)) AS next FROM job WHERE greatest(due_at, leased_until) > $1::timestamptz`,
            [iso(asked.now)],
          )
        ).rows[0].next;
  return {
    jobs: rows.map((row) => ({
      id: row.id,
      kind: row.kind,
      key: row.key,
      lease: row.lease,
      until: asked.now + LEASE,
      wanted: row.wanted,
      attempts: row.attempts,
      failingSince: row.failing_since === null ? null : Date.parse(row.failing_since),
    })),
    next: next === null ? null : Date.parse(next),
  };
}

/** Takes a job that is done away, where it is still ours; what was asked for meanwhile stays, due at once. False when it is not ours. */
export async function finish(db: Queryable, job: LeasedJob): Promise<'done' | 'again' | 'lost'> {
  const gone = await db.query(`DELETE FROM job WHERE id = $1 AND lease = $2 AND wanted = $3`, [job.id, job.lease, job.wanted]);
  if (gone.rowCount > 0) return 'done';
  const kept = await db.query(
    `UPDATE job SET leased_until = NULL, attempts = 0, trouble = NULL, failing_since = NULL WHERE id = $1 AND lease = $2`,
    [job.id, job.lease],
  );
  return kept.rowCount > 0 ? 'again' : 'lost';
}

/** Keeps a job for later, where it is still ours: at its moment, or at once where it was asked for meanwhile. */
export async function keepFor(db: Queryable, job: LeasedJob, at: number): Promise<boolean> {
  const kept = await db.query(
    `UPDATE job SET leased_until = NULL, attempts = 0, trouble = NULL, failing_since = NULL,
       due_at = CASE WHEN wanted = $3 THEN $4::timestamptz ELSE least(due_at, $4::timestamptz) END WHERE id = $1 AND lease = $2`,
    [job.id, job.lease, job.wanted, iso(at)],
  );
  return kept.rowCount > 0;
}

/** Writes down that a job failed, and when it is tried again. */
export async function postpone(db: Queryable, job: Leased, to: Postponed, passing: boolean): Promise<void> {
  await db.query(
    `UPDATE job SET leased_until = NULL, due_at = $3::timestamptz, attempts = $4, trouble = $5, failing_since = $6::timestamptz, passing = $7 WHERE id = $1 AND lease = $2`,
    [job.id, job.lease, iso(to.due), to.attempts, to.trouble, iso(to.failingSince), passing],
  );
}

/** Holds a lease longer, for work that does not end in one transaction. False when it is lost. */
export async function holdOn(db: Queryable, job: Leased, now: number): Promise<boolean> {
  const held = await db.query(`UPDATE job SET leased_until = $3::timestamptz WHERE id = $1 AND lease = $2`, [
    job.id,
    job.lease,
    iso(now + LEASE),
  ]);
  return held.rowCount > 0;
}

/** A job as it is shown. */
export interface ShownJob {
  kind: JobKind;
  key: string;
  due_at: string;
  attempts: number;
  trouble: string | null;
  failing_since: string | null;
}

/** Jobs that keep failing, or whose trouble does not pass by itself: shown under *Needs you*. */
export const FAILING = `attempts > 0 AND (NOT passing OR attempts >= ${SEEN_AFTER_TRIES} OR failing_since <= $1::timestamptz - interval '${SEEN_AFTER} milliseconds')`;

export async function failingJobs(db: Queryable, now: string, most = 50): Promise<ShownJob[]> {
  return (
    await db.query<ShownJob>(
      `SELECT kind, key, due_at, attempts, trouble, failing_since FROM job WHERE ${FAILING} ORDER BY failing_since, id LIMIT $2::int`,
      [now, most],
    )
  ).rows;
}

/** How many there are of each kind, when the next is due, and how many of them fail. */
export async function jobsByKind(
  db: Queryable,
  now: string,
): Promise<{ kind: JobKind; waiting: number; overdue: number; failing: number; next_at: string | null }[]> {
  return (
    await db.query<{ kind: JobKind; waiting: number; overdue: number; failing: number; next_at: string | null }>(
      `SELECT kind, count(*) AS waiting, count(*) FILTER (WHERE due_at < $1::timestamptz - interval '1 minute') AS overdue,
         count(*) FILTER (WHERE attempts > 0) AS failing, min(due_at) AS next_at FROM job GROUP BY kind ORDER BY kind`,
      [now],
    )
  ).rows;
}
