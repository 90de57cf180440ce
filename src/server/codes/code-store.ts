import { longestCode, type PlanCodes } from '../../core/plan/words/codes';
import { dummyCode } from '../../core/plan/words/codes';
import { iso } from '../../core/clock';
import type { Queryable, Tx } from '../db/db';

/** For so long codes are reserved at the last look, ms. */
export const RESERVED_FOR = 600_000;
/** What is held for a run that is being stored is held until it is taken or given back. */
const HELD = '9999-01-01T00:00:00Z';

/** Of a draft's holder: one broadcast, whoever looks at it. */
export const holderOf = (broadcast: number): string => `broadcast-${broadcast}`;
export const broadcastOf = (holder: string): number => Number(holder.slice('broadcast-'.length));

/** Free, or reserved for this holder; what another's reservation holds is free again when it has run out. */
const MAY_HAVE = `NOT code.twin AND code.taken_at IS NULL AND code.run_id IS NULL
  AND (code.reserved_for IS NULL OR code.reserved_for = $2 OR code.reserved_until < $3::timestamptz)`;

/** The codes of a list as a plan sees them; undefined when there is no such list. */
export async function codesFor(db: Queryable, list: number, holder: string, now: number): Promise<PlanCodes | undefined> {
  const found = await db.query<{ name: string }>(`SELECT name FROM code_list WHERE id = $1`, [list]);
  if (found.rows.length === 0) return undefined;
  const asked = [list, holder, iso(now)];
  const { rows } = await db.query<{ free: number; longest: string[] | null }>(
    `SELECT count(*) AS free,
       (SELECT array_agg(code) FROM (SELECT code FROM code WHERE list_id = $1 AND ${MAY_HAVE} ORDER BY octet_length(code) DESC LIMIT 20) AS longest_few) AS longest
     FROM code WHERE list_id = $1 AND ${MAY_HAVE}`,
    asked,
  );
  const reserved = await db.query<{ codes: string[] | null }>(
    `SELECT array_agg(code ORDER BY id) AS codes FROM code
     WHERE list_id = $1 AND reserved_for = $2 AND reserved_until >= $3::timestamptz AND taken_at IS NULL AND run_id IS NULL`,
    asked,
  );
  return {
    list,
    name: found.rows[0].name,
    free: rows[0].free,
    dummy: dummyCode(longestCode(rows[0].longest ?? []) ?? 'XXXX'),
    reserved: reserved.rows[0].codes ?? [],
  };
}

/** So many codes are reserved at once: others' requests slip between. */
const CHUNK = 10_000;

/** Reserves so many codes for a holder, those it has already before others; fewer when there are no more. */
export async function reserveCodes(db: Queryable, list: number, holder: string, count: number, now: number): Promise<number> {
  const until = iso(now + RESERVED_FOR);
  let reserved = 0;
  for (const which of [
    `reserved_for = $2 AND reserved_until >= $3::timestamptz`,
    `(reserved_for IS DISTINCT FROM $2 OR reserved_until < $3::timestamptz)`,
  ])
    // on from where the last piece ended: what is reserved already is not looked at again and again
    for (let after = 0; reserved < count;) {
      const { rows } = await db.query<{ n: number; last: number | null }>(
        `WITH free AS (
           SELECT id FROM code WHERE list_id = $1 AND id > $6 AND ${MAY_HAVE} AND ${which} ORDER BY id LIMIT $5::int FOR UPDATE SKIP LOCKED
         ), done AS (
           UPDATE code SET reserved_for = $2, reserved_until = $4::timestamptz FROM free WHERE code.id = free.id RETURNING code.id
         ) SELECT count(*) AS n, max(id) AS last FROM done`,
        [list, holder, iso(now), until, Math.min(CHUNK, count - reserved), after],
      );
      const [{ n, last }] = rows;
      if (last === null) break;
      reserved += n;
      after = last;
    }
  return reserved;
}

/** What was reserved becomes the run's: it cannot run out any more. False when it has run out, or is too little. */
export async function holdCodes(
  tx: Tx,
  held: { list: number; holder: string; run: number; count: number; now: number },
): Promise<boolean> {
  const { rowCount } = await tx.query(
    `UPDATE code SET run_id = $4, reserved_until = '${HELD}'
     WHERE list_id = $1 AND reserved_for = $2 AND reserved_until >= $3::timestamptz AND taken_at IS NULL AND run_id IS NULL`,
    [held.list, held.holder, iso(held.now), held.run],
  );
  return rowCount >= held.count;
}

export interface TakenCode {
  code: string;
  outbound: number;
  number: string;
  person: number | null;
}

/** Gives codes of a run to the texts they stand in. @throws Error when one is not the run's any more: nothing of the chunk is stored */
export async function takeCodes(tx: Tx, run: number, taken: readonly TakenCode[], at: string): Promise<void> {
  const { rowCount } = await tx.query(
    `UPDATE code SET outbound_id = t.outbound, number = t.number, person_id = nullif(t.person, 0), taken_at = $6::timestamptz
     FROM unnest($2::text[], $3::bigint[], $4::text[], $5::bigint[]) AS t(code, outbound, number, person)
     WHERE code.run_id = $1 AND code.code = t.code AND code.taken_at IS NULL`,
    [
      run,
      taken.map((each) => each.code),
      taken.map((each) => each.outbound),
      taken.map((each) => each.number),
      taken.map((each) => each.person ?? 0),
      at,
    ],
  );
  if (rowCount !== taken.length) throw new Error(`Of ${taken.length} codes ${rowCount} are this run's.`);
}

/** What a run was not short of is free again, once its texts are stored. */
export async function returnSpareCodes(tx: Tx, run: number): Promise<void> {
  await tx.query(
    `UPDATE code SET run_id = NULL, reserved_for = NULL, reserved_until = NULL WHERE run_id = $1 AND taken_at IS NULL`,
    [run],
  );
}
