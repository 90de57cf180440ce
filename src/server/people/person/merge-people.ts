import type { Tx } from '../../db/db';
import { notSent } from '../../engine/for-others';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { fieldTypes, peopleById, updatePeople } from '../../address-book/for-others';

/**
 * Makes one person of two. The one kept has its blanks filled from the other; lists, tags, dependants and texts come
 * together. What either said against being texted at the number that stays, holds: merging can only make that stricter.
 * Answers the runs that lost a planned text.
 */
export async function mergePeople(
  tx: Tx,
  keepId: number,
  otherId: number,
  at: string,
  accountId: number | null,
): Promise<number[]> {
  if (keepId === otherId) throw new Refusal('wrong', 'same', 'These are the same person already.');
  const both = await peopleById(tx, [keepId, otherId]);
  const keep = both.find((person) => person.id === keepId);
  const other = both.find((person) => person.id === otherId);
  if (!keep || !other) throw nothingHere();
  const takesNumber = keep.number === null && other.number !== null;
  const merged = {
    ...keep,
    given_name: keep.given_name || other.given_name,
    family_name: keep.family_name || other.family_name,
    reference: keep.reference ?? other.reference,
    language: keep.language ?? other.language,
    born: keep.born ?? other.born,
    quiet: keep.quiet ?? other.quiet,
    fields: { ...other.fields, ...Object.fromEntries(Object.entries(keep.fields).filter(([, value]) => value !== '')) },
    ...(takesNumber
      ? {
          number: other.number,
          number_country: other.number_country,
          number_kind: other.number_kind,
          kind_source: other.kind_source,
        }
      : {}),
    ...(keep.zone === null || (keep.zone_guessed && !other.zone_guessed && other.zone !== null)
      ? { zone: other.zone, zone_guessed: other.zone_guessed }
      : {}),
  };
  // a second number is not thrown away
  if (!takesNumber && other.number !== null && other.number !== keep.number)
    merged.fields.second_phone = [...new Set([merged.fields.second_phone, other.number].filter(Boolean))].join(', ');
  const removed = takesNumber || other.number === keep.number ? [] : await notSent(tx, { people: [otherId] }, 'merged', at);
  for (const [table, column] of [
    ['list_member', 'list_id'],
    ['person_tag', 'tag_id'],
  ])
    await tx.query(
      `INSERT INTO ${table} (${column}, person_id) SELECT ${column}, $1 FROM ${table} WHERE person_id = $2 ON CONFLICT DO NOTHING`,
      [keepId, otherId],
    );
  await tx.query(
    `INSERT INTO list_member_for (list_id, person_id, dependant_id, import_id, bulk_change_id)
     SELECT list_id, $1, dependant_id, import_id, bulk_change_id FROM list_member_for WHERE person_id = $2 ON CONFLICT DO NOTHING`,
    [keepId, otherId],
  );
  await tx.query(
    `INSERT INTO guardianship (dependant_id, person_id, contact, must_not_receive) SELECT dependant_id, $1, contact, must_not_receive FROM guardianship WHERE person_id = $2
     ON CONFLICT (dependant_id, person_id) DO UPDATE SET must_not_receive = guardianship.must_not_receive OR excluded.must_not_receive`,
    [keepId, otherId],
  );
  await mergeConsent(tx, keepId, otherId, at, accountId);
  for (const table of ['outbound', 'inbound'])
    await tx.query(`UPDATE ${table} SET person_id = $1 WHERE person_id = $2`, [keepId, otherId]);
  await tx.query(`UPDATE outbound SET copy_of = $1 WHERE copy_of = $2`, [keepId, otherId]);
  await tx.query(`DELETE FROM consent_event WHERE person_id = $1`, [otherId]);
  await tx.query(`DELETE FROM person WHERE id = $1`, [otherId]);
  await updatePeople(tx, [merged], await fieldTypes(tx), at);
  return removed;
}

/** The record of both, as one; whoever of the two had withdrawn last keeps the word, at each number and purpose. */
async function mergeConsent(tx: Tx, keepId: number, otherId: number, at: string, accountId: number | null): Promise<void> {
  const last = (
    await tx.query<{ number: string; purpose: string; act: string }>(
      `SELECT DISTINCT ON (person_id, number, purpose) number, purpose, act FROM consent_event WHERE person_id = ANY ($1::bigint[]) ORDER BY person_id, number, purpose, id DESC`,
      [[keepId, otherId]],
    )
  ).rows;
  await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, account_id, at, import_id)
     SELECT $1, number, purpose, act, how, evidence, wording, account_id, at, import_id FROM consent_event WHERE person_id = $2 ORDER BY id`,
    [keepId, otherId],
  );
  const withdrawn = [...new Set(last.filter((each) => each.act === 'withdrawn').map((each) => `${each.number} ${each.purpose}`))];
  for (const each of withdrawn) {
    const [number, purpose] = each.split(' ');
    await tx.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, account_id, at) VALUES ($1, $2, $3, 'withdrawn', 'two records made one: one of them had withdrawn', $4, $5::timestamptz)`,
      [keepId, number, purpose, accountId, at],
    );
  }
}
