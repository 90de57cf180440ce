import type { BulkAct as Asked, ManyChanged } from '../../core/api/people/people';
import type { Today } from '../../core/audience/decide';
import { storedValue } from '../../core/people/person-fields';
import {
  Binder,
  dependantsOfRule,
  fieldTypes,
  keepThereFor,
  peopleById,
  thereFor,
  updatePeople,
} from '../address-book/for-others';
import type { Db, Queryable, Tx } from '../db/db';
import { refuseAlike } from '../db/named-alike';
import { Refusal } from '../../core/api/refusal';
import { whereOf, type PeopleFilter } from './people-queries';

const CHUNK = 2000;

/** A change as it is made: what was to be made for it is there. */
type BulkAct = Exclude<Asked, { kind: 'put_on_new' }>;

const CHANGED = `SELECT c.id, what, people, at, account.name AS by, undone_at IS NOT NULL AS undone
  FROM bulk_change c LEFT JOIN account ON account.id = account_id`;

/** What was done with many people of a run, the latest first. */
export async function changesOfRun(db: Queryable, run: number): Promise<ManyChanged[]> {
  return (await db.query<ManyChanged>(`${CHANGED} WHERE run_id = $1 AND people > 0 ORDER BY c.id DESC LIMIT 20`, [run])).rows;
}

/** What was done with many people since a moment, the latest first. */
export async function changesSince(db: Queryable, since: string): Promise<ManyChanged[]> {
  return (
    await db.query<ManyChanged>(`${CHANGED} WHERE at > $1::timestamptz AND people > 0 ORDER BY c.id DESC LIMIT 20`, [since])
  ).rows;
}

const TABLES = {
  tag: ['person_tag', 'tag_id'],
  untag: ['person_tag', 'tag_id'],
  put_on: ['list_member', 'list_id'],
  take_off: ['list_member', 'list_id'],
} as const;

/**
 * Changes everyone of a filter, in chunks, remembering for each what was before; answers the change, which can be undone.
 * Only those for whom it makes a difference are changed and counted.
 */
export async function changeMany(
  db: Db,
  filter: PeopleFilter,
  wanted: Asked,
  what: string,
  asked: { account: { id: number } | undefined; at: string },
  today: Today,
): Promise<{ id: number; people: number }> {
  const act: BulkAct = wanted.kind === 'put_on_new' ? { kind: 'put_on', id: await listId(db, wanted.name, asked.at) } : wanted;
  const types = await fieldTypes(db);
  if (act.kind === 'set' && !types.has(act.field))
    throw new Refusal('wrong', 'field', `There is no field “${act.field}”.`, { place: 'field' });
  const value =
    act.kind === 'set' && act.value.trim() !== '' ? storedValue(types.get(act.field) ?? 'text', act.value.trim(), false) : '';
  if (value === undefined)
    throw new Refusal('wrong', 'value', `“${act.kind === 'set' ? act.value : ''}” does not fit the field.`, { place: 'value' });
  const target = act.kind === 'tag' ? await tagId(db, act.name) : act.kind === 'set' ? 0 : act.id;
  const id = (
    await db.query<{ id: number }>(
      `INSERT INTO bulk_change (what, act, people, account_id, at, run_id) VALUES ($1, $2::jsonb, 0, $3, $4::timestamptz, $5::bigint) RETURNING id`,
      // of those of a run it stands at that run, with what undoes it
      [what, JSON.stringify({ ...act, target }), asked.account?.id ?? null, asked.at, filter.run?.id ?? null],
    )
  ).rows[0].id;
  const bulk = db.lane('bulk');
  // who is chosen by a rule about dependants is put on a list for those who match it
  const of = act.kind === 'put_on' && filter.rule ? await dependantsOfRule(bulk, filter.rule, today) : undefined;
  let people = 0;
  for (let after = 0; ;) {
    // walked by id, so that a change that moves people out of the filter makes nobody be skipped or met twice
    const binder = new Binder();
    const where = whereOf(filter, binder, today);
    const { rows } = await bulk.query<{ id: number }>(
      `SELECT id FROM person WHERE ${where} AND id > ${binder.bind(after, 'bigint')} ORDER BY id LIMIT ${CHUNK}`,
      binder.params,
    );
    if (rows.length === 0) break;
    after = rows[rows.length - 1].id;
    people += await bulk.transaction((tx) =>
      changeChunk(
        tx,
        id,
        rows.map((row) => row.id),
        act,
        target,
        value,
        types,
        asked.at,
        of,
      ),
    );
    await bulk.query(`UPDATE bulk_change SET people = $2 WHERE id = $1`, [id, people]);
  }
  return { id, people };
}

async function listId(db: Queryable, name: string, at: string): Promise<number> {
  await refuseAlike(db, 'list', name.trim(), { place: 'name' });
  await db.query(`INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz) ON CONFLICT DO NOTHING`, [name.trim(), at]);
  return (await db.query<{ id: number }>(`SELECT id FROM list WHERE name = $1`, [name.trim()])).rows[0].id;
}

async function tagId(db: Queryable, name: string): Promise<number> {
  await refuseAlike(db, 'tag', name.trim(), { place: 'name' });
  await db.query(`INSERT INTO tag (name) VALUES ($1) ON CONFLICT DO NOTHING`, [name.trim()]);
  return (await db.query<{ id: number }>(`SELECT id FROM tag WHERE name = $1`, [name.trim()])).rows[0].id;
}

async function changeChunk(
  tx: Tx,
  id: number,
  ids: readonly number[],
  act: BulkAct,
  target: number,
  value: string,
  types: ReadonlyMap<string, 'text' | 'number' | 'date' | 'choice' | 'yes_no'>,
  at: string,
  of: ReadonlyMap<number, readonly number[]> | undefined,
): Promise<number> {
  if (act.kind === 'set') {
    const changed = (await peopleById(tx, ids)).filter((person) => (person.fields[act.field] ?? '') !== value);
    if (changed.length === 0) return 0;
    await tx.query(`INSERT INTO bulk_change_person SELECT $1, * FROM unnest($2::bigint[], $3::text[])`, [
      id,
      changed.map((person) => person.id),
      changed.map((person) => person.fields[act.field] ?? null),
    ]);
    await updatePeople(
      tx,
      changed.map((person) => ({ ...person, fields: { ...person.fields, [act.field]: value } })),
      types,
      at,
    );
    return changed.length;
  }
  const [table, column] = TABLES[act.kind];
  const adds = act.kind === 'tag' || act.kind === 'put_on';
  // what goes with a membership comes back with it where this is undone
  const before = act.kind === 'take_off' ? await thereFor(tx, target, ids) : new Map<number, number[]>();
  const { rows } = await tx.query<{ person_id: number }>(
    adds
      ? `INSERT INTO ${table} (${column}, person_id) SELECT $1, unnest($2::bigint[]) ON CONFLICT DO NOTHING RETURNING person_id`
      : `DELETE FROM ${table} WHERE ${column} = $1 AND person_id = ANY ($2::bigint[]) RETURNING person_id`,
    [target, ids],
  );
  await tx.query(
    `INSERT INTO bulk_change_person (bulk_change_id, person_id, before) SELECT $1, * FROM unnest($2::bigint[], $3::text[])`,
    [id, rows.map((row) => row.person_id), rows.map((row) => before.get(row.person_id)?.join(' ') ?? null)],
  );
  if (of)
    await keepThereFor(
      tx,
      target,
      ids.flatMap((person) => (of.get(person) ?? []).map((dependant) => ({ person, dependant }))),
      { bulkId: id },
    );
  return rows.length;
}

/** Takes a bulk change back, where what it did still stands; answers how many people it was undone for. */
export async function undoMany(db: Db, id: number, at: string): Promise<number> {
  const { rows } = await db.query<{ act: BulkAct & { target: number }; undone_at: string | null }>(
    `SELECT act, undone_at FROM bulk_change WHERE id = $1`,
    [id],
  );
  if (rows.length === 0 || rows[0].undone_at) throw new Refusal('clash', 'undone', 'There is nothing left to undo.');
  const { act } = rows[0];
  const bulk = db.lane('bulk');
  const types = await fieldTypes(db);
  const value = act.kind === 'set' ? (storedValue(types.get(act.field) ?? 'text', act.value.trim(), false) ?? '') : '';
  let undone = 0;
  for (let after = 0; ;) {
    const chunk = (
      await bulk.query<{ person_id: number; before: string | null }>(
        `SELECT person_id, before FROM bulk_change_person WHERE bulk_change_id = $1 AND person_id > $2 ORDER BY person_id LIMIT ${CHUNK}`,
        [id, after],
      )
    ).rows;
    if (chunk.length === 0) break;
    after = chunk[chunk.length - 1].person_id;
    const ids = chunk.map((row) => row.person_id);
    undone += await bulk.transaction(async (tx) => {
      if (act.kind === 'set') {
        const before = new Map(chunk.map((row) => [row.person_id, row.before]));
        const people = (await peopleById(tx, ids)).filter((person) => (person.fields[act.field] ?? '') === value);
        await updatePeople(
          tx,
          people.map((person) => {
            const fields = { ...person.fields };
            const old = before.get(person.id);
            if (old === null || old === undefined) delete fields[act.field];
            else fields[act.field] = old;
            return { ...person, fields };
          }),
          types,
          at,
        );
        return people.length;
      }
      const [table, column] = TABLES[act.kind];
      const done = (
        await tx.query(
          act.kind === 'tag' || act.kind === 'put_on'
            ? `DELETE FROM ${table} WHERE ${column} = $1 AND person_id = ANY ($2::bigint[])`
            : `INSERT INTO ${table} (${column}, person_id) SELECT t.id, p.id FROM ${act.kind === 'untag' ? 'tag' : 'list'} t, person p WHERE t.id = $1 AND p.id = ANY ($2::bigint[]) ON CONFLICT DO NOTHING`,
          [act.target, ids],
        )
      ).rowCount;
      if (act.kind === 'take_off')
        await keepThereFor(
          tx,
          act.target,
          chunk.flatMap(({ person_id, before }) =>
            (before?.split(' ') ?? []).map((each) => ({ person: person_id, dependant: Number(each) })),
          ),
          {},
        );
      return done;
    });
  }
  // of those who were on the list before, too
  await db.query(`DELETE FROM list_member_for WHERE bulk_change_id = $1`, [id]);
  await db.query(`UPDATE bulk_change SET undone_at = $2::timestamptz WHERE id = $1`, [id, at]);
  return undone;
}
