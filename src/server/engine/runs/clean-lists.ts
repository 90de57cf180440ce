import type { Tx } from '../../db/db';

interface Leaving {
  list_id: number;
  name: string;
  leave_after: number;
  people: number[];
}

/**
 * Lists that keep themselves clean: of those whom a run that has just ended did not reach, who was not reached by so many broadcasts
 * in a row at the number they have now leaves. It is written down as a change of many people that came of the run, told with it, and
 * undone like any other. Nobody who was reached in between leaves; what was never handed over says nothing about a number.
 */
export async function cleanLists(tx: Tx, run: number, at: string): Promise<void> {
  const { rows } = await tx.query<Leaving>(
    `SELECT list.id AS list_id, list.name, list.leave_after, to_jsonb(array_agg(person.id ORDER BY person.id)) AS people
     FROM list JOIN list_member m ON m.list_id = list.id JOIN person ON person.id = m.person_id
     JOIN outbound o ON o.run_id = $1 AND o.kind = 'run' AND o.person_id = person.id AND o.number = person.number AND o.state IN ('not_delivered', 'expired')
     WHERE list.leave_after IS NOT NULL AND (
       SELECT count(*) = list.leave_after AND bool_and(state <> 'delivered') FROM (
         SELECT state FROM outbound before WHERE before.number = person.number AND before.kind = 'run' AND before.state IN ('delivered', 'not_delivered', 'expired')
         ORDER BY before.id DESC LIMIT list.leave_after) AS lately)
     GROUP BY list.id ORDER BY list.id`,
    [run],
  );
  for (const { list_id, name, leave_after, people } of rows) {
    const change = (
      await tx.query<{ id: number }>(
        `INSERT INTO bulk_change (what, act, people, at, run_id) VALUES ($1, $2::jsonb, $3, $4::timestamptz, $5) RETURNING id`,
        [
          `left “${name}” after ${leave_after} not delivered`,
          JSON.stringify({ kind: 'take_off', id: list_id, target: list_id }),
          people.length,
          at,
          run,
        ],
      )
    ).rows[0].id;
    await tx.query(`DELETE FROM list_member WHERE list_id = $1 AND person_id = ANY ($2::bigint[])`, [list_id, people]);
    await tx.query(`INSERT INTO bulk_change_person (bulk_change_id, person_id) SELECT $1, unnest($2::bigint[])`, [
      change,
      people,
    ]);
    await tx.query(`INSERT INTO run_event (run_id, at, what) VALUES ($1, $2::timestamptz, $3)`, [
      run,
      at,
      `${people.length === 1 ? '1 person' : `${people.length} people`} left the list “${name}”: not reached by ${leave_after} in a row`,
    ]);
  }
}
