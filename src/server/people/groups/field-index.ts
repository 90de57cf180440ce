import type { FieldType } from '../../../core/merge/compile';
import type { Db } from '../../db/db';

/** A slug is of a-z, 0-9 and _ (it comes from slugOf), so it may stand in a statement; anything else has no index. */
const slugInSql = (slug: string): string | undefined => (/^[a-z][a-z0-9_]*$/.test(slug) ? slug : undefined);
const nameSql = (slug: string) => `person_field_${slug}`.slice(0, 63);

/**
 * Dates are asked about by ranges, which the index on all folded values cannot answer: each such field of
 * people gets an index of its own.
 */
export async function indexField(db: Pick<Db, 'exec'>, slug: string, type: FieldType): Promise<void> {
  const fieldSql = slugInSql(slug);
  if (type !== 'date' || fieldSql === undefined) return;
  await db.exec(`CREATE INDEX IF NOT EXISTS ${nameSql(fieldSql)} ON person (((folded->>'${fieldSql}') COLLATE "C"))`);
}

export async function dropFieldIndex(db: Pick<Db, 'exec'>, slug: string): Promise<void> {
  const fieldSql = slugInSql(slug);
  if (fieldSql !== undefined) await db.exec(`DROP INDEX IF EXISTS ${nameSql(fieldSql)}`);
}
