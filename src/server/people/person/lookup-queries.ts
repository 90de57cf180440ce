import { Binder, fieldTypes, peopleById, updatePeople } from '../../address-book/for-others';
import type { Queryable, Tx } from '../../db/db';
import { whereOf, type PeopleFilter } from '../people-queries';

// where the numbering plan does not tell, and nobody has told since
const UNKNOWN = `person.number_kind = 'either' AND person.kind_source IS NULL`;

type Today = Parameters<typeof whereOf>[2];

/** How many numbers of a filter may be mobile or fixed. */
export async function countUnknown(db: Queryable, filter: PeopleFilter, today: Today): Promise<number> {
  const binder = new Binder();
  const where = whereOf(filter, binder, today);
  return (
    await db.query<{ n: number }>(`SELECT count(DISTINCT number) AS n FROM person WHERE ${UNKNOWN} AND ${where}`, binder.params)
  ).rows[0].n;
}

/** The next numbers of a filter to be looked up. */
export async function nextUnknown(db: Queryable, filter: PeopleFilter, today: Today, most: number): Promise<string[]> {
  const binder = new Binder();
  const where = whereOf(filter, binder, today);
  const { rows } = await db.query<{ number: string }>(
    `SELECT DISTINCT number FROM person WHERE ${UNKNOWN} AND ${where} ORDER BY number LIMIT ${binder.bind(most, 'int')}`,
    binder.params,
  );
  return rows.map((row) => row.number);
}

/** Writes down what lines these numbers are, for everyone who has one of them, and what was paid for it. */
export async function keepKinds(
  tx: Tx,
  kinds: ReadonlyMap<string, 'mobile' | 'fixed'>,
  costMicro: number,
  at: string,
): Promise<void> {
  const { rows } = await tx.query<{ id: number }>(`SELECT id FROM person WHERE ${UNKNOWN} AND number = ANY ($1::text[])`, [
    [...kinds.keys()],
  ]);
  const people = await peopleById(
    tx,
    rows.map((row) => row.id),
  );
  await updatePeople(
    tx,
    people.map((p) => ({ ...p, number_kind: kinds.get(p.number ?? '') ?? p.number_kind, kind_source: 'line lookup' })),
    await fieldTypes(tx),
    at,
  );
  await tx.query(`INSERT INTO balance_entry (at, kind, amount_micro, note) VALUES ($1::timestamptz, 'spend', $2, $3)`, [
    at,
    -costMicro,
    `line lookup of ${kinds.size} numbers`,
  ]);
}
