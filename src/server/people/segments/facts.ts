import type { PersonFacts } from '../../../core/audience/decide';
import type { Queryable } from '../../db/db';
import { REACH_CASE } from '../people-queries';

/** What conditions see of a few people, for deciding and explaining one by one; in the order of their ids. */
export async function factsOf(db: Queryable, ids: readonly number[]): Promise<Map<number, PersonFacts>> {
  const of = [ids];
  const people = await db.query<{ id: number; folded: Record<string, string | number>; reach: string }>(
    `SELECT id, folded, ${REACH_CASE} AS reach FROM person WHERE id = ANY ($1::bigint[]) ORDER BY id`,
    of,
  );
  const facts = new Map(
    people.rows.map((row) => [
      row.id,
      {
        folded: row.folded,
        reach: row.reach,
        lists: [] as number[],
        tags: [] as number[],
        consent: {} as PersonFacts['consent'],
        activity: [] as PersonFacts['activity'][number][],
        dependants: [] as PersonFacts['dependants'][number][],
      },
    ]),
  );
  const each = async <R extends { person_id: number }>(sql: string, take: (row: R) => void) => {
    for (const row of (await db.query<R>(sql, of)).rows) take(row);
  };
  await each<{ person_id: number; list_id: number }>(
    `SELECT person_id, list_id FROM list_member WHERE person_id = ANY ($1::bigint[])`,
    (row) => facts.get(row.person_id)?.lists.push(row.list_id),
  );
  await each<{ person_id: number; tag_id: number }>(
    `SELECT person_id, tag_id FROM person_tag WHERE person_id = ANY ($1::bigint[])`,
    (row) => facts.get(row.person_id)?.tags.push(row.tag_id),
  );
  await each<{ person_id: number; purpose: 'service' | 'marketing'; act: string }>(
    `SELECT DISTINCT ON (c.person_id, c.purpose) c.person_id, c.purpose, c.act FROM consent_event c JOIN person ON person.id = c.person_id AND person.number = c.number
     WHERE c.person_id = ANY ($1::bigint[]) ORDER BY c.person_id, c.purpose, c.id DESC`,
    ({ person_id, purpose, act }) => {
      const known = facts.get(person_id);
      if (known && (act === 'granted' || act === 'withdrawn')) known.consent[purpose] = act;
    },
  );
  await each<{ person_id: number; what: PersonFacts['activity'][number]['what']; at: string }>(
    `SELECT person_id, 'texted' AS what, handed_at AS at FROM outbound WHERE person_id = ANY ($1::bigint[]) AND handed_at IS NOT NULL
     UNION ALL SELECT person_id, CASE state WHEN 'delivered' THEN 'delivered' ELSE 'not_delivered' END, final_at FROM outbound
       WHERE person_id = ANY ($1::bigint[]) AND state IN ('delivered', 'not_delivered', 'expired') AND final_at IS NOT NULL
     UNION ALL SELECT person_id, 'answered', received_at FROM inbound WHERE person_id = ANY ($1::bigint[]) AND kind IN ('reply', 'maybe_stop')
     UNION ALL SELECT o.person_id, 'clicked', l.clicked_at FROM link l JOIN outbound o ON o.id = l.outbound_id WHERE o.person_id = ANY ($1::bigint[]) AND l.clicked_at IS NOT NULL
     UNION ALL SELECT person.id, 'opted_out', s.at FROM suppression s JOIN person ON person.number = s.number WHERE person.id = ANY ($1::bigint[])`,
    (row) => facts.get(row.person_id)?.activity.push({ what: row.what, at: Date.parse(row.at) }),
  );
  await each<{
    person_id: number;
    id: number;
    folded: Record<string, string | number>;
    contact: number;
    must_not_receive: boolean;
  }>(
    `SELECT g.person_id, dependant.id, dependant.folded, g.contact, g.must_not_receive FROM guardianship g JOIN dependant ON dependant.id = g.dependant_id WHERE g.person_id = ANY ($1::bigint[]) ORDER BY g.contact, dependant.id`,
    (row) =>
      facts
        .get(row.person_id)
        ?.dependants.push({ id: row.id, folded: row.folded, contact: row.contact, mustNotReceive: row.must_not_receive }),
  );
  return facts;
}
