import type { EarlierText, PreparedKind, PreparedText } from '../../core/api/sending/templates';
import { fold } from '../../core/text/fold';
import type { Queryable } from '../db/db';
import { isDuplicate } from '../db/db-error';

export const PREPARED_PAGE = 100;

type Kept = Pick<PreparedText, 'kind' | 'folder' | 'name' | 'words' | 'links'>;

/** What stands in a search means nothing else. */
const patternOf = (search: string | undefined): string | null => {
  const folded = fold(search ?? '');
  return folded === '' ? null : `%${folded.replace(/[\\%_]/g, '\\$&')}%`;
};
const foundBy = (text: Kept) => fold([text.folder, text.name, ...Object.values(text.words)].join(' '));

export async function listPrepared(
  db: Queryable,
  wanted: { kind: PreparedKind; search?: string; skip?: number },
): Promise<{ texts: PreparedText[]; total: number }> {
  const which = `kind = $1 AND ($2::text IS NULL OR found LIKE $2)`;
  const asked = [wanted.kind, patternOf(wanted.search)];
  const { rows } = await db.query<PreparedText>(
    `SELECT prepared_text.id, kind, folder, prepared_text.name, words, links, version, updated_at, account.name AS by
     FROM prepared_text LEFT JOIN account ON account.id = prepared_text.account_id
     WHERE ${which} ORDER BY folded COLLATE "C", prepared_text.id LIMIT ${PREPARED_PAGE} OFFSET $3::int`,
    [...asked, wanted.skip ?? 0],
  );
  const total = (await db.query<{ n: number }>(`SELECT count(*) AS n FROM prepared_text WHERE ${which}`, asked)).rows[0].n;
  return { texts: rows, total };
}

export async function foldersOf(db: Queryable): Promise<string[]> {
  const { rows } = await db.query<{ folder: string }>(
    `SELECT DISTINCT folder FROM prepared_text WHERE kind = 'template' AND folder <> '' ORDER BY folder`,
  );
  return rows.map(({ folder }) => folder);
}

/** Texts that were sent, each wording once and as it went last; `first` is the language of the words of each draft. */
export async function earlierTexts(
  db: Queryable,
  first: string,
  wanted: { search?: string; skip?: number },
): Promise<{ texts: EarlierText[]; total: number }> {
  const pattern = wanted.search?.trim() ? `%${wanted.search.trim().replace(/[\\%_]/g, '\\$&')}%` : null;
  const which = `run.started_at IS NOT NULL AND run.words <> ''
    AND ($1::text IS NULL OR run.name ILIKE $1 OR run.words ILIKE $1
      OR EXISTS (SELECT 1 FROM run_translation t WHERE t.run_id = run.id AND t.words ILIKE $1))`;
  const { rows } = await db.query<
    Omit<EarlierText, 'words'> & {
      words: string;
      translations: Record<string, string> | null;
      link: EarlierText['links'][number] | null;
    }
  >(
    `SELECT * FROM (
       SELECT DISTINCT ON (run.words) run.id AS run_id, run.name, run.due_at AS at, run.people, run.words,
         run_translations(run.id) AS translations, broadcast.draft->'link' AS link, coalesce(broadcast.draft->'links', '[]') AS links,
         broadcast.draft->>'opt_out' AS opt_out
       FROM run JOIN broadcast ON broadcast.id = run.broadcast_id WHERE ${which}
       ORDER BY run.words, run.id DESC
     ) AS sent ORDER BY at DESC, run_id DESC LIMIT ${PREPARED_PAGE} OFFSET $2::int`,
    [pattern, wanted.skip ?? 0],
  );
  const total = (await db.query<{ n: number }>(`SELECT count(DISTINCT run.words) AS n FROM run WHERE ${which}`, [pattern]))
    .rows[0].n;
  return {
    texts: rows.map(({ words, translations, link, links, ...text }) => ({
      ...text,
      words: { ...translations, [first]: words },
      links: link ? [link, ...links] : links,
    })),
    total,
  };
}

/** What is kept of a text, in the order in which both statements name it. */
const columnsOf = (text: Kept & { account: number; at: string }) => [
  text.folder,
  text.name,
  foldedName(text),
  foundBy(text),
  JSON.stringify(text.words),
  JSON.stringify(text.links),
  text.account,
  text.at,
];

/** The name of a text, folded, is there once in its kind and folder; undefined when it is there already. */
export async function insertPrepared(db: Queryable, text: Kept & { account: number; at: string }): Promise<number | undefined> {
  try {
    const { rows } = await db.query<{ id: number }>(
      `INSERT INTO prepared_text (kind, folder, name, folded, found, words, links, account_id, updated_at)
       VALUES ($1, $2, $3, $4, $5, $6::jsonb, $7::jsonb, $8, $9::timestamptz) RETURNING id`,
      [text.kind, ...columnsOf(text)],
    );
    return rows[0].id;
  } catch (error) {
    if (isDuplicate(error)) return undefined;
    throw error;
  }
}

/** Folder before name, apart from each other by what stands in neither. */
const foldedName = ({ folder, name }: Pick<Kept, 'folder' | 'name'>) => `${fold(folder)}\u{1f}${fold(name)}`;

export async function preparedById(
  db: Queryable,
  id: number,
): Promise<Pick<PreparedText, 'kind' | 'name' | 'version'> | undefined> {
  return (
    await db.query<Pick<PreparedText, 'kind' | 'name' | 'version'>>(
      `SELECT kind, name, version FROM prepared_text WHERE id = $1`,
      [id],
    )
  ).rows[0];
}

/** The new version; `changed` when it is not the version it was made from, `taken` when there is one of that name. */
export async function savePrepared(
  db: Queryable,
  id: number,
  text: Kept & { version: number; account: number; at: string },
): Promise<number | 'changed' | 'taken'> {
  try {
    const { rows } = await db.query<{ version: number }>(
      `UPDATE prepared_text SET folder = $3, name = $4, folded = $5, found = $6, words = $7::jsonb, links = $8::jsonb,
         account_id = $9, updated_at = $10::timestamptz, version = version + 1
       WHERE id = $1 AND version = $2 RETURNING version`,
      [id, text.version, ...columnsOf(text)],
    );
    return rows[0]?.version ?? 'changed';
  } catch (error) {
    if (isDuplicate(error)) return 'taken';
    throw error;
  }
}

export async function deletePrepared(db: Queryable, id: number): Promise<boolean> {
  return (await db.query(`DELETE FROM prepared_text WHERE id = $1`, [id])).rowCount > 0;
}
