import type { Db, Tx } from '../../db/db';
import { isPassing } from '../../db/db-error';
import { want, type Wanted } from '../../desk/job-queries';
import { Lost, type Work } from '../../desk/job-runner';
import { act, type Stored } from './act-on-reply';
import type { Bus } from '../../desk/bus';
import { REGISTER_LOCK } from '../register';

/** So often a reply is tried whose trouble does not pass by itself; then it is a person's. */
const MOST_TRIES = 3;

/** Replies are acted on in so many rows beside one another, by the last sign of their number. */
const ROWS = 4;
/** So many of them in one transaction. */
const TOGETHER = 25;

/** Makes acting on what a number wrote due. */
export function wantActing(numbers: readonly string[], due: number): Wanted[] {
  return [...new Set(numbers.map(rowOf))].map((key) => ({ kind: 'replies', key, due }));
}

function rowOf(number: string): string {
  return String(([...number].at(-1)?.codePointAt(0) ?? 0) % ROWS);
}

const READ = 'SELECT id, number, to_address, body, kind, received_at FROM inbound';
/** A number with a job of its own is that one's: what it wrote stays in its order. */
const IN_ROW = `NOT applied AND ascii(right(number, 1)) % ${ROWS} = $1::int AND NOT EXISTS (SELECT 1 FROM job WHERE kind = 'reply' AND key = number)`;

/**
 * Acts on what people wrote, in the order it came: the job of the kind `replies`. Many are one transaction with what answers them; when
 * one of them fails nothing of that happened, and each gets one of its own. A number whose reply fails then gets a job of its own
 * (`reply`), which no other waits for.
 */
export function repliesWork(db: Db, bus: Bus): Work {
  return async ({ job, now, over, stillMine }) => {
    const row = Number(job.key);
    for (;;) {
      const { rows: all } = await db.query<Stored>(`${READ} WHERE ${IN_ROW} ORDER BY id LIMIT ${TOGETHER}`, [row]);
      if (all.length === 0) return { done: true };
      // what a number writes next meets what came of the one before
      const rows = [...new Map([...all].reverse().map((each) => [each.number, each])).values()].reverse();
      if (over()) return { again: now() };
      const mine = (work: (tx: Tx) => Promise<number[]>) =>
        db.transaction(async (tx) => {
          // looked at, not locked: whoever takes texts in writes to this row, and waits for nobody's replies
          const held = await tx.query(`SELECT 1 FROM job WHERE id = $1 AND lease = $2`, [job.id, job.lease]);
          if (held.rowCount === 0) throw new Lost();
          return work(tx);
        });
      const runs = new Set<number>();
      try {
        for (const run of await mine((tx) => actOnAll(tx, rows, now()))) runs.add(run);
      } catch (error) {
        if (error instanceof Lost) throw error;
        for (const stored of rows)
          try {
            for (const run of await mine((tx) => actOnAll(tx, [stored], now()))) runs.add(run);
          } catch (single) {
            if (single instanceof Lost) throw single;
            // tried again there, later each time, and shown when it keeps failing
            await want(db, [{ kind: 'reply', key: stored.number, due: now() }]);
          }
      }
      bus.changed('replies');
      for (const run of runs) bus.changed('run', run);
      bus.work();
      await stillMine();
    }
  };
}

/**
 * Those that still wait of these, each of another number; held until the transaction ends, so that each is acted on once. What is alike
 * for all is asked and written for all at once.
 */
async function actOnAll(tx: Tx, asked: readonly Stored[], now: number): Promise<number[]> {
  // before the replies themselves, so that nobody who holds it waits for what this holds
  if (asked.some(({ kind }) => kind === 'stop' || kind === 'start')) await tx.query(REGISTER_LOCK);
  const { rows } = await tx.query<{ id: number; apart: boolean }>(
    `SELECT id, EXISTS (SELECT 1 FROM job WHERE kind = 'reply' AND key = number) AS apart FROM inbound WHERE id = ANY ($1::bigint[]) AND NOT applied ORDER BY id FOR NO KEY UPDATE`,
    [asked.map((each) => each.id)],
  );
  const waits = new Set(rows.filter((row) => !row.apart).map((row) => row.id));
  return act(
    tx,
    asked.filter(({ id }) => waits.has(id)),
    now,
  );
}

/**
 * Acts on the replies of one number of which one has failed, one after the other. What fails for good is a person's, as what it may be,
 * and holds its number meanwhile (`number_held`).
 */
export function replyWork(db: Db, bus: Bus): Work {
  return async ({ job, now, inOne }) => {
    let acting: number | undefined;
    let runs: number[] = [];
    try {
      await inOne(async (tx) => {
        await tx.query(REGISTER_LOCK);
        const { rows } = await tx.query<Stored>(
          `${READ} WHERE number = $1 AND NOT applied ORDER BY id LIMIT 2 FOR NO KEY UPDATE`,
          [job.key],
        );
        // what comes in meanwhile is left to this job: with its end it is the row's again
        await want(tx, wantActing([job.key], now()));
        const stored = rows.at(0);
        if (!stored) return {};
        acting = stored.id;
        runs = await act(tx, [stored], now());
        return rows.length > 1 ? { again: now() } : {};
      });
    } catch (error) {
      if (acting === undefined || error instanceof Lost || isPassing(error)) throw error;
      if (!(await leaveToPerson(db, acting))) throw error;
      bus.changed('replies');
      return { again: now() };
    }
    if (acting !== undefined) bus.changed('replies');
    for (const run of runs) bus.changed('run', run);
    if (acting !== undefined) bus.work();
    return undefined;
  };
}

/** Counts a try that failed; after the last the reply is shown with it, and the next of its number is not held up. */
async function leaveToPerson(db: Db, id: number): Promise<boolean> {
  const { rows } = await db.query<{ applied: boolean }>(
    `UPDATE inbound SET tries = tries + 1, applied = tries + 1 >= ${MOST_TRIES},
       trouble = CASE WHEN tries + 1 >= ${MOST_TRIES} THEN 'It could not be acted on. Look at it and decide.' ELSE trouble END WHERE id = $1 RETURNING applied`,
    [id],
  );
  return rows.at(0)?.applied ?? false;
}
