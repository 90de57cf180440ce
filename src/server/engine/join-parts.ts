import { iso } from '../../core/clock';
import type { Tx } from '../db/db';
import type { TextIn } from './gateway';

/** A reply whose missing parts have not come by then is shown as it is, ms. */
export const INCOMPLETE_AFTER = 10 * 60_000;

export interface WholeText {
  number: string;
  to: string;
  text: string;
  incomplete: boolean;
}

/**
 * Takes one part of a reply and gives the whole text when it was the last that was missing. Parts may come out of order or
 * twice; they are kept in the database meanwhile (TS 23.040 §9.2.3.24.1 and .8: 8- and 16-bit references).
 */
export async function joinPart(
  tx: Tx,
  part: TextIn & { join: NonNullable<TextIn['join']> },
  now: number,
): Promise<WholeText | undefined> {
  const { reference, total, index } = part.join;
  await tx.query(
    `INSERT INTO inbound_part (number, to_address, reference, total, part_no, body, received_at) VALUES ($1, $2, $3, $4, $5, $6, $7::timestamptz) ON CONFLICT DO NOTHING`,
    [part.number, part.to, reference, total, index, part.text, iso(now)],
  );
  const key = [part.number, part.to, reference, total];
  const { rows } = await tx.query<{ part_no: number; body: string }>(
    `SELECT part_no, body FROM inbound_part WHERE number = $1 AND to_address = $2 AND reference = $3 AND total = $4 ORDER BY part_no`,
    key,
  );
  if (rows.length < total) return undefined;
  await tx.query(`DELETE FROM inbound_part WHERE number = $1 AND to_address = $2 AND reference = $3 AND total = $4`, key);
  return { number: part.number, to: part.to, text: rows.map((row) => row.body).join(''), incomplete: false };
}

/** Texts whose missing parts have not come for long: what there is, with a mark where something is missing. */
export async function takeIncomplete(tx: Tx, now: number): Promise<WholeText[]> {
  const { rows } = await tx.query<{
    number: string;
    to_address: string;
    reference: number;
    total: number;
    part_no: number;
    body: string;
  }>(
    `DELETE FROM inbound_part WHERE (number, to_address, reference, total) IN (
       SELECT number, to_address, reference, total FROM inbound_part GROUP BY number, to_address, reference, total HAVING max(received_at) < $1::timestamptz)
     RETURNING number, to_address, reference, total, part_no, body`,
    [iso(now - INCOMPLETE_AFTER)],
  );
  const texts = new Map<string, { number: string; to: string; parts: (string | undefined)[] }>();
  for (const row of rows) {
    const key = `${row.number} ${row.to_address} ${row.reference} ${row.total}`;
    const text = texts.get(key) ?? {
      number: row.number,
      to: row.to_address,
      parts: Array<string | undefined>(row.total).fill(undefined),
    };
    text.parts[row.part_no - 1] = row.body;
    texts.set(key, text);
  }
  return [...texts.values()].map(({ number, to, parts }) => ({
    number,
    to,
    text: parts.map((part) => part ?? ' … ').join(''),
    incomplete: true,
  }));
}
