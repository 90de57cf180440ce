import type { Condition } from '../../../core/audience/condition';
import type { FieldType } from '../../../core/merge/compile';
import type { Queryable } from '../../db/db';

type Kind = 'list' | 'tag';
const MEMBERS = { list: ['list_member', 'list_id'], tag: ['person_tag', 'tag_id'] } as const;

export async function insertGroup(db: Queryable, kind: Kind, name: string, at: string): Promise<number> {
  const { rows } =
    kind === 'list'
      ? await db.query<{ id: number }>(`INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz) RETURNING id`, [
          name,
          at,
        ])
      : await db.query<{ id: number }>(`INSERT INTO tag (name) VALUES ($1) RETURNING id`, [name]);
  return rows[0].id;
}

export async function renameGroup(db: Queryable, kind: Kind, id: number, name: string): Promise<boolean> {
  return (await db.query(`UPDATE ${kind} SET name = $2 WHERE id = $1`, [id, name])).rowCount > 0;
}

/** The name of a list whose rule is changed; undefined when there is none. */
export async function setLeaveAfter(db: Queryable, id: number, after: number | null): Promise<string | undefined> {
  const { rows } = await db.query<{ name: string }>(`UPDATE list SET leave_after = $2 WHERE id = $1 RETURNING name`, [id, after]);
  return rows[0]?.name;
}

/** The words by which people are still put on a list, or under a tag. */
export async function keywordsOf(db: Queryable, kind: Kind, id: number): Promise<string[]> {
  const { rows } = await db.query<{ word: string }>(
    `SELECT word FROM keyword WHERE ended_at IS NULL AND ${kind}_id = $1 ORDER BY word`,
    [id],
  );
  return rows.map(({ word }) => word);
}

/** Deletes a list that is not being filled, or a tag; answers its name. */
export async function deleteGroup(db: Queryable, kind: Kind, id: number): Promise<string | undefined> {
  const { rows } = await db.query<{ name: string }>(
    kind === 'list'
      ? `DELETE FROM list WHERE id = $1 AND filling_import IS NULL RETURNING name`
      : `DELETE FROM tag WHERE id = $1 RETURNING name`,
    [id],
  );
  return rows[0]?.name;
}

export async function putMember(db: Queryable, kind: Kind, id: number, person: number): Promise<void> {
  const [table, column] = MEMBERS[kind];
  await db.query(
    `INSERT INTO ${table} (${column}, person_id) SELECT ${kind}.id, person.id FROM ${kind}, person WHERE ${kind}.id = $1 AND person.id = $2 ON CONFLICT DO NOTHING`,
    [id, person],
  );
}

export async function takeMember(db: Queryable, kind: Kind, id: number, person: number): Promise<void> {
  const [table, column] = MEMBERS[kind];
  await db.query(`DELETE FROM ${table} WHERE ${column} = $1 AND person_id = $2`, [id, person]);
}

/** Every segment's name and rule, for seeing what stands on what. */
export async function segmentRules(db: Queryable): Promise<{ name: string; rule: Condition }[]> {
  return (await db.query<{ name: string; rule: Condition }>(`SELECT name, rule FROM segment ORDER BY name`)).rows;
}

/** A new field, last in order; false when there is one of that name. */
export async function insertField(
  db: Queryable,
  field: { about: 'person' | 'dependant'; slug: string; label: string; type: FieldType; choices: readonly string[] },
): Promise<boolean> {
  const added = await db.query(
    `INSERT INTO field_def (about, slug, label, type, choices, position)
     SELECT $1, $2, $3, $4, $5::text[], coalesce(max(position) + 1, 0) FROM field_def WHERE about = $1 ON CONFLICT DO NOTHING`,
    [field.about, field.slug, field.label, field.type, field.choices],
  );
  return added.rowCount > 0;
}

export async function changeField(
  db: Queryable,
  about: string,
  slug: string,
  to: { label: string; choices: readonly string[] },
): Promise<boolean> {
  const changed = await db.query(`UPDATE field_def SET label = $3, choices = $4::text[] WHERE about = $1 AND slug = $2`, [
    about,
    slug,
    to.label,
    to.choices,
  ]);
  return changed.rowCount > 0;
}

/** Puts fields in the order given; those that are not named come after, as they were. */
export async function orderFields(db: Queryable, about: string, slugs: readonly string[]): Promise<void> {
  await db.query(
    `UPDATE field_def SET position = coalesce(array_position($2::text[], slug), cardinality($2::text[]) + position + 1) WHERE about = $1`,
    [about, slugs],
  );
}

export async function deleteField(db: Queryable, about: string, slug: string): Promise<boolean> {
  return (await db.query(`DELETE FROM field_def WHERE about = $1 AND slug = $2`, [about, slug])).rowCount > 0;
}
