import type { ImportFacts, StagedImport } from '../../../core/api/people/imports';
import { LONGEST_LIST, namesIn } from '../../../core/people/targets';
import { Refusal } from '../../../core/api/refusal';
import { fold } from '../../../core/text/fold';
import { oneLine } from '../../../core/text/tidy';
import type { Queryable } from '../../db/db';
import { refuseAlike } from '../../db/named-alike';
import { MOST_ROWS } from '../../files/table';

type Filling = Pick<StagedImport, 'id' | 'settings' | 'facts'>;

/**
 * The lists that an import fills, marked as being filled from its decision on, so that nothing goes to a half of them: the one that was
 * chosen on the bench, and those that columns of the file name. @throws Refusal where another import fills one, or they are too many
 */
export async function fillLists(tx: Queryable, staged: Filling, at: string): Promise<Partial<ImportFacts>> {
  const facts: Partial<ImportFacts> = {};
  const list = oneLine(staged.settings.list);
  if (list !== '') {
    await refuseAlike(tx, 'list', list, { place: 'list' });
    const { id, made } = await fill(tx, list, staged.id, at);
    Object.assign(facts, { list_id: id, list_made: made });
  }
  const named = await listsOfColumns(tx, staged);
  if (named.size > 0) facts.lists = [];
  for (const [key, name] of named) facts.lists?.push({ key, ...(await fill(tx, name, staged.id, at)) });
  return facts;
}

/** Marks a list as being filled, and makes it where there is none of the name. @throws Refusal where another import is filling it */
async function fill(tx: Queryable, name: string, id: number, at: string): Promise<{ id: number; made: boolean }> {
  const made = await tx.query(
    `INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz) ON CONFLICT (name) DO NOTHING RETURNING id`,
    [name, at],
  );
  const filling = await tx.query<{ id: number }>(
    `UPDATE list SET filling_import = $2 WHERE name = $1 AND (filling_import IS NULL OR filling_import = $2) RETURNING id`,
    [name, id],
  );
  if (filling.rowCount === 0)
    throw new Refusal('clash', 'filling', `Another import is being written into “${name}” just now.`, {
      kept: 'The file is still on the bench.',
      act: 'Try again when it has ended.',
    });
  return { id: filling.rows[0].id, made: made.rowCount > 0 };
}

/** A column with more names than these is no column of lists. */
const MOST_LISTS = 100;

/**
 * The lists that columns of the file name, by how they are folded: a list that is there under the same letters is that list.
 * @throws Refusal 422 where they are so many that the column must be something else
 */
async function listsOfColumns(tx: Queryable, { id, settings, facts }: Filling): Promise<Map<string, string>> {
  const columns = settings.match.flatMap((target, column) => (target === 'lists' ? [column] : []));
  const found = new Map<string, string>();
  if (columns.length === 0) return found;
  const there = new Map(
    (await tx.query<{ name: string }>(`SELECT name FROM list`)).rows.map(({ name }) => [fold(name), name] as const),
  );
  for (const column of columns) {
    const { rows } = await tx.query<{ cell: string }>(
      `SELECT DISTINCT cells[$2::int] AS cell FROM import_row WHERE import_id = $1 AND row_no BETWEEN $3::int AND $4::int AND cells[$2::int] <> '' ORDER BY 1 LIMIT 5001`,
      [id, column + 1, Math.max(settings.first_row, settings.heading_row + 1), settings.last_row ?? MOST_ROWS],
    );
    for (const { cell } of rows)
      for (const each of namesIn(cell)) {
        const name = oneLine(each).slice(0, LONGEST_LIST);
        const key = fold(name);
        if (name !== '') found.set(key, there.get(key) ?? found.get(key) ?? name);
      }
    if (found.size > MOST_LISTS)
      throw new Refusal(
        'wrong',
        'lists',
        `“${facts.headings[column] ?? `Column ${column + 1}`}” names more than ${MOST_LISTS} lists. Is it something else?`,
        { place: 'match', kept: 'The file is still on the bench, and nothing was brought in.' },
      );
  }
  return found;
}
