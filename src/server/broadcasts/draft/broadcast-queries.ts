import type { Static } from 'typebox';
import type { BroadcastAnswer, BroadcastRow, Sender } from '../../../core/api/sending/broadcasts';
import { calledOf } from '../../../core/plan/draft/called';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Queryable, Tx } from '../../db/db';
import { COMES_TO_MICRO, COMES_TO_PARTS } from '../../outcomes/for-others';

export type StoredBroadcast = Omit<BroadcastAnswer, 'run' | 'senders'>;

const PAGE = 100;

/** Broadcasts, those being made and scheduled first, then the latest; of one label; found by name, words or label. */
export async function listBroadcasts(
  db: Queryable,
  wanted: { state?: string; label?: string; search?: string; skip?: number },
): Promise<{ broadcasts: BroadcastRow[]; total: number }> {
  // literal text: what stands in it means nothing else
  const pattern = wanted.search?.trim() ? `%${wanted.search.trim().replace(/[\\%_]/g, '\\$&')}%` : null;
  const which = `($1::text IS NULL OR broadcast.state = $1) AND ($2::text IS NULL OR broadcast.name ILIKE $2 OR broadcast.draft->>'words' ILIKE $2
    OR EXISTS (SELECT 1 FROM jsonb_each_text(coalesce(broadcast.draft->'translations', '{}')) AS other(language, words) WHERE other.words ILIKE $2)
    OR EXISTS (SELECT 1 FROM jsonb_array_elements_text(broadcast.labels) AS label WHERE label ILIKE $2))
    AND ($3::text IS NULL OR broadcast.labels ? $3) AND broadcast.id NOT IN (SELECT id FROM broadcast_blank)`;
  const asked = [wanted.state ?? null, pattern, wanted.label ?? null];
  const { rows } = await db.query<Omit<BroadcastRow, 'called'>>(
    `SELECT broadcast.id, broadcast.name, broadcast.state, broadcast.updated_at, left(broadcast.draft->>'words', 200) AS words,
       run.id AS run_id, run_shown(run.id, run.state, run.ended_at) AS run_state, run.people, run.due_at, ${COMES_TO_PARTS} AS parts, ${COMES_TO_MICRO} AS cost_micro, account.name AS by, broadcast.labels, broadcast.goes_on, broadcast.next_at
     FROM broadcast LEFT JOIN LATERAL (SELECT * FROM run WHERE run.broadcast_id = broadcast.id ORDER BY run.id DESC LIMIT 1) AS run ON true
     LEFT JOIN account ON account.id = broadcast.account_id
     WHERE ${which}
     ORDER BY (broadcast.state IN ('draft', 'set_aside', 'scheduled')) DESC, coalesce(run.due_at, broadcast.updated_at) DESC, broadcast.id DESC
     LIMIT ${PAGE} OFFSET $4::int`,
    [...asked, wanted.skip ?? 0],
  );
  const total = (await db.query<{ n: number }>(`SELECT count(*) AS n FROM broadcast WHERE ${which}`, asked)).rows[0].n;
  return { broadcasts: rows.map((row) => ({ ...row, called: calledOf(row) })), total };
}

export async function broadcastById(db: Queryable, id: number): Promise<StoredBroadcast | undefined> {
  const { rows } = await db.query<StoredBroadcast>(
    `SELECT id, name, state, draft, version, updated_at, labels, goes_on, next_at,
       tested - 'as_id' || jsonb_build_object('as', coalesce((SELECT trim(given_name || ' ' || family_name) FROM person
         WHERE person.id = (tested->>'as_id')::bigint), '')) AS tested FROM broadcast WHERE id = $1`,
    [id],
  );
  return rows[0];
}

export async function latestRunOf(db: Queryable, broadcast: number): Promise<BroadcastAnswer['run']> {
  const { rows } = await db.query<NonNullable<BroadcastAnswer['run']>>(
    `SELECT id, run_shown(run.id, run.state, run.ended_at) AS state, people, due_at FROM run WHERE broadcast_id = $1 ORDER BY id DESC LIMIT 1`,
    [broadcast],
  );
  return rows[0] ?? null;
}

export async function allSenders(db: Queryable): Promise<Static<typeof Sender>[]> {
  return (await db.query<Static<typeof Sender>>(`SELECT id, name, kind, address FROM sender ORDER BY id`)).rows;
}

/** The sender a new draft begins with: one that takes replies before one that does not. */
export async function firstSender(db: Queryable): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(`SELECT id FROM sender ORDER BY (kind = 'name'), id LIMIT 1`);
  return rows[0]?.id ?? null;
}

export async function insertDraft(
  db: Queryable,
  made: { name: string; draft: Draft; account: number; at: string; labels?: readonly string[]; blank?: boolean },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at, labels, blank)
     VALUES ($1, 'draft', $2::jsonb, $3, $4::timestamptz, $4::timestamptz, $5::jsonb, $6) RETURNING id`,
    [made.name, JSON.stringify(made.draft), made.account, made.at, JSON.stringify(made.labels ?? []), made.blank ?? false],
  );
  return rows[0].id;
}

/** Saves a draft that is still the version it was made from and may be edited; undefined when it is not. */
export async function saveDraft(
  db: Queryable,
  id: number,
  saved: { name: string; draft: Draft; version: number; at: string },
): Promise<{ version: number; updated_at: string } | undefined> {
  const { rows } = await db.query<{ version: number; updated_at: string }>(
    `UPDATE broadcast SET name = $2, draft = $3::jsonb, version = version + 1, updated_at = $5::timestamptz,
       put_back = CASE WHEN state = 'set_aside' THEN coalesce(put_back, draft) END
     WHERE id = $1 AND version = $4 AND state IN ('draft', 'set_aside') RETURNING version, updated_at`,
    [id, saved.name, JSON.stringify(saved.draft), saved.version, saved.at],
  );
  return rows[0];
}

/** A broadcast that was set aside or canceled is the draft again that was agreed to; undefined where it is neither. */
export async function putBack(db: Queryable, id: number, at: string): Promise<{ version: number } | undefined> {
  const { rows } = await db.query<{ version: number }>(
    `UPDATE broadcast SET draft = coalesce(put_back, draft), put_back = NULL, state = 'set_aside', version = version + 1, updated_at = $2::timestamptz
     WHERE id = $1 AND state IN ('set_aside', 'canceled') RETURNING version`,
    [id, at],
  );
  return rows.at(0);
}

/** What a test was, and as whom it was written: by the person, whose name may change or go. */
export async function keepTested(
  db: Queryable,
  id: number,
  tested: Omit<NonNullable<BroadcastAnswer['tested']>, 'as'>,
  asId: number | null,
): Promise<void> {
  await db.query(`UPDATE broadcast SET tested = $2::jsonb WHERE id = $1`, [id, JSON.stringify({ ...tested, as_id: asId })]);
}

/** How many people who may write are signed in somewhere. */
export async function peopleAtTheDesk(db: Queryable, at: string): Promise<number> {
  const { rows } = await db.query<{ n: number }>(
    `SELECT count(DISTINCT account.id) AS n FROM account JOIN session ON session.account_id = account.id AND session.expires_at > $1::timestamptz WHERE account.role <> 'look'`,
    [at],
  );
  return rows[0].n;
}

/** Every label in use, in its own order of letters. */
export async function usedLabels(db: Queryable): Promise<{ label: string; broadcasts: number }[]> {
  const { rows } = await db.query<{ label: string; broadcasts: number }>(
    `SELECT label, count(*) AS broadcasts FROM broadcast, jsonb_array_elements_text(labels) AS label
     GROUP BY label ORDER BY lower(label), label`,
  );
  return rows;
}

/** False when there is no such broadcast. */
export async function setLabels(db: Queryable, id: number, labels: readonly string[]): Promise<boolean> {
  const done = await db.query(`UPDATE broadcast SET labels = $2::jsonb WHERE id = $1`, [id, JSON.stringify(labels)]);
  return done.rowCount > 0;
}

/** Deletes a draft of which there never was a run. */
export async function deleteDraft(db: Queryable, id: number): Promise<boolean> {
  const gone = await db.query(
    `DELETE FROM broadcast WHERE id = $1 AND state = 'draft' AND NOT EXISTS (SELECT 1 FROM run WHERE broadcast_id = $1)`,
    [id],
  );
  return gone.rowCount > 0;
}

/** The runs of a broadcast that can still be taken back, the next one first; the broadcast is locked. */
export async function runsToCallOff(tx: Tx, broadcast: number): Promise<{ ids: number[]; goesOn: boolean } | undefined> {
  const { rows } = await tx.query<{ goes_on: boolean }>(
    `SELECT goes_on FROM broadcast WHERE id = $1 AND state = 'scheduled' FOR UPDATE`,
    [broadcast],
  );
  if (rows.length === 0) return undefined;
  const runs = await tx.query<{ id: number }>(
    `SELECT id FROM run WHERE broadcast_id = $1 AND state IN ('planning', 'waiting') AND NOT called_off ORDER BY due_at, id`,
    [broadcast],
  );
  return { ids: runs.rows.map(({ id }) => id), goesOn: rows[0].goes_on };
}

/** Nothing more of a repeated broadcast goes. */
export async function endRepeats(tx: Tx, id: number, state: 'draft' | 'set_aside' | 'canceled', at: string): Promise<void> {
  await tx.query(
    `UPDATE broadcast SET state = $2, version = version + 1, updated_at = $3::timestamptz, goes_on = false, next_date = NULL, next_at = NULL,
       plan_at = NULL WHERE id = $1 AND state = 'scheduled'`,
    [id, state, at],
  );
}
