import type { HeldAnswer, PassOn, PassOnBody } from '../../core/api/desk/passing';
import type { Queryable } from '../db/db';

/** To whom replies are passed on now. */
export async function allPassOn(db: Queryable): Promise<PassOn[]> {
  return (
    await db.query<PassOn>(
      `SELECT p.id, what, keyword_id, p.broadcast_id, p.name, way, p.address, any_hour, coalesce(keyword.word, broadcast.name) AS of, trouble,
         (SELECT count(*) FROM passed WHERE pass_on_id = p.id AND state IN ('sent', 'answered')) AS passed,
         (SELECT count(*) FROM passed WHERE pass_on_id = p.id AND state = 'answered') AS answered,
         (SELECT max(at) FROM passed WHERE pass_on_id = p.id) AS last_at
       FROM pass_on p LEFT JOIN keyword ON keyword.id = keyword_id LEFT JOIN broadcast ON broadcast.id = p.broadcast_id
       WHERE p.ended_at IS NULL ORDER BY p.id`,
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

/** Whether the same is passed on to the same already, and whether what it is of is there. */
export async function lookAtPassOn(db: Queryable, b: PassOnBody): Promise<{ twice: boolean; there: boolean; own: boolean }> {
  const { rows } = await db.query<{ twice: boolean; there: boolean; own: boolean }>(
    `SELECT EXISTS (SELECT 1 FROM pass_on WHERE ended_at IS NULL AND address = $1 AND what = $2 AND keyword_id IS NOT DISTINCT FROM $3 AND broadcast_id IS NOT DISTINCT FROM $4) AS twice,
       CASE $2::text WHEN 'keyword' THEN EXISTS (SELECT 1 FROM keyword WHERE id = $3 AND ended_at IS NULL) WHEN 'broadcast' THEN EXISTS (SELECT 1 FROM broadcast WHERE id = $4) ELSE true END AS there,
       EXISTS (SELECT 1 FROM sender WHERE kind <> 'name' AND ltrim(address, '+') = ltrim($1, '+')) AS own`,
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

/** What failed since a moment waits again; answers how many. */
export async function passAgain(db: Queryable, id: number, since: string, at: string): Promise<number> {
  const again = await db.query(
    `UPDATE passed SET state = 'waiting', attempts = 0, next_at = $3::timestamptz WHERE pass_on_id = $1 AND state = 'failed' AND at > $2::timestamptz`,
    [id, since, at],
  );
  await db.query(`UPDATE pass_on SET trouble = NULL WHERE id = $1`, [id]);
  return again.rowCount;
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
