import { oneLine } from '../../core/text/tidy';
import { Type } from 'typebox';
import type { Condition } from '../../core/audience/condition';
import { explain, type Names } from '../../core/audience/words';
import { DEPENDANT_FIELDS, PERSON_FIELDS } from '../../core/people/person-fields';
import { isDuplicate } from '../db/db-error';
import type { Queryable } from '../db/db';
import { idOf, nothingHere, Problem } from '../http/problem';
import { route, type Route } from '../http/route';
import { checkedRule, countPeople, todayOf } from '../people/people-queries';
import { peopleById } from '../people/person-store';
import { writeRecord } from '../setup/record';
import { factsOf } from './facts';

const Body = Type.Object(
  { name: Type.String({ minLength: 1, maxLength: 100 }), rule: Type.Unknown() },
  { additionalProperties: false },
);

async function namesOf(db: Queryable): Promise<Names> {
  const fields = (await db.query<{ slug: string; label: string; about: string }>(`SELECT slug, label, about FROM field_def`))
    .rows;
  const lists = (await db.query<{ id: number; name: string }>(`SELECT id, name FROM list`)).rows;
  const tags = (await db.query<{ id: number; name: string }>(`SELECT id, name FROM tag`)).rows;
  const label = new Map([
    ...PERSON_FIELDS.map((f) => [`person ${f.slug}`, f.label] as const),
    ...DEPENDANT_FIELDS.map((f) => [`dependant ${f.slug}`, f.label] as const),
    ...fields.map((f) => [`${f.about} ${f.slug}`, f.label] as const),
  ]);
  return {
    field: (slug, about) => label.get(`${about} ${slug}`) ?? slug,
    list: (id) => lists.find((each) => each.id === id)?.name ?? 'a list that is gone',
    tag: (id) => tags.find((each) => each.id === id)?.name ?? 'a tag that is gone',
  };
}

function taken(error: unknown, name: string): never {
  if (isDuplicate(error)) throw new Problem(409, 'segment', `There is a segment “${name}” already.`, { place: 'name' });
  throw error;
}

export const segmentRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/segments',
    role: 'look',
    says: 'Segments with their rules and how many people are in each just now',
    async handle(app, asked) {
      const today = await todayOf(app.db, asked.now);
      const { rows } = await app.db.query<{ id: number; name: string; rule: Condition }>(
        `SELECT id, name, rule FROM segment ORDER BY name`,
      );
      const segments = [];
      for (const row of rows) segments.push({ ...row, people: await countPeople(app.db, { rule: row.rule }, today) });
      return { segments };
    },
  }),
  route({
    method: 'post',
    path: '/api/segments',
    role: 'write',
    says: 'Makes a segment from a rule',
    body: Body,
    async handle(app, asked) {
      const name = oneLine(asked.body.name);
      const rule = await checkedRule(app.db, asked.body.rule);
      const { rows } = await app.db
        .query<{ id: number }>(
          `INSERT INTO segment (name, rule, created_at, updated_at) VALUES ($1, $2::jsonb, $3::timestamptz, $3::timestamptz) RETURNING id`,
          [name, JSON.stringify(rule), asked.at],
        )
        .catch((error: unknown) => taken(error, name));
      await writeRecord(app.db, asked, 'made a segment', name);
      app.bus.changed('people');
      return { id: rows[0].id };
    },
  }),
  route({
    method: 'put',
    path: '/api/segments/:id',
    role: 'write',
    says: 'Changes a segment’s name or rule',
    body: Body,
    async handle(app, asked) {
      const name = oneLine(asked.body.name);
      const rule = await checkedRule(app.db, asked.body.rule);
      const changed = await app.db
        .query(`UPDATE segment SET name = $2, rule = $3::jsonb, updated_at = $4::timestamptz WHERE id = $1`, [
          idOf(asked.params.id),
          name,
          JSON.stringify(rule),
          asked.at,
        ])
        .catch((error: unknown) => taken(error, name));
      if (changed.rowCount === 0) throw nothingHere();
      await writeRecord(app.db, asked, 'changed a segment', name);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'delete',
    path: '/api/segments/:id',
    role: 'write',
    says: 'Deletes a segment; the people stay',
    async handle(app, asked) {
      const gone = await app.db.query<{ name: string }>(`DELETE FROM segment WHERE id = $1 RETURNING name`, [
        idOf(asked.params.id),
      ]);
      if (gone.rowCount === 0) throw nothingHere();
      await writeRecord(app.db, asked, 'deleted a segment', gone.rows[0].name);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/segments/why',
    role: 'look',
    says: 'Why a person is in or out of a rule: each condition, whether it holds, and what they have',
    body: Type.Object({ rule: Type.Unknown(), person_id: Type.Integer() }, { additionalProperties: false }),
    async handle(app, asked) {
      const rule = await checkedRule(app.db, asked.body.rule);
      const facts = (await factsOf(app.db, [asked.body.person_id])).get(asked.body.person_id);
      if (!facts) throw nothingHere();
      const [stored] = await peopleById(app.db, [asked.body.person_id]);
      const own: Record<string, string | null> = {
        ...stored.fields,
        given_name: stored.given_name,
        family_name: stored.family_name,
        reference: stored.reference,
        number: stored.number,
        country: stored.number_country,
        kind: stored.number_kind,
        language: stored.language,
        zone: stored.zone,
        born: stored.born,
      };
      return {
        why: explain(rule, facts, await todayOf(app.db, asked.now), await namesOf(app.db), (slug) => own[slug] || undefined),
      };
    },
  }),
  route({
    method: 'get',
    path: '/api/fields/:about/:slug/values',
    role: 'look',
    says: 'The values a field has, the most frequent first; for choosing among them',
    async handle(app, asked) {
      const slug = asked.params.slug;
      const dependant = asked.params.about === 'dependant';
      const table = dependant ? 'dependant' : 'person';
      const column: string | undefined = {
        given_name: 'given_name',
        family_name: 'family_name',
        reference: 'reference',
        language: 'language',
        zone: 'zone',
        country: 'number_country',
        kind: 'number_kind',
      }[slug];
      if (column !== undefined && dependant && !['given_name', 'family_name', 'reference'].includes(column))
        return { values: [] };
      const value = column ?? `fields->>$1::text`;
      const { rows } = await app.db.query<{ value: string; n: number }>(
        `SELECT ${value} AS value, count(*) AS n FROM ${table} WHERE $1::text IS NOT NULL AND coalesce(${value}, '') <> '' GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 60`,
        [slug],
      );
      return { values: rows };
    },
  }),
];
