import { isNumber } from '../../../core/phone/number';
import type { Queryable } from '../../db/db';
import { BALANCE_LOCK, priceOf } from '../money';
import { measure } from '../../../core/text/measure';
import { queueText } from '../queue-text';

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
const DAY = 86_400_000;
/** So many texts that nobody wrote go to one number in an hour; a machine that answers a machine comes to an end at them. */
export const MOST_IN_AN_HOUR = 6;

const SENDER_AT = `SELECT id FROM sender WHERE ltrim(address, '+') = $1 ORDER BY id LIMIT 1`;
const bare = (address: string): string => address.replace(/^(\+|00)/, '');

/** The sender that somebody wrote to. */
export async function senderWrittenTo(db: Queryable, address: string): Promise<number | undefined> {
  return (await db.query<{ id: number }>(SENDER_AT, [bare(address)])).rows.at(0)?.id;
}

/** What is to be known before a number is answered by itself. */
interface BeforeAnswering {
  own: boolean;
  lately: number;
  /** The sender at the address that was written to. */
  sender: number | null;
}

async function beforeAnswering(
  db: Queryable,
  to: { number: string; to_address: string },
  now: number,
  kind: OwnAnswer['kind'],
): Promise<BeforeAnswering> {
  const { rows } = await db.query<BeforeAnswering>(
    `SELECT EXISTS (SELECT 1 FROM sender WHERE kind <> 'name' AND ltrim(address, '+') = ltrim($4, '+')) AS own,
       (SELECT count(*) FROM outbound WHERE number = $4 AND kind IN ('confirmation', 'automatic', 'passed', 'alarm') AND (kind = 'confirmation') = $3::boolean
          AND due_at > $2::timestamptz) AS lately,
       (${SENDER_AT}) AS sender`,
    [bare(to.to_address), new Date(now - 3_600_000).toISOString(), kind === 'confirmation', to.number],
  );
  return rows[0];
}

/** The one place where loops end. */
const mayBe = (number: string, { own, lately }: BeforeAnswering): boolean => isNumber(number) && !own && lately < MOST_IN_AN_HOUR;

/**
 * Whether a number may be answered by itself: it is one that can be texted, none of our own, and it has not been answered so too
 * often of late. Confirmations of stops have a count of their own: no other answers leave a stop without its word.
 */
export async function mayAnswerByItself(
  db: Queryable,
  number: string,
  now: number,
  kind: OwnAnswer['kind'] = 'automatic',
): Promise<boolean> {
  return mayBe(number, await beforeAnswering(db, { number, to_address: '' }, now, kind));
}

/**
 * Answers, where it may. `no` when it was not: nobody can be texted there, or it would be once too often; `too dear` when strangers have
 * used up what their answers may cost a day.
 * @throws EngineError before anything is written
 */
export async function answerByItself(
  db: Queryable,
  to: { number: string; to_address: string },
  answer: OwnAnswer,
  now: number,
): Promise<'answered' | 'no' | 'too dear'> {
  const before = await beforeAnswering(db, to, now, answer.kind);
  // the sender that was written to, else the one that wrote last
  const sender = before.sender ?? answer.sender;
  if (sender === undefined || !mayBe(to.number, before)) return 'no';
  if (answer.kind === 'automatic' && answer.person === null && !(await strangersMay(db, to.number, answer.words, now)))
    return 'too dear';
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
  return 'answered';
}

/** Whether one more answer to a number that is nobody's fits into what those of a day may cost. */
async function strangersMay(db: Queryable, number: string, words: string, now: number): Promise<boolean> {
  await db.query(BALANCE_LOCK);
  const { rows } = await db.query<{ limit: number; used: number }>(
    `SELECT strangers_a_day_micro AS limit,
       (SELECT coalesce(sum(cost_micro), 0)::bigint FROM outbound WHERE kind = 'automatic' AND person_id IS NULL AND due_at > $1::timestamptz) AS used FROM workspace`,
    [new Date(now - DAY).toISOString()],
  );
  const price = await priceOf(db, number);
  return price === undefined || rows[0].used + measure(words).parts * price <= rows[0].limit;
}
