import type { Queryable } from '../db/db';
import { queueText } from './texts';

/** What answers somebody by itself, right after they wrote. */
export interface OwnAnswer {
  /** A confirmation may follow an opt-out (47 CFR 64.1200(a)(12)); nothing else may. */
  kind: 'confirmation' | 'automatic';
  words: string;
  person: number | null;
  /** What they were texted from last, where what they wrote to is not known. */
  sender: number | undefined;
}

const USEFUL = 5 * 60_000; // 47 CFR 64.1200(a)(12): within five minutes
/** So many texts that nobody wrote go to one number in an hour; a machine that answers a machine comes to an end at them. */
export const MOST_IN_AN_HOUR = 6;

/**
 * Whether a number may be answered by itself: it is one that can be texted, none of our own, and it has not been answered so too
 * often of late. The one place where loops end.
 */
export async function mayAnswerByItself(db: Queryable, number: string, now: number): Promise<boolean> {
  if (!/^\+\d{7,15}$/.test(number)) return false;
  const { rows } = await db.query<{ own: boolean; lately: number }>(
    `SELECT EXISTS (SELECT 1 FROM sender WHERE kind <> 'name' AND ltrim(address, '+') = ltrim($1, '+')) AS own,
       (SELECT count(*) FROM outbound WHERE number = $1 AND kind IN ('confirmation', 'automatic', 'passed', 'alarm') AND due_at > $2::timestamptz) AS lately`,
    [number, new Date(now - 3_600_000).toISOString()],
  );
  return !rows[0].own && rows[0].lately < MOST_IN_AN_HOUR;
}

/** The sender that was written to, else the one that wrote last. */
export async function senderWrittenTo(db: Queryable, address: string, last: number | undefined): Promise<number | undefined> {
  const { rows } = await db.query<{ id: number }>(`SELECT id FROM sender WHERE ltrim(address, '+') = $1`, [
    address.replace(/^(\+|00)/, ''),
  ]);
  return rows[0]?.id ?? last;
}

/**
 * Answers, where it may. False when it was not: nobody can be texted there, or it would be once too often.
 * @throws EngineError
 */
export async function answerByItself(
  db: Queryable,
  to: { number: string; to_address: string },
  answer: OwnAnswer,
  now: number,
): Promise<boolean> {
  const sender = await senderWrittenTo(db, to.to_address, answer.sender);
  if (sender === undefined || !(await mayAnswerByItself(db, to.number, now))) return false;
  await queueText(
    db,
    {
      kind: answer.kind,
      personId: answer.person,
      number: to.number,
      senderId: sender,
      body: answer.words,
      usefulFor: USEFUL,
    },
    now,
  );
  return true;
}
