import type { HeldAnswer, PassOn, PassOnAnswer, PassOnBody } from '../../core/api/desk/passing';
import type { Queryable, Tx } from '../db/db';
import { want } from '../desk/job-queries';

/** To whom replies are passed on now; a conversation, as long as what is written in it goes to them. */
export async function allPassOn(db: Queryable, givenSince: string): Promise<PassOn[]> {
  return (
    await db.query<PassOn>(
      `SELECT p.id, what, keyword_id, p.broadcast_id, p.name, way, p.address, any_hour, trouble,
         CASE what WHEN 'conversation' THEN coalesce((SELECT nullif(trim(given_name || ' ' || family_name), '') FROM person WHERE person.number = p.number ORDER BY id LIMIT 1), p.number)
           ELSE coalesce(keyword.word, broadcast.name) END AS of, p.number,
         (SELECT count(*) FROM passed WHERE pass_on_id = p.id AND state IN ('sent', 'answered')) AS passed,
         (SELECT count(*) FROM passed WHERE pass_on_id = p.id AND state = 'answered') AS answered,
         (SELECT max(at) FROM passed WHERE pass_on_id = p.id) AS last_at
       FROM pass_on p LEFT JOIN keyword ON keyword.id = keyword_id LEFT JOIN broadcast ON broadcast.id = p.broadcast_id
       WHERE p.ended_at IS NULL AND (what <> 'conversation'
         OR greatest(p.created_at, (SELECT max(at) FROM passed WHERE pass_on_id = p.id)) > $1::timestamptz) ORDER BY p.id`,
      [givenSince],
    )
  ).rows;
}

/** Whom something was passed on to before, the latest first: each address once, by the name it last had. */
export async function knownForPassing(db: Queryable): Promise<PassOnAnswer['known']> {
  return (
    await db.query<PassOnAnswer['known'][number]>(
      `SELECT name, way, address, any_hour FROM (SELECT DISTINCT ON (address) * FROM pass_on ORDER BY address, id DESC) latest ORDER BY id DESC LIMIT 12`,
    )
  ).rows;
}

export async function insertPassOn(db: Queryable, b: PassOnBody, at: string, account: number): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO pass_on (what, keyword_id, broadcast_id, name, way, address, any_hour, created_at, account_id)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8::timestamptz, $9) RETURNING id`,
    [b.what, b.keyword_id, b.broadcast_id, b.name, b.way, b.address, b.any_hour, at, account],
  );
  return rows[0].id;
}

/** Whether an address is a number that this workspace texts from. */
export async function isOwnSender(db: Queryable, address: string): Promise<boolean> {
  const { rows } = await db.query(`SELECT 1 FROM sender WHERE kind <> 'name' AND ltrim(address, '+') = ltrim($1, '+') LIMIT 1`, [
    address,
  ]);
  return rows.length > 0;
}

/** Whether the same is passed on to the same already, and whether what it is of is there. */
export async function lookAtPassOn(db: Queryable, b: PassOnBody): Promise<{ twice: boolean; there: boolean }> {
  const { rows } = await db.query<{ twice: boolean; there: boolean }>(
    `SELECT EXISTS (SELECT 1 FROM pass_on WHERE ended_at IS NULL AND address = $1 AND what = $2 AND keyword_id IS NOT DISTINCT FROM $3 AND broadcast_id IS NOT DISTINCT FROM $4) AS twice,
       CASE $2::text WHEN 'keyword' THEN EXISTS (SELECT 1 FROM keyword WHERE id = $3 AND ended_at IS NULL) WHEN 'broadcast' THEN EXISTS (SELECT 1 FROM broadcast WHERE id = $4) ELSE true END AS there`,
    [b.address, b.what, b.keyword_id, b.broadcast_id],
  );
  return rows[0];
}

export async function endPassOn(db: Queryable, id: number, at: string): Promise<string | undefined> {
  const { rows } = await db.query<{ name: string }>(
    `UPDATE pass_on SET ended_at = $2::timestamptz WHERE id = $1 AND ended_at IS NULL RETURNING name`,
    [id, at],
  );
  await db.query(`UPDATE passed SET state = 'failed', reason = 'ended' WHERE pass_on_id = $1 AND state = 'waiting'`, [id]);
  return rows[0]?.name;
}

/** What failed since a moment waits again, each with its job; answers how many. */
export async function passAgain(tx: Tx, id: number, since: string, at: string): Promise<number> {
  const { rows } = await tx.query<{ id: number }>(
    `UPDATE passed SET state = 'waiting', attempts = 0, next_at = $3::timestamptz WHERE pass_on_id = $1 AND state = 'failed' AND at > $2::timestamptz RETURNING id`,
    [id, since, at],
  );
  await tx.query(`UPDATE pass_on SET trouble = NULL WHERE id = $1`, [id]);
  await want(
    tx,
    rows.map((again) => ({ kind: 'pass on', key: String(again.id), due: Date.parse(at) })),
  );
  return rows.length;
}

/** Answers to a number that did not go on, and nobody has looked at. */
export async function heldAnswers(db: Queryable, number: string): Promise<HeldAnswer[]> {
  return (
    await db.query<HeldAnswer>(
      `SELECT a.id, a.at, pass_on.name AS by, a.words, coalesce(a.reason, '') AS reason FROM passed_answer a JOIN passed ON passed.id = passed_id JOIN pass_on ON pass_on.id = pass_on_id
       WHERE a.number = $1 AND a.state = 'held' ORDER BY a.id LIMIT 20`,
      [number],
    )
  ).rows;
}

export async function settleAnswer(db: Queryable, id: number): Promise<boolean> {
  return (await db.query(`UPDATE passed_answer SET state = 'settled' WHERE id = $1 AND state = 'held'`, [id])).rowCount > 0;
}

/** Broadcasts that somebody may answer to: the latest. */
export async function lateBroadcasts(db: Queryable): Promise<{ id: number; name: string }[]> {
  return (
    await db.query<{ id: number; name: string }>(`SELECT id, name FROM broadcast WHERE name <> '' ORDER BY id DESC LIMIT 200`)
  ).rows;
}
