import type { Static } from 'typebox';
import type { AccountRow, BalanceRow, CarrierBody, RateBody, SenderBody, SetupAnswer } from '../../core/api/setup';
import type { Role } from '../../core/api/roles';
import type { Queryable } from '../db/db';

const PAGE = 50;

export async function senders(db: Queryable): Promise<SetupAnswer['senders']> {
  return (
    await db.query<SetupAnswer['senders'][number]>(
      `SELECT id, name, kind, address, parts_per_second, reply_days,
         EXISTS (SELECT 1 FROM run WHERE run.sender_id = sender.id) OR EXISTS (SELECT 1 FROM outbound WHERE outbound.sender_id = sender.id)
           OR EXISTS (SELECT 1 FROM keyword WHERE keyword.sender_id = sender.id) AS used
       FROM sender ORDER BY id`,
    )
  ).rows;
}

export async function insertSender(db: Queryable, s: SenderBody, at: string): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO sender (name, kind, address, parts_per_second, reply_days, created_at) VALUES ($1, $2, $3, $4, $6::smallint, $5::timestamptz) RETURNING id`,
    [s.name, s.kind, s.address, s.parts_per_second, at, s.reply_days ?? null],
  );
  return rows[0].id;
}

export async function changeSender(
  db: Queryable,
  id: number,
  s: Pick<SenderBody, 'name' | 'parts_per_second' | 'reply_days'>,
): Promise<boolean> {
  const changed = await db.query(
    `UPDATE sender SET name = $2, parts_per_second = $3, reply_days = CASE WHEN $5::boolean THEN $4::smallint ELSE reply_days END WHERE id = $1`,
    [id, s.name, s.parts_per_second, s.reply_days ?? null, s.reply_days !== undefined],
  );
  return changed.rowCount > 0;
}

/** Removes a sender from which nothing was ever sent, and that no poster names. */
export async function deleteSender(db: Queryable, id: number): Promise<boolean> {
  const gone = await db.query(
    `DELETE FROM sender WHERE id = $1 AND NOT EXISTS (SELECT 1 FROM run WHERE sender_id = $1) AND NOT EXISTS (SELECT 1 FROM outbound WHERE sender_id = $1)
       AND NOT EXISTS (SELECT 1 FROM keyword WHERE sender_id = $1)`,
    [id],
  );
  return gone.rowCount > 0;
}

export async function rates(db: Queryable): Promise<RateBody[]> {
  return (await db.query<RateBody>(`SELECT prefix, destination, price_micro FROM rate ORDER BY prefix`)).rows;
}

/** Puts prices on the rate card; where one prefix is named twice, the later stands. */
export async function setRates(db: Queryable, all: readonly RateBody[]): Promise<void> {
  const latest = [...new Map(all.map((rate) => [rate.prefix, rate])).values()];
  await db.query(
    `INSERT INTO rate (prefix, destination, price_micro) SELECT * FROM unnest($1::text[], $2::text[], $3::bigint[])
     ON CONFLICT (prefix) DO UPDATE SET destination = excluded.destination, price_micro = excluded.price_micro`,
    [latest.map((r) => r.prefix), latest.map((r) => r.destination), latest.map((r) => r.price_micro)],
  );
}

export async function deleteRate(db: Queryable, prefix: string): Promise<boolean> {
  return (await db.query(`DELETE FROM rate WHERE prefix = $1`, [prefix])).rowCount > 0;
}

export async function addToBalance(db: Queryable, amount: number, at: string): Promise<void> {
  await db.query(
    `INSERT INTO balance_entry (at, kind, amount_micro, note) VALUES ($1::timestamptz, 'top_up', $2, 'added by hand')`,
    [at, amount],
  );
}

export async function balanceEntries(
  db: Queryable,
  skip: number,
): Promise<{ entries: Static<typeof BalanceRow>[]; total: number }> {
  const { rows } = await db.query<Static<typeof BalanceRow>>(
    `SELECT balance_entry.id, at, kind, amount_micro, coalesce(run.name, balance_entry.note) AS what, run_id
     FROM balance_entry LEFT JOIN run ON run.id = run_id ORDER BY at DESC, balance_entry.id DESC LIMIT ${PAGE} OFFSET $1::int`,
    [skip],
  );
  return { entries: rows, total: (await db.query<{ n: number }>(`SELECT count(*) AS n FROM balance_entry`)).rows[0].n };
}

export async function accounts(db: Queryable, at: string): Promise<AccountRow[]> {
  return (
    await db.query<AccountRow>(
      `SELECT id, name, email, role, (SELECT count(*) FROM session WHERE account_id = account.id AND expires_at > $1::timestamptz) AS sessions
       FROM account WHERE removed_at IS NULL ORDER BY id`,
      [at],
    )
  ).rows;
}

/** Custom fields, in their order. */
export async function fieldDefs(db: Queryable): Promise<SetupAnswer['fields']> {
  return (
    await db.query<SetupAnswer['fields'][number]>(
      `SELECT slug, label, type, about, choices FROM field_def ORDER BY about DESC, position, label`,
    )
  ).rows;
}

/** A one-time link, kept as its hash; for a new account of a role, or for one that is here to choose a new password. */
export async function insertInvitation(
  db: Queryable,
  made: { hash: string; role: Role; account?: number; until: string },
): Promise<void> {
  await db.query(`INSERT INTO invitation (token_hash, role, account_id, expires_at) VALUES ($1, $2, $3, $4::timestamptz)`, [
    made.hash,
    made.role,
    made.account ?? null,
    made.until,
  ]);
}

/** How the carrier writes, and what may be spent in a day without a press. */
export async function carrierWays(db: Queryable): Promise<CarrierBody> {
  return (
    await db.query<CarrierBody>(
      `SELECT carrier_alphabet AS alphabet, carrier_receipt_ids AS receipt_ids, carrier_at_once AS at_once, strangers_a_day_micro, tests_a_day, tests_a_day_micro FROM workspace`,
    )
  ).rows[0];
}

export async function saveCarrierWays(db: Queryable, b: CarrierBody): Promise<void> {
  await db.query(
    `UPDATE workspace SET carrier_alphabet = $1, carrier_receipt_ids = $2, strangers_a_day_micro = $3, tests_a_day = $4, tests_a_day_micro = $5, carrier_at_once = $6`,
    [b.alphabet, b.receipt_ids, b.strangers_a_day_micro, b.tests_a_day, b.tests_a_day_micro, b.at_once],
  );
}
