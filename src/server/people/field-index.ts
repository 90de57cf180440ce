import type { FieldType } from '../../core/merge/compile';
import type { Db } from '../db/db';

const nameOf = (slug: string) => `person_field_${slug}`.slice(0, 63);

/**
 * Dates are asked about by ranges, which the index on all folded values cannot answer: each such field of
 * people gets an index of its own. The slug is of a-z, 0-9 and _ (it comes from slugOf), so it may stand in the statement.
 */
export async function indexField(db: Pick<Db, 'exec'>, slug: string, type: FieldType): Promise<void> {
  if (type !== 'date' || !/^[a-z][a-z0-9_]*$/.test(slug)) return;
  await db.exec(`CREATE INDEX IF NOT EXISTS ${nameOf(slug)} ON person (((folded->>'${slug}') COLLATE "C"))`);
}

export async function dropFieldIndex(db: Pick<Db, 'exec'>, slug: string): Promise<void> {
  if (/^[a-z][a-z0-9_]*$/.test(slug)) await db.exec(`DROP INDEX IF EXISTS ${nameOf(slug)}`);
}
