import { createHash } from 'node:crypto';
import { fold } from '../../../core/text/fold';
import type { KnownFields } from '../../../core/people/match';
import type { Target } from '../../../core/people/targets';
import type { Queryable } from '../../db/db';

/** The same headings, whatever their case and accents, are the same kind of file. */
function hashOf(headings: readonly string[]): string {
  return createHash('sha256').update(headings.map(fold).join('\n')).digest('hex');
}

/** The match last used for a file with these headings; fields that have gone since are left out. */
export async function rememberedMatch(
  db: Queryable,
  headings: readonly string[],
  known: KnownFields,
): Promise<Target[] | undefined> {
  const { rows } = await db.query<{ match: Target[] }>(`SELECT match FROM match_memory WHERE headings_hash = $1`, [
    hashOf(headings),
  ]);
  return rows[0]?.match.map((target) => {
    const [, about, slug] = /^(dependant:)?field:(.+)$/.exec(target) ?? [];
    return slug === undefined || known[about ? 'dependant' : 'person'].has(slug) ? target : 'skip';
  });
}

export async function rememberMatch(
  db: Queryable,
  headings: readonly string[],
  match: readonly string[],
  at: string,
): Promise<void> {
  await db.query(
    `INSERT INTO match_memory (headings_hash, match, used_at) VALUES ($1, $2::jsonb, $3::timestamptz) ON CONFLICT (headings_hash) DO UPDATE SET match = $2::jsonb, used_at = $3::timestamptz`,
    [hashOf(headings), JSON.stringify(match), at],
  );
}
