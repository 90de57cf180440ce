import type { Condition } from '../../../core/audience/condition';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Queryable } from '../../db/db';

const SIDES = ['to', 'leave_out'] as const;

/**
 * Lists, tags, segments and the field that a draft names and that have been deleted since. Without a word, fewer people would get it,
 * those to be left out would, or nobody would be named.
 */
export async function goneSources(db: Queryable, draft: Draft): Promise<string[]> {
  const said: string[] = [];
  for (const kind of ['list', 'tag', 'segment'] as const)
    for (const side of SIDES) {
      const ids = [...new Set(draft[side].flatMap((source) => (source.kind === kind ? [source.id] : [])))];
      if (ids.length === 0) continue;
      const { rowCount } = await db.query(`SELECT id FROM ${kind} WHERE id = ANY ($1::bigint[])`, [ids]);
      if (rowCount < ids.length)
        said.push(
          `A ${kind} that ${side === 'to' ? 'it goes to' : 'it leaves out'} has been deleted. Take it away, or choose another.`,
        );
    }
  if (draft.about) {
    const { rowCount } = await db.query(`SELECT 1 FROM field_def WHERE about = 'dependant' AND slug = $1`, [draft.about.field]);
    if (rowCount === 0)
      said.push('The field of dependants that says whom the texts are about has been deleted. Take it away, or choose another.');
  }
  if (draft.when.kind === 'import') {
    const { rowCount } = await db.query(`SELECT id FROM list WHERE id = $1`, [draft.when.list_id]);
    if (rowCount === 0)
      said.push(
        draft.when.list_id === 0
          ? 'It is not chosen yet with which list’s imports it goes.'
          : 'The list whose imports it goes with has been deleted. Choose another.',
      );
  }
  return said;
}

/**
 * Lists that an import is still filling and that the draft depends on: named as a source or left out, directly or through a
 * segment built on them.
 */
export async function fillingLists(db: Queryable, draft: Draft): Promise<{ name: string; side: 'to' | 'leave_out' }[]> {
  const { rows: filling } = await db.query<{ id: number; name: string }>(
    `SELECT id, name FROM list WHERE filling_import IS NOT NULL ORDER BY id`,
  );
  if (filling.length === 0) return [];
  const found: { name: string; side: 'to' | 'leave_out' }[] = [];
  for (const side of SIDES) {
    const lists = new Set(draft[side].flatMap((source) => (source.kind === 'list' ? [source.id] : [])));
    const segments = draft[side].flatMap((source) => (source.kind === 'segment' ? [source.id] : []));
    if (segments.length > 0) {
      const { rows } = await db.query<{ rule: Condition }>(`SELECT rule FROM segment WHERE id = ANY ($1::bigint[])`, [segments]);
      for (const { rule } of rows) for (const list of listsOf(rule)) lists.add(list);
    }
    // everyone, tags and segments over other fields change with any import; those are decided person by person at the claim
    for (const { id, name } of filling) if (lists.has(id)) found.push({ name, side });
  }
  return found;
}

function listsOf(rule: Condition): number[] {
  if ('op' in rule) return rule.of.flatMap(listsOf);
  return rule.on === 'list' ? [...rule.ids] : [];
}
