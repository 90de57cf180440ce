import { iso } from '../../../core/clock';
import { MARK_FOR, nextMark, passedText } from '../../../core/passing/mark';
import type { Db, Queryable } from '../../db/db';
import type { Work } from '../../desk/job-runner';
import type { Bus } from '../../desk/bus';
import { EngineError } from '../engine-error';
import { queueText } from '../queue-text';
import { mailServer, sendMail } from './mail-out';
import { WHO } from './pass-back';

/** What could not be mailed is tried again after so long, doubled each time, ms; and given up after so many times. */
const AGAIN = 30_000;
const MOST_TRIES = 8;
const USEFUL = 12 * 3_600_000;

interface Passed {
  id: number;
  pass_on_id: number;
  way: 'text' | 'mail';
  address: string;
  name: string;
  any_hour: boolean;
  number: string;
  token: string;
  attempts: number;
  body: string;
  person_id: number | null;
  who: string;
  sender_id: number | null;
  workspace: string;
  about: string | null;
}

/** What is to be passed on, while it waits; held until the transaction ends. */
async function waiting(db: Queryable, id: number): Promise<Passed | undefined> {
  const { rows } = await db.query<Passed>(
    `SELECT passed.id, pass_on_id, way, address, pass_on.name, any_hour, passed.number, token, attempts, i.body, i.person_id, ${WHO} AS who,
       (SELECT id FROM sender WHERE kind <> 'name' ORDER BY ltrim(sender.address, '+') = regexp_replace(i.to_address, '^([+]|00)', '') DESC, id LIMIT 1) AS sender_id,
       workspace.name AS workspace, run.name AS about
     FROM passed JOIN pass_on ON pass_on.id = pass_on_id JOIN inbound i ON i.id = inbound_id LEFT JOIN run ON run.id = i.run_id, workspace
     WHERE passed.id = $1 AND passed.state = 'waiting' FOR NO KEY UPDATE OF passed`,
    [id],
  );
  return rows.at(0);
}

/**
 * Passes one reply on. A text is queued in the transaction that marks it and ends the job: once. A mail cannot be part of a transaction:
 * one whose server fell silent is sent again, with the same id, which mail programs show as one. What cannot go is told with whom it was
 * to go to.
 */
export function passOnWork(db: Db, bus: Bus, practiceMail: () => number | undefined): Work {
  return async (working) => {
    const { job, now } = working;
    const each = await waiting(db, Number(job.key));
    if (!each) return { done: true };
    bus.changed('replies');
    if (each.way === 'mail') return mail(db, each, now(), practiceMail());
    await working.inOne(async (tx) => {
      const still = await waiting(tx, each.id);
      if (still) await text(tx, still, now());
      return {};
    });
    bus.changed('replies');
    bus.work();
    return undefined;
  };
}

async function text(tx: Queryable, each: Passed, now: number): Promise<void> {
  if (each.sender_id === null) return giveUp(tx, each, 'There is no sender that takes replies.');
  // one after the other to the same person: their marks differ
  await tx.query(`SELECT 1 FROM pass_on WHERE address = $1 ORDER BY id FOR UPDATE`, [each.address]);
  const { rows } = await tx.query<{ mark: number }>(
    `SELECT mark FROM passed JOIN pass_on ON pass_on.id = pass_on_id WHERE address = $1 AND mark IS NOT NULL AND passed.at > $2::timestamptz`,
    [each.address, iso(now - MARK_FOR)],
  );
  const mark = nextMark(rows.map((row) => row.mark));
  let outbound: number;
  try {
    outbound = await queueText(
      tx,
      {
        kind: 'passed',
        personId: null,
        number: each.address,
        senderId: each.sender_id,
        body: passedText(each.who, each.body, mark),
        usefulFor: USEFUL,
        asked: each.any_hour,
        copyOf: each.person_id,
      },
      now,
    );
  } catch (error) {
    // refused before anything was written
    if (!(error instanceof EngineError)) throw error;
    return giveUp(tx, each, error.message);
  }
  await tx.query(`UPDATE passed SET state = 'sent', mark = $2, outbound_id = $3 WHERE id = $1`, [each.id, mark, outbound]);
  await tx.query(`UPDATE pass_on SET trouble = NULL WHERE id = $1 AND trouble IS NOT NULL`, [each.pass_on_id]);
}

async function mail(
  db: Db,
  each: Passed,
  now: number,
  practicePort: number | undefined,
): Promise<{ done: true } | { again: number }> {
  const server = await mailServer(db, practicePort);
  try {
    if (!server) throw new Error('No mail server is set. Set one in Setup.');
    await sendMail(server, {
      to: each.address,
      toName: each.name,
      fromName: each.workspace,
      subject: `${each.who} has texted${each.about ? ` about “${each.about}”` : ''}`,
      text: `${each.who} (${each.number}) wrote:\n\n${each.body}\n\nAnswer this mail and your words go to them as a text from ${each.workspace}.\n`,
      token: each.token,
    });
  } catch (error) {
    const why = error instanceof Error ? error.message : 'unknown trouble';
    if (each.attempts + 1 >= MOST_TRIES || refusedForGood(error)) {
      await giveUp(db, each, why);
      return { done: true };
    }
    const next = now + AGAIN * 2 ** Math.min(each.attempts, 7);
    await db.query(
      `UPDATE passed SET attempts = attempts + 1, next_at = $2::timestamptz, reason = $3 WHERE id = $1 AND state = 'waiting'`,
      [each.id, iso(next), why],
    );
    await db.query(`UPDATE pass_on SET trouble = $2 WHERE id = $1`, [each.pass_on_id, `${why} It is tried again.`]);
    return { again: next };
  }
  // it may have come back before its server said that it was taken
  await db.query(
    `WITH sent AS (UPDATE passed SET state = 'sent' WHERE id = $1 AND state = 'waiting' RETURNING pass_on_id)
     UPDATE pass_on SET trouble = NULL FROM sent WHERE pass_on.id = sent.pass_on_id`,
    [each.id],
  );
  return { done: true };
}

async function giveUp(db: Queryable, each: Passed, why: string): Promise<void> {
  await db.query(
    `WITH failed AS (UPDATE passed SET state = 'failed', reason = $2 WHERE id = $1 AND state = 'waiting' RETURNING pass_on_id)
     UPDATE pass_on SET trouble = $2 FROM failed WHERE pass_on.id = failed.pass_on_id`,
    [each.id, why],
  );
}

/** A server's final no (RFC 5321 §4.2.1): to try again would be refused again. */
function refusedForGood(error: unknown): boolean {
  const code = (error as { responseCode?: number }).responseCode;
  return code !== undefined && code >= 500 && code < 600;
}
