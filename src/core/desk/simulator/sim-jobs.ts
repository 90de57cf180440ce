import type { Leased, Postponed } from '../../jobs/jobs';

/** Kinds of work that the simulated desk has. */
export const SIM_KINDS = [
  'replies',
  'pass on',
  'look up',
  'store run',
  'plan next',
  'start run',
  'end run',
  'clear run',
  'clean lists',
] as const;
export type SimKind = (typeof SIM_KINDS)[number];
export type SimJob = Leased<SimKind> & { wanted: number };

interface Row {
  id: number;
  kind: SimKind;
  key: string;
  due: number;
  lease: number;
  leasedUntil: number | null;
  wanted: number;
  leasedWanted: number;
  attempts: number;
  failingSince: number | null;
}

/** Rules of the table that are broken on purpose. */
export interface JobRules {
  /** What was asked for while it ran is taken away with it. */
  forgets?: boolean;
  /** Nobody looks whether the work is somebody else's by now. */
  unfenced?: boolean;
  /** What failed is not tried again. */
  givesUp?: boolean;
}

/** So long a lease holds, ms. */
export const SIM_LEASE = 10_000;

/** The table of jobs: each method is one statement of the server's (`server/desk/job-queries`), in memory. */
export class SimJobs {
  readonly rows = new Map<string, Row>();
  private next = 1;
  /** Called when work was made due. */
  wakes: () => void = () => undefined;

  constructor(private readonly rules: JobRules) {}

  want(kind: SimKind, key: string | number, due: number): void {
    const row = this.rows.get(`${kind} ${key}`);
    if (!row) this.insert(kind, String(key), due, 0, null);
    else {
      if (row.leasedUntil !== null && row.wanted === row.leasedWanted) row.due = due;
      else if (row.leasedUntil !== null || row.attempts === 0) row.due = Math.min(row.due, due);
      row.wanted += 1;
    }
    this.wakes();
  }

  wantLeased(kind: SimKind, key: string | number, now: number): SimJob {
    return leased(this.insert(kind, String(key), now, 1, now + SIM_LEASE));
  }

  private insert(kind: SimKind, key: string, due: number, lease: number, leasedUntil: number | null): Row {
    const row: Row = {
      id: this.next,
      kind,
      key,
      due,
      lease,
      leasedUntil,
      wanted: 0,
      leasedWanted: 0,
      attempts: 0,
      failingSince: null,
    };
    this.next += 1;
    this.rows.set(`${kind} ${key}`, row);
    return row;
  }

  lease(most: number, except: readonly SimKind[], not: readonly number[], now: number): { jobs: SimJob[]; next: number | null } {
    const free = [...this.rows.values()].filter(
      (row) => row.due <= now && (row.leasedUntil ?? 0) <= now && !except.includes(row.kind) && !not.includes(row.id),
    );
    const chosen = free.sort((a, b) => a.due - b.due || a.id - b.id).slice(0, most);
    for (const row of chosen) {
      row.lease += 1;
      row.leasedUntil = now + SIM_LEASE;
      row.leasedWanted = row.wanted;
    }
    if (chosen.length > 0) return { jobs: chosen.map(leased), next: null };
    const later = [...this.rows.values()].map((row) => Math.max(row.due, row.leasedUntil ?? 0)).filter((at) => at > now);
    return { jobs: [], next: later.length > 0 ? Math.min(...later) : null };
  }

  private mineRow(job: SimJob): Row | undefined {
    const row = this.rows.get(`${job.kind} ${job.key}`);
    return row && row.id === job.id && (this.rules.unfenced || row.lease === job.lease) ? row : undefined;
  }

  mine(job: SimJob): boolean {
    return this.rules.unfenced === true || this.mineRow(job) !== undefined;
  }

  holdOn(job: SimJob, now: number): boolean {
    const row = this.mineRow(job);
    if (row) row.leasedUntil = now + SIM_LEASE;
    return this.rules.unfenced === true || row !== undefined;
  }

  finish(job: SimJob): 'done' | 'again' | 'lost' {
    const row = this.mineRow(job);
    if (!row) return this.rules.unfenced ? 'done' : 'lost';
    if (row.wanted === job.wanted || this.rules.forgets) {
      this.rows.delete(`${job.kind} ${job.key}`);
      return 'done';
    }
    Object.assign(row, { leasedUntil: null, attempts: 0, failingSince: null });
    return 'again';
  }

  keepFor(job: SimJob, at: number): boolean {
    const row = this.mineRow(job);
    if (!row) return false;
    const due = row.wanted === job.wanted ? at : Math.min(row.due, at);
    Object.assign(row, { leasedUntil: null, attempts: 0, failingSince: null, due });
    return true;
  }

  postpone(job: SimJob, to: Postponed): void {
    const row = this.mineRow(job);
    if (!row) return;
    if (this.rules.givesUp) this.rows.delete(`${job.kind} ${job.key}`);
    else Object.assign(row, { leasedUntil: null, due: to.due, attempts: to.attempts, failingSince: to.failingSince });
  }
}

const leased = (row: Row): SimJob => ({
  id: row.id,
  kind: row.kind,
  key: row.key,
  lease: row.lease,
  until: row.leasedUntil ?? 0,
  wanted: row.wanted,
  attempts: row.attempts,
  failingSince: row.failingSince,
});
