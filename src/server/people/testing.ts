import type { ImportSettings } from '../../core/api/people/import-settings';
import type { ImportCounts, StagedImport } from '../../core/api/people/imports';
import type { Clock } from '../../core/clock';
import type { Db, Queryable } from '../db/db';
import { fillLists } from './imports/fill-lists';
import { Bus } from '../desk/bus';
import { NOW } from '../engine/testing/world';
import { rollForward } from './imports/bring-in';
import { dryRun } from './imports/dry-run';
import { keepRows } from './imports/file-rows';
import { UNTOUCHED } from './imports/first-settings';
import { undoForward } from './imports/undo-import';

/** A bench's settings as they are when nobody has touched them. */
export const PLAIN_SETTINGS: ImportSettings = {
  ...UNTOUCHED,
  heading_row: 0,
  match: ['number', 'given_name', 'family_name'],
  country: 'US',
  day_first: false,
};

export const clock: Clock = { now: () => NOW, sleep: async () => undefined };
const AT = new Date(NOW).toISOString();

/** Puts rows on the bench (headings first) and checks them. */
export async function stageRows(
  db: Db,
  rows: string[][],
  part: Partial<ImportSettings> = {},
): Promise<{ id: number; counts: ImportCounts }> {
  const settings = { ...PLAIN_SETTINGS, ...part };
  const id = (
    await db.query<{ id: number }>(
      `INSERT INTO import (file_name, state, settings, written_row, created_at) VALUES ('a.csv', 'open', $1::jsonb, -1, $2::timestamptz) RETURNING id`,
      [JSON.stringify(settings), AT],
    )
  ).rows[0].id;
  await keepRows(
    db,
    id,
    rows.map((cells, no) => ({ no, cells })),
  );
  const counts = await dryRun(db, id, settings);
  if (!counts) throw new Error('the dry run was stopped');
  await db.query(`UPDATE import SET counts = $2::jsonb, checked_version = version WHERE id = $1`, [id, JSON.stringify(counts)]);
  return { id, counts };
}

/** The decision, as the route makes it, without writing anybody yet. */
export async function decideImport(db: Db, id: number): Promise<void> {
  const [staged] = (
    await db.query<Pick<StagedImport, 'id' | 'settings' | 'facts'>>(`SELECT id, settings, facts FROM import WHERE id = $1`, [id])
  ).rows;
  const facts = await fillLists(db, staged, AT);
  await db.query(`UPDATE import SET state = 'writing', decided_at = $3::timestamptz, facts = facts || $2::jsonb WHERE id = $1`, [
    id,
    JSON.stringify(facts),
    AT,
  ]);
}

export async function bringRows(db: Db, rows: string[][], part: Partial<ImportSettings> = {}): Promise<number> {
  const { id } = await stageRows(db, rows, part);
  await decideImport(db, id);
  await rollForward(db, clock, new Bus(), id);
  return id;
}

export async function undoImport(db: Db, id: number): Promise<void> {
  await db.query(`UPDATE import SET state = 'undoing' WHERE id = $1 AND state = 'done'`, [id]);
  await undoForward(db, clock, new Bus(), id);
}

/** Everything about people that matters, without ids and history: what two ways to the same end must agree on. */
export async function canonical(db: Queryable): Promise<unknown> {
  const { rows } = await db.query(
    `SELECT given_name, family_name, reference, number, number_country, number_kind, kind_source, language, zone, zone_guessed, born, fields, folded, search, sort_name,
       ARRAY(SELECT name FROM list_member JOIN list ON list.id = list_id WHERE person_id = person.id ORDER BY name) AS lists,
       ARRAY(SELECT list.name || ' for ' || d.given_name FROM list_member_for f JOIN list ON list.id = f.list_id JOIN dependant d ON d.id = f.dependant_id
          WHERE f.person_id = person.id ORDER BY 1) AS there_for,
       ARRAY(SELECT name FROM person_tag JOIN tag ON tag.id = tag_id WHERE person_id = person.id ORDER BY name) AS tags,
       (SELECT json_agg(json_build_array(purpose, act) ORDER BY purpose) FROM (SELECT DISTINCT ON (purpose) purpose, act FROM consent_event c
          WHERE c.person_id = person.id AND c.number = person.number ORDER BY purpose, id DESC) AS word WHERE act <> 'cleared') AS consent,
       (SELECT json_agg(json_build_array(d.given_name, d.family_name, d.reference, d.born, d.fields, g.contact, g.must_not_receive) ORDER BY d.sort_name, d.given_name)
          FROM guardianship g JOIN dependant d ON d.id = g.dependant_id WHERE g.person_id = person.id) AS dependants
     FROM person ORDER BY sort_name, number, reference`,
  );
  const { rows: groups } = await db.query(
    `SELECT (SELECT count(*) FROM dependant) AS dependants, ARRAY(SELECT name FROM list ORDER BY name) AS lists, ARRAY(SELECT name FROM tag ORDER BY name) AS tags`,
  );
  return { people: rows, ...groups[0] };
}
