import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { backoffOf, JOB_SETTINGS, Jobs, postponed, type JobEffect, type JobEvent, type JobSettings, type Leased } from './jobs';

const settings: JobSettings = { ...JOB_SETTINGS, atOnce: 3, atOnceOf: { mail: 1 } };
const job = (id: number, kind = 'reply'): Leased => ({
  id,
  kind,
  key: `${id}`,
  lease: 1,
  until: 60_000,
  attempts: 0,
  failingSince: null,
});

describe('a job that failed', () => {
  test('waits twice as long each time, up to the longest, half of it by chance', () => {
    expect([1, 2, 3].map((n) => backoffOf(n, 1, [1000, 300_000]))).toEqual([1000, 2000, 4000]);
    expect(backoffOf(1, 0, [1000, 300_000])).toBe(500);
    expect(backoffOf(40, 1, [1000, 300_000])).toBe(300_000);
  });
  test('keeps since when it fails, and its last trouble', () => {
    expect(postponed({ attempts: 2, failingSince: 5 }, { trouble: 'x'.repeat(900) }, 100, 1)).toMatchObject({
      attempts: 3,
      failingSince: 5,
      due: 4100,
    });
    expect(postponed({ attempts: 0, failingSince: null }, { trouble: 'away' }, 100, 1).failingSince).toBe(100);
  });
});

describe('the machine', () => {
  test('asks for what there is room for, leaves out kinds that are full, and never runs one twice at a time', () => {
    const jobs = new Jobs(settings, () => 0.5);
    expect(jobs.on({ is: 'woken' }, 0)).toEqual([{ do: 'lease', most: 3, except: [] }]);
    // said while it asks: it asks again afterwards
    expect(jobs.on({ is: 'woken' }, 0)).toEqual([]);
    expect(jobs.on({ is: 'leased', jobs: [job(1, 'mail')], next: null }, 0)).toEqual([
      { do: 'run', job: job(1, 'mail') },
      { do: 'lease', most: 2, except: ['mail'] },
    ]);
    expect(jobs.on({ is: 'leased', jobs: [job(1, 'mail')], next: null }, 0).filter((e) => e.do === 'run')).toEqual([]);
  });
  test('a lease that ran out before it was come to is not begun, since another process may have it; it is asked for anew', () => {
    const jobs = new Jobs(settings, () => 0.5);
    jobs.on({ is: 'woken' }, 0);
    expect(jobs.on({ is: 'leased', jobs: [job(1)], next: null }, 60_000)).toEqual([{ do: 'lease', most: 3, except: [] }]);
    expect(jobs.on({ is: 'leased', jobs: [{ ...job(1), lease: 2, until: 120_000 }], next: null }, 60_001)[0]).toMatchObject({
      do: 'run',
    });
  });
  test('an end makes room; a failure postpones; what comes later wakes', () => {
    const jobs = new Jobs(settings, () => 1);
    jobs.on({ is: 'woken' }, 0);
    jobs.on({ is: 'leased', jobs: [job(1), job(2)], next: null }, 0);
    jobs.on({ is: 'leased', jobs: [], next: 9000 }, 0);
    const failed = jobs.on({ is: 'ended', id: 1, ended: { how: 'failed', trouble: 'no', passing: true } }, 1000);
    expect(failed[0]).toMatchObject({ do: 'postpone', to: { due: 2000, attempts: 1, trouble: 'no' } });
    expect(failed.slice(1).map((e) => e.do)).toEqual(['wake', 'lease']);
    expect(jobs.on({ is: 'ended', id: 2, ended: { how: 'again', at: 1500 } }, 1000)).toEqual([{ do: 'wake', at: 1500 }]);
  });
});

/** A store as the database is: leases with a fence, rows asked for anew while they run. */
interface Row {
  id: number;
  kind: string;
  due: number;
  lease: number;
  until: number | null;
  attempts: number;
  wanted: number;
  began: number;
}

test('whatever is woken, fails, dies or comes late: every job is run until it is done, and never beside itself', () =>
  fc.assert(
    fc.property(fc.array(fc.nat(999), { minLength: 30, maxLength: 160 }), fc.nat(20), (dice, many) => {
      const LEASE = 60;
      let at = 0;
      let now = 0;
      const roll = (n: number) => (dice[(at += 1) % dice.length] * 7 + at) % n;
      const rows = new Map<number, Row>();
      const begun = new Map<number, number>();
      for (let id = 1; id <= many; id += 1)
        rows.set(id, {
          id,
          kind: id % 3 ? 'reply' : 'mail',
          due: roll(50),
          lease: 0,
          until: null,
          attempts: 0,
          wanted: 0,
          began: 0,
        });
      const done: number[] = [];
      const short: JobSettings = { ...settings, backoff: [5, 40] as const, lookEvery: 100 };
      // two processes, each with its machine; one that dies is begun anew
      const machines = [0, 1].map(() => ({
        jobs: new Jobs(short, () => roll(100) / 100),
        queue: [{ is: 'woken' }] as JobEvent[],
        wakeAt: Infinity,
        working: new Map<number, { job: Leased; wanted: number }>(),
      }));
      const carry = (m: (typeof machines)[number], effects: JobEffect[]) => {
        for (const effect of effects)
          if (effect.do === 'wake') m.wakeAt = effect.at;
          else if (effect.do === 'lease') {
            const due = [...rows.values()]
              .filter((r) => r.due <= now && (r.until === null || r.until <= now) && !effect.except.includes(r.kind))
              .slice(0, effect.most);
            if (roll(10) === 0) m.queue.push({ is: 'lease failed' });
            else {
              const leased = due.map((r) => {
                r.lease += 1;
                r.until = now + LEASE;
                r.began = r.wanted;
                return {
                  id: r.id,
                  kind: r.kind,
                  key: '',
                  lease: r.lease,
                  until: now + LEASE,
                  attempts: r.attempts,
                  failingSince: null,
                };
              });
              const next = [...rows.values()]
                .filter((r) => r.until === null || r.until > now)
                .map((r) => Math.max(r.due, r.until ?? 0));
              m.queue.push({ is: 'leased', jobs: leased, next: next.length ? Math.min(...next) : null });
            }
          } else if (effect.do === 'run') {
            // of one lease there is one worker
            expect(begun.get(effect.job.id) ?? 0).toBeLessThan(effect.job.lease);
            begun.set(effect.job.id, effect.job.lease);
            m.working.set(effect.job.id, { job: effect.job, wanted: rows.get(effect.job.id)?.began ?? 0 });
          } else {
            const row = rows.get(effect.job.id);
            if (row && row.lease === effect.job.lease)
              Object.assign(row, { due: effect.to.due, attempts: effect.to.attempts, until: null });
          }
      };
      for (let turn = 0; turn < 4000 && (rows.size > 0 || turn < 5); turn += 1) {
        now += roll(6);
        const calm = turn > 1500; // from then on nothing goes wrong any more
        const m = machines[roll(2)];
        if (!calm && roll(60) === 0) {
          // dies with what it has; its leases run out
          m.jobs = new Jobs(short, () => roll(100) / 100);
          m.queue = [{ is: 'woken' }];
          m.working.clear();
          m.wakeAt = Infinity;
        }
        for (const [id, { job: own, wanted }] of [...m.working]) {
          if (roll(3)) continue;
          m.working.delete(id);
          const row = rows.get(id);
          if (!row || row.lease !== own.lease) m.queue.push({ is: 'ended', id, ended: { how: 'lost' } });
          else if (!calm && roll(4) === 0)
            m.queue.push({ is: 'ended', id, ended: { how: 'failed', trouble: 'x', passing: true } });
          else if (row.wanted === wanted) {
            rows.delete(id);
            done.push(id);
            m.queue.push({ is: 'ended', id, ended: { how: 'done' } });
          } else {
            row.until = null;
            m.queue.push({ is: 'ended', id, ended: { how: 'again', at: row.due } });
          }
        }
        const asked = [...rows.values()][roll(Math.max(1, rows.size))];
        if (!calm && asked && roll(9) === 0) {
          asked.wanted += 1;
          asked.due = now;
          m.queue.push({ is: 'woken' });
        }
        if (m.wakeAt <= now) {
          m.wakeAt = Infinity;
          m.queue.push({ is: 'tick' });
        }
        const event = m.queue.shift();
        if (event) carry(m, m.jobs.on(event, now));
      }
      expect([...rows.keys()]).toEqual([]);
      expect(new Set(done).size).toBe(many);
    }),
    { numRuns: 300 },
  ));
