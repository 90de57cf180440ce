import type { Kept } from '../../../core/api/people/imports';
import { iso, type Clock } from '../../../core/clock';
import type { Db, Tx } from '../../db/db';
import type { Bus } from '../../desk/bus';
import {
  fieldTypes,
  keepThereFor,
  peopleById,
  STORED,
  updatePeople,
  type StoredPerson,
  type ThereFor,
} from '../../address-book/for-others';

const CHUNK = 1000;

interface Undoing {
  id: number;
  account_id: number | null;
  decided_at: string;
  facts: { list_id?: number; list_made?: boolean; lists?: { id: number; made: boolean }[]; kept?: Kept };
}

/**
 * Takes an import back, chunk by chunk, so that after a crash it goes on and ends whole. New people go, unless they were
 * texted or changed since; changed people get back what they were where it is still what the import wrote. Numbers that
 * opted out since stay out: the register is never touched.
 */
export async function undoForward(db: Db, clock: Clock, bus: Bus, importId: number): Promise<void> {
  const bulk = db.lane('bulk');
  for (;;) {
    const undoing = (
      await bulk.query<Undoing>(`SELECT id, account_id, decided_at, facts FROM import WHERE id = $1 AND state = 'undoing'`, [
        importId,
      ])
    ).rows[0];
    if (!undoing) return;
    const done = await bulk.transaction((tx) => undoChunk(tx, undoing, iso(clock.now())));
    bus.changed('import', importId);
    if (done) {
      bus.changed('people');
      return;
    }
  }
}

export async function unfinishedUndos(db: Db): Promise<number[]> {
  return (await db.query<{ id: number }>(`SELECT id FROM import WHERE state = 'undoing' ORDER BY id`)).rows.map((row) => row.id);
}

async function undoChunk(tx: Tx, undoing: Undoing, at: string): Promise<boolean> {
  // those the import made bear its id; those it found are in import_change with what they were
  const fresh = (
    await tx.query<{ id: number }>(`SELECT id FROM person WHERE import_id = $1 ORDER BY id LIMIT ${CHUNK}`, [undoing.id])
  ).rows.map((row) => row.id);
  const { rows } = await tx.query<{ person_id: number; kind: string; before: StoredPerson | null; after: StoredPerson | null }>(
    `SELECT person_id, kind, before, after FROM import_change WHERE import_id = $1 ORDER BY person_id LIMIT ${CHUNK}`,
    [undoing.id],
  );
  if (rows.length === 0 && fresh.length === 0) {
    await finish(tx, undoing, at);
    return true;
  }
  const ids = [...rows.map((row) => row.person_id), ...fresh];
  const kept: Kept = undoing.facts.kept ?? { texted: 0, changed: 0, people: [] };
  await takeOff(tx, undoing.id, ids);
  if (undoing.facts.list_id)
    await tx.query(`DELETE FROM list_member WHERE list_id = $1 AND person_id = ANY ($2::bigint[])`, [
      undoing.facts.list_id,
      fresh,
    ]);
  await restoreConsent(
    tx,
    undoing,
    rows.map((row) => row.person_id),
    at,
  );
  if (fresh.length > 0) await removeMade(tx, undoing.id, fresh, kept);
  await restoreChanged(tx, rows, kept, at);
  await tx.query(`DELETE FROM import_change WHERE import_id = $1 AND person_id = ANY ($2::bigint[])`, [undoing.id, ids]);
  await tx.query(`UPDATE import SET facts = facts || $2::jsonb WHERE id = $1`, [undoing.id, JSON.stringify({ kept })]);
  return false;
}

/** New people go, unless something has come of them since; those who stay are everyone's from now on. */
async function removeMade(tx: Tx, importId: number, fresh: readonly number[], kept: Kept): Promise<void> {
  const { rows: stay } = await tx.query<{ id: number; texted: boolean }>(
    `SELECT p.id, EXISTS (SELECT 1 FROM outbound o WHERE o.person_id = p.id) OR EXISTS (SELECT 1 FROM inbound i WHERE i.person_id = p.id) AS texted
     FROM person p WHERE p.id = ANY ($1::bigint[]) AND (
       p.updated_at <> p.created_at
       OR EXISTS (SELECT 1 FROM outbound o WHERE o.person_id = p.id) OR EXISTS (SELECT 1 FROM inbound i WHERE i.person_id = p.id)
       OR EXISTS (SELECT 1 FROM list_member m WHERE m.person_id = p.id) OR EXISTS (SELECT 1 FROM person_tag t WHERE t.person_id = p.id)
       OR EXISTS (SELECT 1 FROM guardianship g WHERE g.person_id = p.id)
       OR EXISTS (SELECT 1 FROM consent_event c WHERE c.person_id = p.id AND c.import_id IS DISTINCT FROM $2))`,
    [fresh, importId],
  );
  for (const { id, texted } of stay) {
    kept[texted ? 'texted' : 'changed'] += 1;
    if (kept.people.length < 50) kept.people.push({ id, why: texted ? 'texted since' : 'changed since' });
  }
  const stays = new Set(stay.map((each) => each.id));
  const go = fresh.filter((id) => !stays.has(id));
  await tx.query(`DELETE FROM consent_event WHERE person_id = ANY ($1::bigint[]) AND import_id = $2`, [go, importId]);
  await tx.query(`DELETE FROM person WHERE id = ANY ($1::bigint[])`, [go]);
  await tx.query(`UPDATE person SET import_id = NULL WHERE id = ANY ($1::bigint[])`, [[...stays]]);
}

/** Lists, tags and contacts that the import gave these people, and lists it took them off. */
async function takeOff(tx: Tx, importId: number, ids: readonly number[]): Promise<void> {
  const touched = (kind: string, table: string, column: string) =>
    tx.query(
      `DELETE FROM ${table} USING import_touch t WHERE t.import_id = $1 AND t.kind = $3 AND t.person_id = ANY ($2::bigint[]) AND ${table}.${column} = t.target_id AND ${table}.person_id = t.person_id`,
      [importId, ids, kind],
    );
  await tx.query(`DELETE FROM list_member_for WHERE import_id = $1 AND person_id = ANY ($2::bigint[])`, [importId, ids]);
  await touched('list', 'list_member', 'list_id');
  await touched('tag', 'person_tag', 'tag_id');
  await touched('guardianship', 'guardianship', 'dependant_id');
}

/** Where the last word about someone's consent is the import's, what was so before is so again. */
async function restoreConsent(tx: Tx, undoing: Undoing, ids: readonly number[], at: string): Promise<void> {
  await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, account_id, at, import_id)
     SELECT last.person_id, last.number, last.purpose, coalesce(old.act, 'cleared'), 'import undone', coalesce(old.evidence, ''), coalesce(old.wording, ''), $3, $4::timestamptz, old.import_id
     FROM (SELECT DISTINCT ON (person_id, number, purpose) person_id, number, purpose, id, import_id FROM consent_event
           WHERE person_id = ANY ($1::bigint[]) ORDER BY person_id, number, purpose, id DESC) AS last
     JOIN import_change c ON c.import_id = $2 AND c.person_id = last.person_id
     LEFT JOIN LATERAL (SELECT act, evidence, wording, import_id FROM consent_event e WHERE e.person_id = last.person_id AND e.number = last.number AND e.purpose = last.purpose
       AND e.import_id IS DISTINCT FROM $2 ORDER BY e.id DESC LIMIT 1) AS old ON true
     WHERE last.import_id = $2`,
    [ids, undoing.id, undoing.account_id, at],
  );
}

async function restoreChanged(
  tx: Tx,
  rows: readonly { person_id: number; kind: string; before: StoredPerson | null; after: StoredPerson | null }[],
  kept: Kept,
  at: string,
): Promise<void> {
  const changed = rows.flatMap((row) =>
    row.kind === 'changed' && row.before && row.after ? [{ ...row, before: row.before, after: row.after }] : [],
  );
  if (changed.length === 0) return;
  const now = new Map(
    (
      await peopleById(
        tx,
        changed.map((row) => row.person_id),
      )
    ).map((person) => [person.id, person]),
  );
  const restored: StoredPerson[] = [];
  for (const { person_id, before, after } of changed) {
    const present = now.get(person_id);
    if (!present) continue;
    const next: Record<string, unknown> = { ...present };
    let touched = false;
    for (const column of STORED) {
      if (column === 'fields' || before[column] === after[column]) continue;
      if (present[column] === after[column]) next[column] = before[column];
      else touched = true;
    }
    const fields = { ...present.fields };
    for (const slug of Object.keys(after.fields)) {
      if (before.fields[slug] === after.fields[slug]) continue;
      if (present.fields[slug] !== after.fields[slug]) touched = true;
      else if (before.fields[slug] === undefined) delete fields[slug];
      else fields[slug] = before.fields[slug];
    }
    restored.push({ ...(next as unknown as StoredPerson), fields });
    if (touched) {
      kept.changed += 1;
      if (kept.people.length < 50) kept.people.push({ id: person_id, why: 'changed since' });
    }
  }
  await updatePeople(tx, restored, await fieldTypes(tx), at);
}

async function finish(tx: Tx, undoing: Undoing, at: string): Promise<void> {
  await tx.query(
    `INSERT INTO list_member (list_id, person_id) SELECT t.target_id, t.person_id FROM import_touch t JOIN list ON list.id = t.target_id JOIN person ON person.id = t.person_id
     WHERE t.import_id = $1 AND t.kind = 'off_list' ON CONFLICT DO NOTHING`,
    [undoing.id],
  );
  const { rows: off } = await tx.query<ThereFor>(
    `SELECT person_id AS person, target_id AS dependant FROM import_touch WHERE import_id = $1 AND kind = 'off_for'`,
    [undoing.id],
  );
  if (undoing.facts.list_id) await keepThereFor(tx, undoing.facts.list_id, off, {});
  await tx.query(
    `DELETE FROM dependant USING import_touch t WHERE t.import_id = $1 AND t.kind = 'dependant' AND dependant.id = t.target_id AND dependant.updated_at = dependant.created_at
       AND NOT EXISTS (SELECT 1 FROM guardianship g WHERE g.dependant_id = dependant.id)`,
    [undoing.id],
  );
  const { list_id, list_made, lists = [] } = undoing.facts;
  const made = [...(list_made && list_id ? [list_id] : []), ...lists.flatMap((list) => (list.made ? [list.id] : []))];
  await tx.query(
    `DELETE FROM list WHERE id = ANY ($1::bigint[]) AND NOT EXISTS (SELECT 1 FROM list_member WHERE list_id = list.id)`,
    [made],
  );
  await tx.query(
    `DELETE FROM tag USING import_touch t WHERE t.import_id = $1 AND t.kind = 'tag' AND tag.id = t.target_id AND NOT EXISTS (SELECT 1 FROM person_tag WHERE tag_id = tag.id)`,
    [undoing.id],
  );
  await tx.query(`DELETE FROM import_touch WHERE import_id = $1`, [undoing.id]);
  await tx.query(`UPDATE import SET state = 'undone', undone_at = $2::timestamptz WHERE id = $1`, [undoing.id, at]);
}
