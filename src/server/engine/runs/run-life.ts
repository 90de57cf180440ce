import { iso } from '../../../core/clock';
import { moveOf, type CalledOffAs, type Run, type RunEvent, type RunMove } from '../../../core/runs/life';
import type { Queryable, Tx } from '../../db/db';
import { want } from '../../desk/job-queries';
import { settleRun } from '../money';
import { returnUnsentCodes } from './return-codes';

interface RunRow extends Pick<Run, 'state' | 'origin' | 'asks' | 'note' | 'own'> {
  broadcast_id: number;
  called_off: boolean;
  ended_at: string | null;
  started_at: string | null;
  due_at: string;
  last_due_at: string;
  takeback_until: string;
  not_after: string;
}

const COLUMNS = `broadcast_id, state, origin, called_off, ended_at, started_at, asks, due_at, last_due_at, takeback_until, not_after, note, own`;

/** What the machine is asked about: a run as its row says. Undefined when there is none. */
export async function runOf(db: Queryable, id: number): Promise<Run | undefined> {
  const row = (await db.query<RunRow>(`SELECT ${COLUMNS} FROM run WHERE id = $1`, [id])).rows.at(0);
  return row && read(row);
}

/**
 * Something happens to a run: its row is read and locked, the machine says what comes of it, and all of that is written in the caller's
 * transaction, with the work that it makes due. The only place where a run's state is written. Undefined when there is no such run.
 */
export async function moveRun(tx: Tx, id: number, event: RunEvent, now: number): Promise<RunMove | undefined> {
  const row = (await tx.query<RunRow>(`SELECT ${COLUMNS} FROM run WHERE id = $1 FOR UPDATE`, [id])).rows.at(0);
  if (!row) return undefined;
  const run = read(row);
  const move = moveOf(run, event, now);
  const at = iso(now);
  if (Object.keys(move.to).length > 0) await write(tx, id, row, { ...run, ...move.to }, move.to.startedAt);
  if (move.release) await release(tx, id, at);
  if (move.broadcast) {
    await usedUp(tx, id, run, move.broadcast, at);
    await moveBroadcast(tx, { id, broadcast: row.broadcast_id, origin: run.origin }, move.broadcast, now);
  }
  if (move.settle) {
    await settleRun(tx, id, at);
    await returnUnsentCodes(tx, id);
    await endWithoutNext(tx, row.broadcast_id, at);
    await want(tx, [{ kind: 'clean lists', key: String(id), due: now }]);
  }
  await want(
    tx,
    move.works.map((work) => ({ kind: work.kind, key: work.kind === 'watch' ? '' : String(id), due: work.at })),
  );
  return move;
}

function read(row: RunRow): Run {
  return {
    state: row.state,
    origin: row.origin,
    calledOff: row.called_off,
    endedAt: row.ended_at === null ? null : Date.parse(row.ended_at),
    asks: row.asks,
    dueAt: Date.parse(row.due_at),
    lastDueAt: Date.parse(row.last_due_at),
    takebackUntil: Date.parse(row.takeback_until),
    notAfter: Date.parse(row.not_after),
    note: row.note,
    own: row.own,
  };
}

async function write(tx: Tx, id: number, row: RunRow, run: Run, startedAt: number | undefined): Promise<void> {
  await tx.query(
    `UPDATE run SET state = $2, called_off = $3, ended_at = $4::timestamptz, asks = $5, due_at = $6::timestamptz, takeback_until = $7::timestamptz,
       note = $8, started_at = $9::timestamptz WHERE id = $1`,
    [
      id,
      run.state,
      run.calledOff,
      run.endedAt === null ? null : iso(run.endedAt),
      run.asks,
      iso(run.dueAt),
      iso(run.takebackUntil),
      run.note,
      startedAt === undefined ? row.started_at : iso(startedAt),
    ],
  );
}

async function release(tx: Tx, id: number, at: string): Promise<void> {
  await tx.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, run_id, note)
     SELECT $2::timestamptz, 'release', -sum(amount_micro), $1, 'called off' FROM balance_entry WHERE run_id = $1 HAVING sum(amount_micro) <> 0`,
    [id, at],
  );
}

/**
 * A press makes one run, also when that run is gone; what the server plans by itself may be planned again, beside what is still being
 * cleared away.
 */
async function usedUp(tx: Tx, id: number, run: Run, as: CalledOffAs, at: string): Promise<void> {
  if (run.origin === 'press')
    await tx.query(
      `INSERT INTO press_over (press_id, broadcast_id, how, at) SELECT press_id, broadcast_id, $2, $3::timestamptz FROM run WHERE id = $1
       ON CONFLICT (press_id) DO NOTHING`,
      [id, as === 'undone' ? 'undone' : 'called off', at],
    );
  await tx.query(`UPDATE run SET press_id = press_id || '/off/' || id WHERE id = $1`, [id]);
}

/** A run that could not be stored is tried again after so long, ms. */
const AGAIN = 60_000;

async function moveBroadcast(
  tx: Tx,
  { id, broadcast, origin }: { id: number; broadcast: number; origin: Run['origin'] },
  as: CalledOffAs,
  now: number,
): Promise<void> {
  const at = iso(now);
  if (as === 'skipped') return endWithoutNext(tx, broadcast, at);
  if (as !== 'undone' || origin === 'press') {
    await tx.query(
      `UPDATE broadcast SET state = $2, version = version + 1, updated_at = $3::timestamptz, goes_on = false, next_date = NULL, next_at = NULL,
         plan_at = NULL WHERE id = $1 AND state = 'scheduled'`,
      [broadcast, as === 'undone' ? 'draft' : as, at],
    );
    return;
  }
  if (origin === 'repeat')
    await tx.query(
      // of two that are undone, the earlier date comes first; the others follow it
      `UPDATE broadcast SET goes_on = true, next_date = least(next_date, run.on_date), plan_at = $2::timestamptz,
         next_at = CASE WHEN next_date < run.on_date THEN next_at ELSE run.due_at END
       FROM run WHERE run.id = $1 AND broadcast.id = run.broadcast_id AND broadcast.state = 'scheduled'`,
      [id, iso(now + AGAIN)],
    );
  else if (origin === 'import')
    await tx.query(
      `DELETE FROM broadcast_import had USING run, broadcast WHERE run.id = $1 AND broadcast.id = run.broadcast_id AND broadcast.state = 'scheduled'
         AND had.broadcast_id = broadcast.id AND had.import_id = run.import_id`,
      [id],
    );
  // what it was to take the place of may have ended meanwhile, and this was the last that the broadcast waited for
  else return endWithoutNext(tx, broadcast, at);
  await want(tx, [{ kind: 'plan next', key: String(broadcast), due: now + AGAIN }]);
}

/** A broadcast of which nothing is to come and nothing is going has ended; one that is sent whenever somebody says so is a draft. */
export async function endWithoutNext(tx: Tx, broadcast: number, at: string): Promise<void> {
  await tx.query(
    `UPDATE broadcast SET updated_at = $2::timestamptz, version = version + 1,
       state = CASE WHEN draft->'when'->>'again' = 'true' THEN 'draft' ELSE 'ended' END
     WHERE id = $1 AND state = 'scheduled' AND NOT goes_on
       AND NOT EXISTS (SELECT 1 FROM run WHERE run.broadcast_id = $1 AND run.ended_at IS NULL)`,
    [broadcast, at],
  );
}

/**
 * Calls a run off before its first text: from then on it cannot start, its money is back and its broadcast is what `as` says. Its texts
 * are cleared away afterwards. False when it was called off already, or has started.
 */
export async function callOff(tx: Tx, id: number, as: CalledOffAs, now: number): Promise<boolean> {
  const move = await moveRun(tx, id, { is: 'call off', as }, now);
  return move !== undefined && move.refused === undefined;
}
