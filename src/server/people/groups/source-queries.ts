import type { Sources } from '../../../core/api/people/people';
import type { Queryable } from '../../db/db';
import { fieldDefs } from '../../setup/for-others';

/** Lists, tags and segments with how many are in them (but for segments), and the fields. */
export async function sourcesOf(db: Queryable): Promise<Omit<Sources, 'everyone' | 'cannot'>> {
  const [lists, tags, segments, fields] = await Promise.all([
    db.query<Sources['lists'][number]>(
      `SELECT list.id, list.name, list.filling_import, list.leave_after, coalesce(n, 0) AS people FROM list LEFT JOIN (SELECT list_id, count(*) AS n FROM list_member GROUP BY list_id) AS m ON list_id = list.id ORDER BY list.name`,
    ),
    db.query<Sources['tags'][number]>(
      `SELECT tag.id, tag.name, coalesce(n, 0) AS people FROM tag LEFT JOIN (SELECT tag_id, count(*) AS n FROM person_tag GROUP BY tag_id) AS m ON tag_id = tag.id ORDER BY tag.name`,
    ),
    db.query<Sources['segments'][number]>(`SELECT id, name, rule FROM segment ORDER BY name`),
    fieldDefs(db),
  ]);
  return { lists: lists.rows, tags: tags.rows, segments: segments.rows, fields };
}
