import { createHash, randomInt } from 'node:crypto';
import { iso } from '../../core/clock';
import type { Db } from '../db/db';
import { queueText } from '../engine/for-others';

const VALID_MS = 10 * 60_000;
const TRIES = 5;
/** So many codes for an account within the time of one. */
const CODES = 3;

const hash = (account: number, code: string) => createHash('sha256').update(`${account}|${code}`).digest('hex');
/** When codes were asked for, by account, of each database. */
const askedOf = new WeakMap<Db, Map<number, number[]>>();

/**
 * Texts a code to a number that an account says is its own; only the code makes it so, since test texts go there. The latest
 * code is the one that counts.
 */
export async function textCode(
  db: Db,
  account: number,
  number: string,
  now: number,
): Promise<'texted' | 'too many codes' | 'no sender'> {
  const asked = askedOf.get(db) ?? new Map<number, number[]>();
  askedOf.set(db, asked);
  const recent = (asked.get(account) ?? []).filter((at) => at > now - VALID_MS);
  if (recent.length >= CODES) return 'too many codes';
  asked.set(account, [...recent, now]);
  const code = String(randomInt(100_000, 1_000_000));
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<{ id: number; name: string }>(
      `SELECT sender.id, workspace.name FROM sender, workspace ORDER BY (sender.kind = 'name'), sender.id LIMIT 1`,
    );
    if (rows.length === 0) return 'no sender';
    await tx.query(
      `UPDATE account SET own_number_wanted = $2, own_number_code = $3, own_number_until = $4::timestamptz, own_number_tries = 0 WHERE id = $1`,
      [account, number, hash(account, code), iso(now + VALID_MS)],
    );
    const body = `${code} is your code for ${rows[0].name}.`;
    await queueText(
      tx,
      { kind: 'test', personId: null, number, senderId: rows[0].id, body, accountId: account, usefulFor: VALID_MS, asked: true },
      now,
    );
    return 'texted';
  });
}

/** Makes the number the account's own if the code is the one that was texted there; else says what is wrong. */
export async function proveNumber(
  db: Db,
  account: number,
  code: string,
  now: number,
): Promise<{ number: string } | 'too old or tried too often' | 'another code'> {
  // counted before it is compared, so that no number of tries at once helps
  const { rows } = await db.query<{ own_number_wanted: string; own_number_code: string | null }>(
    `UPDATE account SET own_number_tries = own_number_tries + 1
     WHERE id = $1 AND own_number_wanted IS NOT NULL AND own_number_until > $2::timestamptz AND own_number_tries < ${TRIES}
     RETURNING own_number_wanted, own_number_code`,
    [account, iso(now)],
  );
  if (rows.length === 0) return 'too old or tried too often';
  if (rows[0].own_number_code !== hash(account, code)) return 'another code';
  await db.query(
    `UPDATE account SET own_number = own_number_wanted, own_number_wanted = NULL, own_number_code = NULL, own_number_until = NULL
     WHERE id = $1 AND own_number_code = $2`,
    [account, rows[0].own_number_code],
  );
  return { number: rows[0].own_number_wanted };
}
