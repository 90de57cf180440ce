import { iso } from '../../../core/clock';
import { formatDay } from '../../../core/merge/date-pattern';
import { alarmsOf, otherDayWords, type AlarmKind } from '../../../core/outcome/alarms';
import { wallClock } from '../../../core/zones';
import type { Db, Queryable } from '../../db/db';
import { want } from '../../desk/job-queries';
import type { Work } from '../../desk/job-runner';
import type { Bus } from '../../desk/bus';
import { EngineError } from '../engine-error';
import { queueText } from '../queue-text';
import { otherDayOf } from './other-day';

const MINUTE = 60_000;
const LOOK_EVERY = 15_000;
/** A receipt is slow after so long, ms; common practice has most within a minute. */
const SLOW = 10 * MINUTE;
/** Runs that have ended are looked at for so long, ms. */
const AFTER = 30 * MINUTE;
/** What is usual is taken of so many runs before. */
const USUAL_OF = 30;
const USEFUL = 60 * MINUTE;

interface Watched {
  id: number;
  name: string;
  delivered: number;
  failed: number;
  open: number;
}

/** Raises an alarm once for a run and a kind of trouble, and whoever is on duty is told. True when it is new. */
export async function raiseAlarm(db: Queryable, run: number, kind: AlarmKind, words: string, at: string): Promise<boolean> {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO alarm (run_id, kind, words, at) VALUES ($1, $2, $3, $4::timestamptz) ON CONFLICT (run_id, kind) DO NOTHING RETURNING id`,
    [run, kind, words, at],
  );
  await want(
    db,
    rows.map(({ id }) => ({ kind: 'tell duty', key: String(id), due: Date.parse(at) })),
  );
  return rows.length > 0;
}

/**
 * Watches runs that go, and for a while those that have: looks at their counters and raises what is wrong once. Counters are read; texts
 * are looked at only where they say that something may be wrong. The job of the kind `watch`: due with the first run that goes, and over
 * when none is left to be watched.
 */
export function watchWork(db: Db, bus: Bus): Work {
  return async ({ now }) => {
    const at = now();
    const { rows } = await db.query<Watched>(
      `SELECT run.id, run.name, coalesce(sum(t.people) FILTER (WHERE t.state = 'delivered'), 0)::bigint AS delivered,
         coalesce(sum(t.people) FILTER (WHERE t.state IN ('not_delivered', 'expired')), 0)::bigint AS failed,
         coalesce(sum(t.people) FILTER (WHERE t.state IN ('with_carrier', 'handing_over')), 0)::bigint AS open
       FROM run JOIN run_tally t ON t.run_id = run.id
       WHERE run.state IN ('sending', 'paused') OR run.ended_at > $1::timestamptz GROUP BY run.id ORDER BY run.id LIMIT 50`,
      [iso(at - AFTER)],
    );
    for (const run of rows) {
      const raised = await look(db, run, at);
      if ((await lookAtDay(db, run.id, at)) || raised) bus.changed('runs');
    }
    return rows.length === 0 ? { done: true } : { again: at + LOOK_EVERY };
  };
}

async function look(db: Db, run: Watched, now: number): Promise<boolean> {
  if (run.delivered + run.failed + run.open === 0) return false;
  const [reason] =
    run.failed > 0
      ? (
          await db.query<{ reason: string; n: number }>(
            `SELECT reason, count(*) AS n FROM outbound WHERE run_id = $1 AND kind = 'run' AND state IN ('not_delivered', 'expired') AND reason IS NOT NULL GROUP BY reason ORDER BY n DESC LIMIT 1`,
            [run.id],
          )
        ).rows
      : [];
  // the clock of a text that waits is its handing over
  const waiting =
    run.open > 0
      ? (
          await db.query<{ n: number }>(
            `SELECT count(*) AS n FROM outbound WHERE run_id = $1 AND kind = 'run' AND state IN ('with_carrier', 'handing_over') AND handed_at < $2::timestamptz`,
            [run.id, iso(now - SLOW)],
          )
        ).rows[0].n
      : 0;
  const alarms = alarmsOf({
    delivered: run.delivered,
    failed: run.failed,
    waiting,
    handed: run.delivered + run.failed + waiting,
    reason: reason?.reason ?? 'no reason given',
    reasonOf: reason?.n ?? 0,
    usual: await usual(db, run.id),
  });
  let raised = false;
  for (const { kind, words } of alarms)
    // with the job that tells of it, or not at all
    raised = (await db.transaction((tx) => raiseAlarm(tx, run.id, kind, words, iso(now)))) || raised;
  return raised;
}

/** Texts that wait for a person since the day that they name has passed. */
async function lookAtDay(db: Db, run: number, now: number): Promise<boolean> {
  const waits = await otherDayOf(db, run, now);
  if (!waits) return false;
  const { zone } = (await db.query<{ zone: string }>(`SELECT zone FROM workspace`)).rows[0];
  const shown = (day: string) => formatDay(day, 'EEE, MMM d', 'en');
  const words = otherDayWords(waits.n, shown(waits.day), shown(wallClock(now, zone).date));
  return db.transaction((tx) => raiseAlarm(tx, run, 'other_day', words, iso(now)));
}

/** The share that fails as a rule, of the runs before. */
async function usual(db: Db, run: number): Promise<number | null> {
  const { rows } = await db.query<{ ended: number; failed: number }>(
    `SELECT coalesce(sum(people), 0)::bigint AS ended, coalesce(sum(people) FILTER (WHERE state <> 'delivered'), 0)::bigint AS failed
     FROM run_tally WHERE state IN ('delivered', 'not_delivered', 'expired') AND run_id IN (SELECT id FROM run WHERE id < $1 AND started_at IS NOT NULL ORDER BY id DESC LIMIT ${USUAL_OF})`,
    [run],
  );
  return rows[0].ended < 100 ? null : rows[0].failed / rows[0].ended;
}

/** One text about an alarm that nobody was told of yet, to whoever is on duty; nothing about what is old or seen. */
export function tellDutyWork(bus: Bus): Work {
  return async ({ job, now, inOne }) => {
    await inOne(async (tx) => {
      const at = now();
      const { rows } = await tx.query<{
        id: number;
        words: string;
        name: string;
        number: string;
        any_hour: boolean;
        sender_id: number;
      }>(
        `SELECT alarm.id, alarm.words, run.name, account.own_number AS number, d.duty_any_hour AS any_hour,
           (SELECT id FROM sender ORDER BY kind = 'name', id LIMIT 1) AS sender_id
         FROM alarm JOIN run ON run.id = run_id, desk_setting d JOIN account ON account.id = d.duty_account_id
         WHERE alarm.id = $2 AND alarm.outbound_id IS NULL AND alarm.trouble IS NULL AND alarm.seen_at IS NULL AND alarm.at > $1::timestamptz
           AND account.removed_at IS NULL AND account.own_number IS NOT NULL FOR UPDATE OF alarm`,
        [iso(at - USEFUL), Number(job.key)],
      );
      const alarm = rows.at(0);
      if (!alarm) return {};
      try {
        const outbound = await queueText(
          tx,
          {
            kind: 'alarm',
            personId: null,
            number: alarm.number,
            senderId: alarm.sender_id,
            body: `“${alarm.name.slice(0, 60)}”: ${alarm.words}`,
            usefulFor: USEFUL,
            asked: alarm.any_hour,
          },
          at,
        );
        await tx.query(`UPDATE alarm SET outbound_id = $2 WHERE id = $1`, [alarm.id, outbound]);
      } catch (error) {
        // refused before anything was written
        if (!(error instanceof EngineError)) throw error;
        await tx.query(`UPDATE alarm SET trouble = $2 WHERE id = $1`, [alarm.id, error.message]);
      }
      return {};
    });
    bus.changed('runs');
    bus.work();
    return undefined;
  };
}
