import type { FieldType } from '../../../core/merge/compile';
import type { ExportQuery } from '../../../core/api/people/people';
import { Binder, type StoredPerson } from '../../address-book/for-others';
import type { Db, Queryable } from '../../db/db';
import { filterOf, REACH_CASE, todayOf, whereOf } from '../people-queries';

export type Exported = StoredPerson & {
  reach: string;
  tags: string[];
  lists: string[];
  dependants: string[];
  marketing: string | null;
  created_at: string;
};

/** The people of a filter in their order by name, page by page. What is wrong with the filter is said before anything is given. */
export async function exportedPeople(db: Db, query: ExportQuery, now: number): Promise<AsyncIterable<Exported[]>> {
  const binder = new Binder();
  const where = whereOf(await filterOf(db, query), binder, await todayOf(db, now));
  return db.stream<Exported>(
    `SELECT person.*, ${REACH_CASE} AS reach,
       ARRAY(SELECT tag.name FROM person_tag JOIN tag ON tag.id = tag_id WHERE person_id = person.id ORDER BY tag.name) AS tags,
       ARRAY(SELECT list.name FROM list_member JOIN list ON list.id = list_id WHERE person_id = person.id ORDER BY list.name) AS lists,
       ARRAY(SELECT d.given_name FROM guardianship g JOIN dependant d ON d.id = g.dependant_id WHERE g.person_id = person.id ORDER BY d.sort_name, d.id) AS dependants,
       (SELECT act FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'marketing' ORDER BY c.id DESC LIMIT 1) AS marketing
     FROM person WHERE ${where} ORDER BY sort_name, id`,
    binder.params,
    2000,
  );
}

/** The workspace's own fields of people, in their order. */
export async function ownFields(db: Queryable): Promise<{ slug: string; label: string; type: FieldType }[]> {
  return (
    await db.query<{ slug: string; label: string; type: FieldType }>(
      `SELECT slug, label, type FROM field_def WHERE about = 'person' ORDER BY position, label`,
    )
  ).rows;
}
