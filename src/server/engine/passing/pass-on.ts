import { iso, type Clock } from '../../../core/clock';
import { nextMark, passedText } from '../../../core/passing/mark';
import type { Db, Tx } from '../../db/db';
import type { Bus } from '../bus';
import { EngineError } from '../engine-error';
import { Rounds } from '../rounds';
import { queueText } from '../texts';
import { mailServer, sendMail } from './mail-out';
import { WHO } from './pass-back';

const TICK = 1000;
const BATCH = 20;
/** What could not be mailed is tried again after so long, doubled each time, ms; and given up after so many times. */
const AGAIN = 30_000;
const MOST_TRIES = 8;
const USEFUL = 12 * 3_600_000;

interface Waiting {
  id: number;
  pass_on_id: number;
  way: 'text' | 'mail';
  address: string;
  name: string;
  any_hour: boolean;
  number: string;
  token: string;
  attempts: number;
  inbound_id: number;
  body: string;
  person_id: number | null;
  who: string;
  sender_id: number | null;
  workspace: string;
  about: string | null;
}

/**
 * Passes replies on, each once: a text is queued in the transaction that marks it; a mail is marked as being tried before it goes, so
 * that of several servers one sends it. A mail whose server fell silent may arrive twice, with the same id, which mail programs show
 * as one.
 */
export class Passing {
  private readonly db: Db;
  private readonly rounds: Rounds;

  constructor(
    db: Db,
    private readonly clock: Clock,
    private readonly bus: Bus,
    private readonly practiceMail: () => number | undefined,
    failed: (error: unknown) => void,
  ) {
    this.db = db.lane('dispatch');
    this.rounds = new Rounds(clock, TICK, () => this.tick(), failed);
  }

  start(): void {
    this.rounds.start();
  }

  end(): Promise<void> {
    return this.rounds.end();
  }

  /** Passes on what waits. Called by the loop, and by tests. */
  async tick(): Promise<void> {
    const now = this.clock.now();
    const { rows } = await this.db.query<Waiting>(
      `SELECT passed.id, pass_on_id, way, address, pass_on.name, any_hour, passed.number, token, attempts, inbound_id, i.body, i.person_id, ${WHO} AS who,
         (SELECT id FROM sender WHERE kind <> 'name' ORDER BY ltrim(sender.address, '+') = regexp_replace(i.to_address, '^([+]|00)', '') DESC, id LIMIT 1) AS sender_id,
         workspace.name AS workspace, run.name AS about
       FROM passed JOIN pass_on ON pass_on.id = pass_on_id JOIN inbound i ON i.id = inbound_id LEFT JOIN run ON run.id = i.run_id, workspace
       WHERE passed.state = 'waiting' AND next_at <= $1::timestamptz ORDER BY passed.id LIMIT ${BATCH}`,
      [iso(now)],
    );
    for (const each of rows) {
      if (this.rounds.over) return;
      if (each.way === 'text') await this.text(each);
      else await this.mail(each);
    }
    if (rows.length > 0) this.bus.changed('replies');
  }

  private async text(each: Waiting): Promise<void> {
    const now = this.clock.now();
    try {
      await this.db.transaction(async (tx) => {
        if (!(await mine(tx, each))) return;
        if (each.sender_id === null) throw new EngineError('no_price', 'There is no sender that takes replies.');
        // one after the other to the same person: their marks differ
        await tx.query(`SELECT 1 FROM pass_on WHERE address = $1 ORDER BY id FOR UPDATE`, [each.address]);
        const last = (
          await tx.query<{ mark: number | null }>(
            `SELECT mark FROM passed JOIN pass_on ON pass_on.id = pass_on_id WHERE address = $1 AND mark IS NOT NULL ORDER BY passed.id DESC LIMIT 1`,
            [each.address],
          )
        ).rows.at(0)?.mark;
        const mark = nextMark(last ?? undefined);
        const outbound = await queueText(
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
        await tx.query(`UPDATE passed SET state = 'sent', mark = $2, outbound_id = $3 WHERE id = $1`, [each.id, mark, outbound]);
        await tx.query(`UPDATE pass_on SET trouble = NULL WHERE id = $1 AND trouble IS NOT NULL`, [each.pass_on_id]);
      });
      this.bus.work();
    } catch (error) {
      if (!(error instanceof EngineError)) throw error;
      await this.giveUp(each, error.message);
    }
  }

  private async mail(each: Waiting): Promise<void> {
    const now = this.clock.now();
    // it is this process's for the time that sending takes at the longest
    const taken = await this.db.query(
      `UPDATE passed SET attempts = attempts + 1, next_at = $2::timestamptz WHERE id = $1 AND state = 'waiting' AND attempts = $3`,
      [each.id, iso(now + AGAIN * 2 ** Math.min(each.attempts, 7) + 60_000), each.attempts],
    );
    if (taken.rowCount === 0) return;
    const server = await mailServer(this.db, this.practiceMail());
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
      // it may have come back before its server said that it was taken
      await this.db.query(
        `WITH sent AS (UPDATE passed SET state = 'sent' WHERE id = $1 AND state = 'waiting' RETURNING pass_on_id)
         UPDATE pass_on SET trouble = NULL FROM sent WHERE pass_on.id = sent.pass_on_id`,
        [each.id],
      );
    } catch (error) {
      const why = error instanceof Error ? error.message : 'unknown trouble';
      if (each.attempts + 1 >= MOST_TRIES || refusedForGood(error)) return this.giveUp(each, why);
      await this.db.query(`UPDATE passed SET next_at = $2::timestamptz, reason = $3 WHERE id = $1 AND state = 'waiting'`, [
        each.id,
        iso(this.clock.now() + AGAIN * 2 ** Math.min(each.attempts, 7)),
        why,
      ]);
      await this.db.query(`UPDATE pass_on SET trouble = $2 WHERE id = $1`, [each.pass_on_id, `${why} It is tried again.`]);
    }
  }

  private async giveUp(each: Waiting, why: string): Promise<void> {
    await this.db.query(
      `WITH failed AS (UPDATE passed SET state = 'failed', reason = $2 WHERE id = $1 AND state = 'waiting' RETURNING pass_on_id)
       UPDATE pass_on SET trouble = $2 FROM failed WHERE pass_on.id = failed.pass_on_id`,
      [each.id, why],
    );
  }
}

/** Locks a row that still waits: another server may have sent it. */
async function mine(tx: Tx, each: Waiting): Promise<boolean> {
  const { rowCount } = await tx.query(`SELECT 1 FROM passed WHERE id = $1 AND state = 'waiting' FOR UPDATE`, [each.id]);
  return rowCount > 0;
}

/** A server's final no (RFC 5321 §4.2.1): to try again would be refused again. */
function refusedForGood(error: unknown): boolean {
  const code = (error as { responseCode?: number }).responseCode;
  return code !== undefined && code >= 500 && code < 600;
}
