import type { KnownPerson } from '../../../core/api/people/people';
import type { Answer } from '../../../core/api/endpoint';
import { people as endpoints } from '../../../core/api/people/people';
import { fold } from '../../../core/text/fold';
import type { Queryable, Tx } from '../../db/db';
import { REACH_CASE } from '../people-queries';
import { STORED } from '../../address-book/for-others';

type Part<K extends keyof KnownPerson> = KnownPerson[K] extends (infer Row)[] ? Row : never;

/** Everything known about a person: consent, dependants, and what went to and came from their number. */
export async function knownPerson(db: Queryable, id: number): Promise<KnownPerson | undefined> {
  const columns = [...STORED, 'created_at', 'updated_at'].map((column) => `person.${column}`).join(', ');
  const person = (
    await db.query<KnownPerson['person']>(
      `SELECT ${columns}, ${REACH_CASE} AS reach,
         (SELECT count(*) FROM person other WHERE other.number = person.number AND other.id <> person.id) AS shares FROM person WHERE id = $1`,
      [id],
    )
  ).rows[0];
  if (!person) return undefined;
  const [lists, tags, consent, sent, received, dependants, sharers, suppressed] = await Promise.all([
    db.query<Part<'lists'>>(
      `SELECT list.id, list.name FROM list JOIN list_member ON list_id = list.id WHERE person_id = $1 ORDER BY name`,
      [id],
    ),
    db.query<Part<'tags'>>(
      `SELECT tag.id, tag.name FROM tag JOIN person_tag ON tag_id = tag.id WHERE person_id = $1 ORDER BY name`,
      [id],
    ),
    db.query<Part<'consent'>>(
      `SELECT c.purpose, c.act, c.how, c.evidence, c.wording, c.number, c.at, account.name AS by FROM consent_event c LEFT JOIN account ON account.id = c.account_id WHERE person_id = $1 ORDER BY c.id DESC LIMIT 50`,
      [id],
    ),
    db.query<Part<'texts'>>(
      `SELECT outbound.id, 'to' AS direction, body, coalesce(outbound.handed_at, outbound.due_at) AS at, outbound.state, outbound.reason, run.name AS run, run_id FROM outbound LEFT JOIN run ON run.id = run_id
       WHERE outbound.person_id = $1 OR outbound.number = $2 ORDER BY outbound.id DESC LIMIT 30`,
      [id, person.number],
    ),
    db.query<Part<'texts'>>(
      `SELECT id, 'from' AS direction, body, received_at AS at, kind FROM inbound WHERE number = $1 ORDER BY id DESC LIMIT 30`,
      [person.number],
    ),
    db.query<Part<'dependants'>>(
      `SELECT d.id, d.given_name, d.family_name, d.reference, d.born, d.fields, g.contact, g.must_not_receive,
         (SELECT json_agg(json_build_object('id', p.id, 'name', trim(p.given_name || ' ' || p.family_name), 'contact', o.contact) ORDER BY o.contact, p.id)
          FROM guardianship o JOIN person p ON p.id = o.person_id WHERE o.dependant_id = d.id AND o.person_id <> $1) AS others
       FROM guardianship g JOIN dependant d ON d.id = g.dependant_id WHERE g.person_id = $1 ORDER BY d.sort_name, d.id`,
      [id],
    ),
    db.query<Part<'sharers'>>(
      `SELECT id, given_name, family_name FROM person WHERE number = $1 AND id <> $2 ORDER BY id LIMIT 10`,
      [person.number, id],
    ),
    db.query<NonNullable<KnownPerson['suppressed']>>(`SELECT at, how, words FROM suppression WHERE number = $1`, [person.number]),
  ]);
  return {
    person,
    lists: lists.rows,
    tags: tags.rows,
    consent: consent.rows,
    texts: [...sent.rows, ...received.rows],
    dependants: dependants.rows,
    sharers: sharers.rows,
    suppressed: suppressed.rows[0] ?? null,
  };
}

/** People who may be the same as this one: by number, reference or name. */
export async function twinsOf(
  db: Queryable,
  person: { id: number; given_name: string; family_name: string; number: string | null; reference: string | null },
): Promise<Answer<typeof endpoints.twins>['people']> {
  return (
    await db.query<Answer<typeof endpoints.twins>['people'][number]>(
      `SELECT id, given_name, family_name, number, reference FROM person
       WHERE id <> $1 AND (number = $2 OR reference = $3 OR ($4 <> '' AND sort_name = $4)) ORDER BY sort_name, id LIMIT 20`,
      [person.id, person.number, person.reference, fold(`${person.family_name} ${person.given_name}`)],
    )
  ).rows;
}

export async function insertConsent(
  tx: Tx,
  said: {
    person: number;
    number: string;
    purpose: 'service' | 'marketing';
    act: 'granted' | 'withdrawn';
    how: string;
    evidence: string;
    wording: string;
    account: number;
    at: string;
  },
): Promise<void> {
  await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, account_id, at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9::timestamptz)`,
    [said.person, said.number, said.purpose, said.act, said.how, said.evidence, said.wording, said.account, said.at],
  );
}

/** A person's number and whether it can be texted, as it is now. */
export async function reachOf(tx: Tx, id: number): Promise<{ number: string | null; reach: string } | undefined> {
  return (
    await tx.query<{ number: string | null; reach: string }>(`SELECT number, ${REACH_CASE} AS reach FROM person WHERE id = $1`, [
      id,
    ])
  ).rows[0];
}

/** Locks a person while they are changed. */
export async function lockPerson(tx: Tx, id: number): Promise<void> {
  await tx.query(`SELECT id FROM person WHERE id = $1 FOR UPDATE`, [id]);
}

/** The first of those who have a number, but for one of them. */
export async function sharersOf(db: Queryable, number: string, except: number): Promise<{ id: number; name: string }[]> {
  return (
    await db.query<{ id: number; name: string }>(
      `SELECT id, trim(given_name || ' ' || family_name) AS name FROM person WHERE number = $1 AND id <> $2 ORDER BY id LIMIT 10`,
      [number, except],
    )
  ).rows;
}

/** Whose numbers these are: of several who share one, the first. */
export async function namesOfNumbers(db: Queryable, numbers: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await db.query<{ number: string; name: string }>(
    `SELECT DISTINCT ON (number) number, trim(given_name || ' ' || family_name) AS name FROM person WHERE number = ANY ($1::text[]) ORDER BY number, id`,
    [numbers],
  );
  return new Map(rows.map((row) => [row.number, row.name]));
}
