import { isNumber } from '../../core/phone/number';
import { measure, MOST_PARTS } from '../../core/text/measure';
import type { Queryable } from '../db/db';
import { EngineError } from './engine-error';
import { isRegistered } from './register';
import { BALANCE_LOCK, balanceMicro, priceOf } from './money';

/**
 * Single texts: a test, a reply, a confirmation, what answers by itself, is passed on, or tells whoever is on duty. They go ahead
 * of everything else, and pass the gate like any other.
 */
export interface SingleText {
  kind: 'test' | 'reply' | 'confirmation' | 'automatic' | 'passed' | 'alarm';
  personId: number | null;
  number: string;
  senderId: number;
  body: string;
  /** Who of the desk wrote it. */
  accountId?: number;
  /** Milliseconds after which it is of no use. */
  usefulFor: number;
  /** Whoever gets it has asked for it at any hour. */
  asked?: boolean;
  /** Phones show it at once, and need not keep it. */
  showAtOnce?: boolean;
  /** Whose words it holds: when they are erased, so is it. */
  copyOf?: number | null;
}

/** The lane that goes ahead of everything else (line/queue). */
const URGENT = 0;

/**
 * Puts one text in the urgent lane and holds its money. A confirmation is sent even when the balance is empty: the law
 * expects it, and the debt is visible.
 * @throws EngineError
 */
export async function queueText(db: Queryable, text: SingleText, now: number): Promise<number> {
  if (!isNumber(text.number))
    throw new EngineError('no-number', `“${text.number.slice(0, 40)}” is not a number that can be texted. Nothing was sent.`, {
      kept: 'The words are kept.',
    });
  const { alphabet, parts } = measure(text.body);
  if (text.body.trim() === '') throw new EngineError('empty-text', 'The text is empty.', { place: 'body' });
  if (parts > MOST_PARTS)
    throw new EngineError('too-long', `The text has ${parts} parts; at most ${MOST_PARTS} can be sent.`, {
      place: 'body',
      kept: 'The words are kept.',
    });
  if (text.kind !== 'confirmation' && (await isRegistered(db, text.number)))
    throw new EngineError('opted-out', `${text.number} has opted out of our texts. Nothing was sent.`, {
      kept: 'The words are kept.',
    });
  const price = await priceOf(db, text.number);
  if (price === undefined)
    throw new EngineError('no-price', `There is no price for ${text.number} on the rate card.`, {
      act: 'Add its country to the rate card in Setup.',
    });
  const cost = parts * price;
  if (text.kind !== 'confirmation') {
    await db.query(BALANCE_LOCK);
    if ((await balanceMicro(db)) < cost)
      throw new EngineError('no-balance', 'The balance does not cover this text.', {
        kept: 'The words are kept.',
        act: 'Add to the balance in Setup.',
      });
  }
  const at = new Date(now).toISOString();
  // the text, its row of the queue and its money in one statement: each names the other
  const { rows } = await db.query<{ id: number }>(
    `WITH made AS (SELECT nextval('outbound_id_seq') AS id, nextval('line_queue_id_seq') AS queue),
       text AS (INSERT INTO outbound (id, queue, kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, account_id, asked, copy_of, show_at_once)
         SELECT id, queue, $1, $2::bigint, $3, $4::bigint, $5, $6, $7::smallint, $8::bigint, $9::timestamptz, $10::timestamptz, $7::smallint, $11::bigint, $12::boolean, $13::bigint, $14::boolean FROM made),
       queued AS (INSERT INTO line_queue (id, run_id, sender_id, lane, due_at, parts, ids)
         SELECT queue, NULL, $4::bigint, ${URGENT}, $9::timestamptz, $7::integer, ARRAY[id] FROM made),
       held AS (INSERT INTO balance_entry (at, kind, amount_micro, outbound_id, note) SELECT $9::timestamptz, 'hold', -$8::bigint, id, $1 FROM made)
     SELECT id FROM made`,
    [
      text.kind,
      text.personId,
      text.number,
      text.senderId,
      text.body,
      alphabet,
      parts,
      cost,
      at,
      new Date(now + text.usefulFor).toISOString(),
      text.accountId ?? null,
      text.asked ?? false,
      text.copyOf ?? null,
      text.showAtOnce ?? false,
    ],
  );
  return rows[0].id;
}
