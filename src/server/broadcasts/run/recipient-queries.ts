import type { PartStory, Recipient, recipients, WhichRecipients } from '../../../core/api/sending/recipients';
import type { Answer } from '../../../core/api/endpoint';
import { fold } from '../../../core/text/fold';
import { Binder } from '../../address-book/for-others';
import type { Db, Queryable } from '../../db/db';
import { outcomeSql } from '../../outcomes/for-others';

const PAGE = 100;
/** The text for opting out that followed, and what became of it. */
const AFTER = `(SELECT jsonb_build_object('body', f.body, 'parts', f.parts, 'state', f.state, 'reason', f.reason) FROM outbound f WHERE f.follows = o.id) AS after`;
/** Whom a file named is called so: the text did, too. */
const ROW = `o.id, o.person_id, coalesce(o.named->>'given_name', person.given_name) AS given_name,
  coalesce(o.named->>'family_name', person.family_name) AS family_name, o.number, o.parts, o.state, o.reason, o.due_at, o.handed_at, o.final_at, o.body,
  coalesce(o.language, person.language) AS language, person.zone, ${AFTER}`;
const FROM = `FROM outbound o LEFT JOIN person ON person.id = o.person_id`;

/** Which recipients, as SQL. */
function whereOf(run: number, wanted: WhichRecipients, binder: Binder): string {
  const parts = [`o.run_id = ${binder.bind(run, 'bigint')}`, `o.kind = 'run'`];
  if (wanted.state) parts.push(`o.state = ${binder.bind(wanted.state, 'text')}`);
  if (wanted.reason) parts.push(`o.reason = ${binder.bind(wanted.reason, 'text')}`);
  if (wanted.outcome) parts.push(outcomeSql(wanted.outcome));
  // nothing known is asked for as "none"
  const known = (column: string, value: string) =>
    value === 'none' ? `${column} IS NULL` : `${column} = ${binder.bind(value, 'text')}`;
  if (wanted.language) parts.push(known('coalesce(o.language, person.language)', wanted.language));
  if (wanted.zone) parts.push(known('person.zone', wanted.zone));
  const search = fold(wanted.search ?? '').trim();
  if (search !== '') {
    const digits = search.replace(/\D/g, '');
    // a number is found however it is written
    parts.push(
      digits.length >= 3
        ? `o.number LIKE ${binder.bind(`%${digits}%`, 'text')}`
        : `coalesce(o.named->>'search', person.search) LIKE ${binder.bind(`%${search.replace(/[\\%_]/g, '\\$&')}%`, 'text')}`,
    );
  }
  return parts.join(' AND ');
}

/** A page of recipients of a run, after an id. */
export async function recipientsOf(
  db: Queryable,
  run: number,
  { after = 0, ...wanted }: WhichRecipients & { after?: number },
): Promise<Recipient[]> {
  const binder = new Binder();
  const where = whereOf(run, wanted, binder);
  return (
    await db.query<Recipient>(
      `SELECT ${ROW} ${FROM} WHERE ${where} AND o.id > ${binder.bind(after, 'bigint')} ORDER BY o.id LIMIT ${PAGE}`,
      binder.params,
    )
  ).rows;
}

/** Every one of them, in pages. */
export function streamRecipients(db: Db, run: number, wanted: WhichRecipients): AsyncIterable<Recipient[]> {
  const binder = new Binder();
  const where = whereOf(run, wanted, binder);
  return db.stream<Recipient>(`SELECT ${ROW} ${FROM} WHERE ${where} ORDER BY o.id`, binder.params, 2000);
}

/** Languages and zones of a run's recipients as they are known now, the most common first. */
export async function kindsOfRecipients(db: Queryable, run: number): Promise<Answer<typeof recipients.kinds>> {
  const by = async <T>(column: string, asSql: string) =>
    (
      await db.query<T>(
        `SELECT ${column} AS ${asSql}, count(*) AS n ${FROM} WHERE o.run_id = $1 AND o.kind = 'run' GROUP BY 1 ORDER BY n DESC, 1 LIMIT 60`,
        [run],
      )
    ).rows;
  return {
    languages: await by('coalesce(o.language, person.language)', 'language'),
    zones: await by('person.zone', 'zone'),
  };
}

/** The parts of one text of a run, in order. */
export async function partsOf(db: Queryable, run: number, text: number): Promise<PartStory[]> {
  return (
    await db.query<PartStory>(
      `SELECT part_no AS no, p.state, p.reason, message_id, attempts, written_at, accepted_at, p.final_at
       FROM outbound_part p JOIN outbound o ON o.id = outbound_id WHERE outbound_id = $1 AND o.run_id = $2 ORDER BY part_no`,
      [text, run],
    )
  ).rows;
}
