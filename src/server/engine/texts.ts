import { measure, MOST_PARTS } from '../../core/text/measure';
import type { Queryable } from '../db/db';
import { Problem } from '../http/problem';

/** Single texts: a test, a reply, a confirmation. They pay at once and go ahead of everything else. */
export interface SingleText {
  kind: 'test' | 'reply' | 'confirmation';
  personId: number | null;
  number: string;
  senderId: number;
  body: string;
  /** Milliseconds after which it is of no use. */
  usefulFor: number;
}

/** Price of one part to a number in millionths: the longest matching prefix of the rate card. */
export async function priceOf(db: Queryable, number: string): Promise<number> {
  const { rows } = await db.query<{ price_micro: number }>(
    `SELECT price_micro FROM rate WHERE $1 LIKE prefix || '%' ORDER BY length(prefix) DESC LIMIT 1`,
    [number],
  );
  if (rows.length === 0)
    throw new Problem(422, 'no-price', `There is no price for ${number} on the rate card.`, {
      act: 'Add its country to the rate card in Setup.',
    });
  return rows[0].price_micro;
}

/** Sum of all money moves, in millionths. */
export async function balanceMicro(db: Queryable): Promise<number> {
  return (await db.query<{ sum: number }>('SELECT coalesce(sum(amount_micro), 0)::bigint AS sum FROM balance_entry')).rows[0].sum;
}

/**
 * Puts one text in the urgent lane and pays for it. A confirmation is sent even when the balance is empty:
 * the law expects it, and the debt is visible.
 */
export async function queueText(db: Queryable, text: SingleText, now: number): Promise<number> {
  const { alphabet, parts } = measure(text.body);
  if (text.body.trim() === '') throw new Problem(422, 'empty-text', 'The text is empty.', { place: 'body' });
  if (parts > MOST_PARTS)
    throw new Problem(422, 'too-long', `The text has ${parts} parts; at most ${MOST_PARTS} can be sent.`, {
      place: 'body',
      kept: 'The words are kept.',
    });
  const cost = parts * (await priceOf(db, text.number));
  if (text.kind !== 'confirmation' && (await balanceMicro(db)) < cost) {
    throw new Problem(402, 'balance', 'The balance does not cover this text.', {
      kept: 'The words are kept.',
      act: 'Add to the balance in Setup.',
    });
  }
  const at = new Date(now).toISOString();
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO outbound (kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9::timestamptz, $10::timestamptz) RETURNING id`,
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
    ],
  );
  await db.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, outbound_id, note) VALUES ($1::timestamptz, 'spend', $2, $3, $4)`,
    [at, -cost, rows[0].id, text.kind],
  );
  return rows[0].id;
}
