import type { Db } from '../../db/db';
import type { Bus } from '../../desk/bus';
import type { Work } from '../../desk/job-runner';
import { eraseTraces, type Erasing } from './erase';
import { eraseFromFiles } from './erase-files';

/** Texts that are on their way are looked at again after so long, ms; they come to their end within a day or so. */
const AGAIN = 10 * 60_000;

/**
 * What erasing somebody leaves to be done: rows of files, a piece at a time, and texts that were on their way, when they have come to their
 * end. The job of the kind `erase`, by person; while there is anything left, `erasing` holds their number, and nothing else does.
 */
export function eraseWork(db: Db, bus: Bus): Work {
  return async ({ job, now, over, stillMine, inOne }) => {
    const { rows } = await db.query<Erasing & { files_done: boolean }>(
      `SELECT person_id, number, nobody, at, files_done FROM erasing WHERE person_id = $1`,
      [Number(job.key)],
    );
    const erasing = rows.at(0);
    if (!erasing) return { done: true };
    const going = async () => {
      await stillMine();
      return !over();
    };
    if (!erasing.files_done && (await eraseFromFiles(db, erasing, going)) === undefined) return { again: now() };
    await inOne(async (tx) => {
      await tx.query(`UPDATE erasing SET files_done = true WHERE person_id = $1`, [erasing.person_id]);
      if ((await eraseTraces(tx, erasing, now())) > 0) return { again: now() + AGAIN };
      await tx.query(`DELETE FROM erasing WHERE person_id = $1`, [erasing.person_id]);
      return {};
    });
    bus.changed('people');
    return undefined;
  };
}
