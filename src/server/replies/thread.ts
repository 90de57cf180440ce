import type { Thread, ThreadText } from '../../core/api/desk/replies';
import type { Queryable } from '../db/db';
import { whoHas, ANSWERED, senderAnswering } from '../engine/for-others';
import { heldAnswers } from './passing-queries';

const PAGE = 40;
const ONE_MORE = PAGE + 1;

/** Whose number it is now. */
export async function personOf(db: Queryable, number: string): Promise<number | null> {
  return (await db.query<{ id: number | null }>(`SELECT ${whoHas('$1')} AS id`, [number])).rows[0].id;
}

/**
 * Everything that was said with a number, and with its person under numbers they had before; the latest `PAGE` texts before a
 * moment, oldest first.
 */
export async function threadOf(db: Queryable, number: string, before: string | null): Promise<Thread> {
  const person = await personOf(db, number);
  const [to, from, about] = await Promise.all([
    db.query<ThreadText>(
      `SELECT o.id, 'to' AS direction, coalesce(o.handed_at, o.due_at) AS at, o.body, o.kind, o.state, o.reason, o.run_id, run.name AS run, run.people,
         CASE WHEN o.kind IN ('run', 'opt_out', 'reply') AND (o.named IS NOT NULL OR o.person_id IS DISTINCT FROM $2::bigint OR EXISTS (SELECT 1 FROM person other WHERE other.number = $1 AND other.id IS DISTINCT FROM $2::bigint))
           THEN nullif(trim(coalesce((o.named->>'given_name') || ' ' || (o.named->>'family_name'), meant.given_name || ' ' || meant.family_name, '')), '') END AS meant,
         coalesce(account.name, (SELECT pass_on.name FROM passed_answer a JOIN passed ON passed.id = passed_id JOIN pass_on ON pass_on.id = pass_on_id WHERE a.outbound_id = o.id)) AS by,
         false AS late, NULL::int AS read_days, false AS incomplete, NULL AS trouble, NULL AS octets, false AS waits, NULL AS passed_to
       FROM outbound o LEFT JOIN run ON run.id = o.run_id LEFT JOIN account ON account.id = coalesce(o.account_id, run.account_id) LEFT JOIN person meant ON meant.id = o.person_id
       WHERE (o.number = $1 OR o.person_id = $2) AND o.kind <> 'copy' AND (o.state <> 'planned' OR o.kind = 'reply')
         AND ($3::timestamptz IS NULL OR coalesce(o.handed_at, o.due_at) < $3::timestamptz)
       ORDER BY coalesce(o.handed_at, o.due_at) DESC, o.id DESC LIMIT ${ONE_MORE}`,
      [number, person, before],
    ),
    db.query<ThreadText>(
      `SELECT i.id, 'from' AS direction, i.received_at AS at, i.body, i.kind, NULL AS state, NULL AS reason, i.run_id, run.name AS run, NULL AS people, NULL AS meant, NULL AS by,
         i.late, run.reply_days AS read_days, i.incomplete, i.trouble, i.octets, i.done_at IS NULL AS waits,
         (SELECT string_agg(pass_on.name, ', ' ORDER BY passed.id) FROM passed JOIN pass_on ON pass_on.id = pass_on_id WHERE inbound_id = i.id AND state IN ('sent', 'answered')) AS passed_to
       FROM inbound i LEFT JOIN run ON run.id = i.run_id
       WHERE (i.number = $1 OR i.person_id = $2) AND ($3::timestamptz IS NULL OR i.received_at < $3::timestamptz)
       ORDER BY i.received_at DESC, i.id DESC LIMIT ${ONE_MORE}`,
      [number, person, before],
    ),
    db.query<Pick<Thread, 'name' | 'shared_with' | 'opted_out' | 'seen' | 'answered' | 'claimed_by' | 'later_at' | 'had_before'>>(
      `SELECT coalesce((SELECT trim(given_name || ' ' || family_name) FROM person WHERE id = $2), '') AS name,
         coalesce((SELECT jsonb_agg(jsonb_build_object('id', other.id, 'name', trim(other.given_name || ' ' || other.family_name)) ORDER BY other.id)
           FROM (SELECT * FROM person WHERE number = $1 AND id IS DISTINCT FROM $2::bigint ORDER BY id LIMIT 5) AS other), '[]') AS shared_with,
         EXISTS (SELECT 1 FROM suppression WHERE number = $1) AS opted_out,
         coalesce((SELECT max(id) FROM inbound WHERE number = $1), 0) AS seen,
         ${ANSWERED} AS answered,
         coalesce((SELECT jsonb_agg(jsonb_build_object('id', before.id, 'name', before.name, 'until', to_jsonb(before.until)) ORDER BY before.until DESC) FROM (
           SELECT person.id, trim(given_name || ' ' || family_name) AS name, max(said.at) AS until FROM (
             SELECT person_id, max(coalesce(handed_at, due_at)) AS at FROM outbound WHERE number = $1 AND person_id IS NOT NULL AND kind IN ('run', 'reply', 'opt_out') GROUP BY person_id
             UNION ALL SELECT person_id, max(received_at) FROM inbound WHERE number = $1 AND person_id IS NOT NULL GROUP BY person_id) AS said
           JOIN person ON person.id = said.person_id WHERE person.number IS DISTINCT FROM $1 GROUP BY person.id ORDER BY 3 DESC LIMIT 5) AS before), '[]') AS had_before,
         (SELECT jsonb_build_object('id', account.id, 'name', account.name) FROM conversation c JOIN account ON account.id = c.claimed_by AND removed_at IS NULL WHERE c.number = $1) AS claimed_by,
         (SELECT later_at FROM conversation WHERE number = $1) AS later_at`,
      [number, person],
    ),
  ]);
  const texts = [...to.rows, ...from.rows].sort((a, b) => Date.parse(a.at) - Date.parse(b.at) || (a.direction === 'to' ? -1 : 1));
  return {
    number,
    person_id: person,
    texts: texts.slice(-PAGE),
    more: texts.length > PAGE,
    sender: await senderAnswering(db, number),
    held: await heldAnswers(db, number),
    ...about.rows[0],
  };
}
