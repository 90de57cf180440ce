import type { Conversation, View } from '../../core/api/desk/replies';
import { fold } from '../../core/text/fold';
import type { Queryable } from '../db/db';

/** A page of conversations. */
export const PAGE = 50;

/** Who asks, and when: what waits for one of the desk does not wait for another, and what is put away waits again in time. */
export interface Asker {
  account: number;
  at: string;
}

/** Whether a conversation with something that waits is put away, or another's; a claim of somebody who has left is nobody's. */
const LATER = `coalesce(c.later_at > $2::timestamptz, false)`;
const OTHERS = `coalesce(claimer.id <> $1, false)`;
const VIEWS: Readonly<Record<Exclude<View, 'all'>, string>> = {
  waiting: `NOT ${LATER} AND NOT ${OTHERS}`,
  others: `NOT ${LATER} AND ${OTHERS}`,
  later: `$1::bigint IS NOT NULL AND ${LATER}`,
};

/** What waits, by number. */
const WAITING = `(SELECT number, min(received_at) AS since, count(*) AS waiting, max(id) AS last_id, bool_or(kind IN ('maybe_stop', 'unread')) AS maybe_stop
  FROM inbound WHERE done_at IS NULL GROUP BY number) w
  LEFT JOIN conversation c ON c.number = w.number
  LEFT JOIN account claimer ON claimer.id = c.claimed_by AND claimer.removed_at IS NULL`;

/** A line, from the last that they wrote (`last`), what waits (`w`) and who has it (`c`, `claimer`). */
const LINE = `last.number, person.id AS person_id, trim(coalesce(person.given_name || ' ' || person.family_name, '')) AS name, w.since, coalesce(w.waiting, 0) AS waiting,
  jsonb_build_object('id', last.id, 'at', to_jsonb(last.received_at), 'body', CASE WHEN last.kind = 'unread' AND last.body = '' THEN 'a text that could not be read' ELSE last.body END, 'kind', last.kind) AS last,
  CASE WHEN w.maybe_stop THEN (SELECT coalesce(nullif(d.body, ''), 'a text that could not be read') FROM inbound d WHERE d.number = last.number AND d.kind IN ('maybe_stop', 'unread') AND d.done_at IS NULL ORDER BY d.id DESC LIMIT 1) END AS doubtful,
  coalesce((SELECT max(id) FROM outbound o WHERE o.number = last.number AND o.kind = 'reply'), 0) AS answered,
  EXISTS (SELECT 1 FROM suppression s WHERE s.number = last.number) AS opted_out, run.id AS run_id, run.name AS run,
  CASE WHEN claimer.id IS NOT NULL THEN jsonb_build_object('id', claimer.id, 'name', claimer.name) END AS claimed_by, c.later_at`;
const KNOWN = `LEFT JOIN person ON person.id = last.person_id LEFT JOIN run ON run.id = last.run_id`;

export interface Waiting {
  waiting: number;
  others: number;
  later: number;
}

/** How many conversations wait for whoever asks, are claimed by others, and are put away. The one place where this is counted. */
export async function countWaiting(db: Queryable, { account, at }: Asker): Promise<Waiting> {
  return (
    await db.query<Waiting>(
      `SELECT count(*) FILTER (WHERE ${VIEWS.waiting}) AS waiting, count(*) FILTER (WHERE ${VIEWS.others}) AS others, count(*) FILTER (WHERE ${VIEWS.later}) AS later FROM ${WAITING}`,
      [account, at],
    )
  ).rows[0];
}

/** Those in which something waits, the longest first. @param after the time and number of the last one before the page */
export async function waitingConversations(
  db: Queryable,
  { account, at }: Asker,
  view: Exclude<View, 'all'>,
  after: { since: string; number: string } | undefined,
  most = PAGE,
): Promise<Conversation[]> {
  return (
    await db.query<Conversation>(
      `SELECT ${LINE} FROM ${WAITING} JOIN inbound last ON last.id = w.last_id ${KNOWN}
       WHERE ${VIEWS[view]} AND ($3::text IS NULL OR (w.since, w.number) > ($3::timestamptz, $4::text)) ORDER BY w.since, w.number LIMIT $5::int`,
      [account, at, after?.since ?? null, after?.number ?? null, most],
    )
  ).rows;
}

/** All there are, the latest first. @param before the id of the last text of the one before the page */
export async function allConversations(db: Queryable, account: number, before: number): Promise<Conversation[]> {
  return (
    await db.query<Conversation>(
      `SELECT ${LINE} FROM inbound last LEFT JOIN LATERAL ${OF_ONE} ON true ${CLAIMED} ${KNOWN}
       WHERE $1::bigint IS NOT NULL AND last.id < $2 AND NOT EXISTS (SELECT 1 FROM inbound later WHERE later.number = last.number AND later.id > last.id)
       ORDER BY last.id DESC LIMIT ${PAGE}`,
      [account, before],
    )
  ).rows;
}

/** The same of one number, where the others are not asked. */
const OF_ONE = `(SELECT min(received_at) AS since, count(*) AS waiting, bool_or(kind IN ('maybe_stop', 'unread')) AS maybe_stop
  FROM inbound i WHERE i.number = last.number AND i.done_at IS NULL) w`;
const CLAIMED = `LEFT JOIN conversation c ON c.number = last.number LEFT JOIN account claimer ON claimer.id = c.claimed_by AND claimer.removed_at IS NULL`;

/** Those of people who answered to a run, by the latest that each wrote to it, the latest first. */
export async function conversationsOfRun(db: Queryable, run: number, before: number): Promise<Conversation[]> {
  return (
    await db.query<Conversation>(
      `WITH found AS (SELECT number, max(id) AS id FROM inbound WHERE run_id = $1 AND kind IN ('reply', 'help', 'maybe_stop', 'stop') GROUP BY number HAVING max(id) < $2 ORDER BY 2 DESC LIMIT ${PAGE})
       SELECT ${LINE} FROM found JOIN inbound last ON last.id = found.id LEFT JOIN LATERAL ${OF_ONE} ON true ${CLAIMED} ${KNOWN} ORDER BY last.id DESC`,
      [run, before],
    )
  ).rows;
}

/**
 * Those in which something was written with these words, by them or by the desk, or whose name or number they are; each with the
 * text that was found, the latest first.
 */
export async function findConversations(db: Queryable, search: string, before: number): Promise<Conversation[]> {
  const words = `%${fold(search).replace(/[\\%_]/g, '\\$&')}%`;
  const digits = search.replace(/\D/g, '');
  return (
    await db.query<Conversation>(
      `WITH found AS (
         SELECT number, max(id) AS id FROM (
           (SELECT number, id FROM inbound WHERE folded LIKE $1 AND id < $3 ORDER BY id DESC LIMIT 500)
           UNION ALL
           (SELECT o.number, (SELECT max(i.id) FROM inbound i WHERE i.number = o.number) FROM outbound o WHERE o.kind = 'reply' AND lower(o.body) LIKE $1 ORDER BY o.id DESC LIMIT 200)
           UNION ALL
           (SELECT p.number, (SELECT max(i.id) FROM inbound i WHERE i.number = p.number) FROM person p WHERE p.search LIKE $1 AND p.number IS NOT NULL LIMIT 500)
           UNION ALL
           (SELECT number, max(id) FROM inbound WHERE length($2) >= 4 AND number LIKE '%' || $2 || '%' GROUP BY number LIMIT 200)
         ) AS each WHERE id IS NOT NULL AND id < $3 GROUP BY number ORDER BY id DESC LIMIT ${PAGE}
       )
       SELECT ${LINE} FROM found JOIN inbound last ON last.id = found.id LEFT JOIN LATERAL ${OF_ONE} ON true ${CLAIMED} ${KNOWN} ORDER BY last.id DESC`,
      [words, digits, before],
    )
  ).rows;
}

export async function nameOfRun(db: Queryable, run: number): Promise<string | undefined> {
  return (await db.query<{ name: string }>(`SELECT name FROM run WHERE id = $1`, [run])).rows[0]?.name;
}
