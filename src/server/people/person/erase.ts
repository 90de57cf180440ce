import { nanoid } from 'nanoid';
import { iso } from '../../../core/clock';
import { LAST_WORD_WITHIN } from '../../../core/runs/life';
import type { Tx } from '../../db/db';
import { seal } from '../../db/sealed';
import { want } from '../../desk/job-queries';
import { notSent, optOut } from '../../engine/for-others';

export interface Erased {
  /** Runs that a planned text was taken out of. */
  runs: number[];
}

/**
 * Erases a person: their texts lose their words, and their number becomes a name that leads to nobody, wherever the ledger needs
 * one. Of a number that opted out, or that may have (a reply that nobody has decided about counts as a stop), the register keeps a keyed
 * hash. What may still be handed over keeps the id that is nobody's now, by which the gate knows that they were erased; that, and what
 * files have left, is erased by a job. Undefined when there is no such person.
 */
export async function erasePerson(tx: Tx, id: number, at: string): Promise<Erased | undefined> {
  // the register's lock goes before the person's (docs/engine.md, *Locks*)
  const held = await tx.query<{ number: string }>(
    `SELECT number FROM person WHERE id = $1 AND EXISTS (SELECT 1 FROM number_held h WHERE h.number = person.number)`,
    [id],
  );
  for (const { number } of held.rows)
    await optOut(tx, { number, how: 'erased while a reply of theirs was undecided', words: '' }, at);
  const { rows } = await tx.query<{ number: string | null; alone: boolean }>(
    `SELECT number, NOT EXISTS (SELECT 1 FROM person other WHERE other.number = person.number AND other.id <> person.id) AS alone
     FROM person WHERE id = $1 FOR UPDATE`,
    [id],
  );
  if (rows.length === 0) return undefined;
  const [{ number, alone }] = rows;
  const nobody = `erased-${nanoid(10)}`;
  const runs = await notSent(tx, { people: [id] }, 'erased', at);
  runs.push(...(await notSent(tx, { copiesOf: id }, 'erased', at)));
  // a number that somebody else has, too, is theirs to keep
  const theirs = alone ? number : null;
  if (theirs !== null) {
    await tx.query(`UPDATE inbound SET done_at = coalesce(done_at, $2::timestamptz) WHERE number = $1`, [theirs, at]);
    await tx.query(`UPDATE inbound_part SET joined_at = coalesce(joined_at, $2::timestamptz) WHERE number = $1`, [theirs, at]);
    await seal(tx, theirs);
  }
  await tx.query(`INSERT INTO erasing (person_id, number, nobody, at) VALUES ($1, $2, $3, $4::timestamptz)`, [
    id,
    theirs,
    nobody,
    at,
  ]);
  await eraseTraces(tx, { person_id: id, number: theirs, nobody, at }, Date.parse(at));
  for (const table of ['consent_event', 'import_change', 'import_touch', 'bulk_change_person'])
    await tx.query(`DELETE FROM ${table} WHERE person_id = $1`, [id]);
  await tx.query(`DELETE FROM person WHERE id = $1`, [id]);
  await want(tx, [{ kind: 'erase', key: String(id), due: Date.parse(at) }]);
  return { runs };
}

/** Whom it is about, and what stands for their number from now on. */
export interface Erasing {
  person_id: number;
  /** Null where it is somebody else's as well, or they had none. */
  number: string | null;
  nobody: string;
  /** When they were erased, ISO 8601: what comes from the number after that is of somebody else. */
  at: string;
}

/**
 * Whatever stands of them by now: called once more by the job, since a reply that was being acted on meanwhile leaves traces of its own.
 * Returns how many texts are left that have not come to their end. @param now ms
 */
export async function eraseTraces(tx: Tx, erasing: Erasing, now: number): Promise<number> {
  await eraseReplies(tx, erasing);
  if (erasing.number !== null) await eraseNumber(tx, erasing.number, erasing);
  return eraseEnded(tx, erasing, now);
}

/**
 * Texts to them, and copies of those, that have come to their end: no words, and no number but that of nobody. Called again when those
 * that were on their way have. Returns how many are left.
 */
async function eraseEnded(tx: Tx, { person_id, number, nobody, at }: Erasing, now: number): Promise<number> {
  const OF_THEM = `(o.person_id = $1 OR (o.person_id IS NULL AND o.number = $2 AND o.due_at <= $3::timestamptz))`;
  // nothing is heard of a lost answer after that
  const ENDED = `o.open = 0 AND (o.state <> 'uncertain' OR o.handed_at < $4::timestamptz)`;
  const { rows } = await tx.query<{ id: number }>(
    `UPDATE outbound o SET body = '', number = $5, person_id = NULL, named = NULL WHERE ${OF_THEM} AND ${ENDED} RETURNING id`,
    [person_id, number, at, iso(now - LAST_WORD_WITHIN), nobody],
  );
  const ids = rows.map((row) => row.id);
  await tx.query(`UPDATE outbound o SET body = '', named = NULL WHERE ${OF_THEM} AND o.open = 0`, [person_id, number, at]);
  await tx.query(`UPDATE outbound_part SET number = $2 WHERE outbound_id = ANY ($1::bigint[])`, [ids, nobody]);
  await tx.query(`UPDATE code SET number = $2, person_id = NULL WHERE outbound_id = ANY ($1::bigint[])`, [ids, nobody]);
  await tx.query(`UPDATE link SET number = $2 WHERE outbound_id = ANY ($1::bigint[])`, [ids, nobody]);
  // a copy that is on its way goes; none keeps their words, nor does what passed them on or told of them
  await tx.query(`UPDATE outbound SET body = '', copy_of = NULL WHERE copy_of = $1 AND open = 0`, [person_id]);
  const { rows: left } = await tx.query<{ n: number }>(
    `SELECT (SELECT count(*) FROM outbound o WHERE ${OF_THEM}) + (SELECT count(*) FROM outbound WHERE copy_of = $1) AS n`,
    [person_id, number, at],
  );
  return left[0].n;
}

/** What they wrote, and what was said of it. */
async function eraseReplies(tx: Tx, { person_id, number, nobody, at }: Erasing): Promise<void> {
  const THEIRS = `(person_id = $1 OR (number = $2 AND received_at <= $3::timestamptz))`;
  const RUNS = `SELECT run_id FROM inbound WHERE ${THEIRS}`;
  const whom = [person_id, number, at];
  await tx.query(`DELETE FROM run_kept WHERE what = 'back' AND run_id IN (${RUNS})`, whom);
  await tx.query(
    `UPDATE outbound SET body = '' WHERE open = 0 AND id IN (SELECT outbound_id FROM alarm WHERE kind = 'wrong' AND run_id IN (${RUNS}))`,
    whom,
  );
  await tx.query(
    `UPDATE alarm SET words = 'An answer says that it is wrong.' WHERE kind = 'wrong' AND run_id IN (${RUNS})`,
    whom,
  );
  await tx.query(
    `UPDATE inbound SET person_id = NULL, body = '', folded = '', octets = NULL, carrier_id = NULL, trouble = NULL,
       number = CASE WHEN $2::text IS NOT NULL OR done_at IS NOT NULL OR kind NOT IN ('maybe_stop', 'unread', 'stop') THEN $4 ELSE number END
     WHERE ${THEIRS}`,
    [...whom, nobody],
  );
  await tx.query(
    `UPDATE sign_up SET number = $4, person_id = NULL WHERE person_id = $1 OR (number = $2 AND at <= $3::timestamptz)`,
    [...whom, nobody],
  );
}

/** What stands of their number by itself, and of what was passed on: by the replies it came of, whose number is nobody's by now. */
async function eraseNumber(tx: Tx, number: string, { person_id, nobody, at }: Erasing): Promise<void> {
  const PASSED = `SELECT p.id FROM passed p JOIN inbound i ON i.id = p.inbound_id WHERE i.number = $1`;
  // texts in which their words are passed on hold them: they are erased when they have come to their end
  await tx.query(
    `UPDATE outbound SET copy_of = $2 WHERE body <> '' AND id IN (SELECT outbound_id FROM passed WHERE id IN (${PASSED})
       UNION ALL SELECT outbound_id FROM passed_answer WHERE passed_id IN (${PASSED}))`,
    [nobody, person_id],
  );
  await tx.query(`UPDATE passed_answer SET words = '', number = $1 WHERE passed_id IN (${PASSED})`, [nobody]);
  await tx.query(
    `UPDATE passed SET number = $1, state = CASE WHEN state = 'waiting' THEN 'failed' ELSE state END WHERE id IN (${PASSED})`,
    [nobody],
  );
  // a conversation with them that was given to somebody is over
  await tx.query(`UPDATE pass_on SET number = $2, ended_at = coalesce(ended_at, $3::timestamptz) WHERE number = $1`, [
    number,
    nobody,
    at,
  ]);
  await tx.query(
    `UPDATE inbound_part SET number = $2, body = '', octets = NULL WHERE number = $1 AND received_at <= $3::timestamptz`,
    [number, nobody, at],
  );
  await tx.query(
    `DELETE FROM conversation c WHERE number = $1 AND NOT EXISTS (SELECT 1 FROM inbound i WHERE i.number = c.number)`,
    [number],
  );
  // carriers write numbers with and without the plus
  await tx.query(`DELETE FROM receipt_parked WHERE number IN ($1, substr($1, 2)) AND at <= $2::timestamptz`, [number, at]);
  await tx.query(`UPDATE code SET number = $2, person_id = NULL WHERE number = $1 AND taken_at <= $3::timestamptz`, [
    number,
    nobody,
    at,
  ]);
  await tx.query(
    `DELETE FROM import_refusal r USING import WHERE import.id = r.import_id AND r.number = $1 AND import.created_at <= $2::timestamptz`,
    [number, at],
  );
}
