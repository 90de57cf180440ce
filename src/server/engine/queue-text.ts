import { isNumber } from '../../core/phone/number';
import { measure, MOST_PARTS } from '../../core/text/measure';
import type { Queryable } from '../db/db';
import { EngineError } from './engine-error';
import { enqueue } from './line/queue';
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
  /** Whose words it holds: when they are erased, so is it. */
  copyOf?: number | null;
}

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
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO outbound (kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, open, account_id, asked, copy_of)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9::timestamptz, $10::timestamptz, $7, $11, $12, $13) RETURNING id`,
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
    ],
  );
  await enqueue(db, [{ runId: null, senderId: text.senderId, lane: 0, due: now, parts, ids: [rows[0].id] }]);
  await db.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, outbound_id, note) VALUES ($1::timestamptz, 'hold', $2, $3, $4)`,
    [at, -cost, rows[0].id, text.kind],
  );
  return rows[0].id;
}
