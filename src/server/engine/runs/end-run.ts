import { iso } from '../../../core/clock';
import type { Db, Queryable } from '../../db/db';
import { want } from '../../desk/job-queries';
import type { Work } from '../../desk/job-runner';
import type { Bus } from '../../desk/bus';
import { cleanLists } from './clean-lists';
import { settleRun } from '../money';
import { returnUnsentCodes } from './return-codes';
import { endWithoutNext } from './call-off';

/** Counts what of a run is dear to count; given by whoever starts the engine, which knows nothing of pages. */
export type CountAhead = (db: Queryable, run: number, at: string) => Promise<unknown>;

/**
 * Ends one run of which every part has its answer, and pays for what was taken: the job of the kind `end run`, by run, made due by the
 * counters themselves (`run_tally_ends`, `run_goes_on`). One that cannot end holds up no other.
 */
export function endRunWork(db: Db, bus: Bus, countAhead: CountAhead): Work {
  return async ({ job, now, inOne }) => {
    const id = Number(job.key);
    let ended = false;
    await inOne(async (tx) => {
      const at = iso(now());
      const { rows } = await tx.query<{ broadcast_id: number }>(
        `UPDATE run SET state = CASE WHEN state IN ('sending', 'paused') THEN 'finished' ELSE state END, ended_at = $2::timestamptz
         WHERE id = $1 AND NOT called_off AND ended_at IS NULL AND state IN ('sending', 'paused', 'stopped', 'missed')
           AND NOT EXISTS (SELECT 1 FROM run_tally t WHERE t.run_id = run.id AND t.open_texts > 0) RETURNING broadcast_id`,
        [id, at],
      );
      // what is still open makes this due once more when it is not
      if (rows.length === 0) return {};
      ended = true;
      await settleRun(tx, id, at);
      await returnUnsentCodes(tx, id);
      await endWithoutNext(tx, rows[0].broadcast_id, at);
      await want(tx, [{ kind: 'clean lists', key: job.key, due: now() }]);
      return {};
    });
    if (!ended) return undefined;
    // what is dear to count is counted before anybody opens it
    await countAhead(db, id, iso(now()));
    bus.changed('run', id);
    bus.changed('runs');
    bus.changed('balance');
    return undefined;
  };
}

/** Takes off lists whom a run did not reach: after its end, and again with each late word of the carrier. */
export function cleanListsWork(bus: Bus): Work {
  return async ({ job, now, inOne }) => {
    const id = Number(job.key);
    await inOne(async (tx) => {
      await cleanLists(tx, id, iso(now()));
      return {};
    });
    bus.changed('run', id);
    bus.changed('people');
    return undefined;
  };
}
