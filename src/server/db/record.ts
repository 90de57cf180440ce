import type { Queryable } from './db';

/** Writes down who did what. Details hold ids and counts, not words or numbers of people. */
export async function writeRecord(
  db: Queryable,
  asked: { account: { id: number } | undefined; at: string },
  act: string,
  subject: string,
  detail: Record<string, unknown> = {},
): Promise<void> {
  await db.query(`INSERT INTO record (at, account_id, act, subject, detail) VALUES ($1::timestamptz, $2, $3, $4, $5::jsonb)`, [
    asked.at,
    asked.account?.id ?? null,
    act,
    subject,
    JSON.stringify(detail),
  ]);
}
