import { oneLine } from '../../core/text/tidy';
import { Type } from 'typebox';
import type { Condition } from '../../core/audience/condition';
import { slugOf } from '../../core/people/targets';
import { RESERVED } from '../../core/people/person-fields';
import { isDuplicate } from '../db/db-error';
import type { Queryable } from '../db/db';
import { idOf, nothingHere, Problem } from '../http/problem';
import { route, type Route } from '../http/route';
import { dropFieldIndex, indexField } from './field-index';
import { writeRecord } from '../setup/record';

const Named = Type.Object({ name: Type.String({ minLength: 1, maxLength: 100 }) }, { additionalProperties: false });
const FieldTypeSchema = Type.Union([
  Type.Literal('text'),
  Type.Literal('number'),
  Type.Literal('date'),
  Type.Literal('choice'),
  Type.Literal('yes_no'),
]);
const About = Type.Union([Type.Literal('person'), Type.Literal('dependant')]);
const Choices = Type.Array(Type.String({ minLength: 1, maxLength: 100 }), { maxItems: 100 });

function uses(rule: Condition, what: (leaf: Condition) => boolean): boolean {
  if ('op' in rule) return rule.of.some((each) => uses(each, what));
  return what(rule) || (rule.on === 'dependant' && uses(rule.of, what));
}

/** Names of segments whose rules have a condition like this, so that nothing they stand on is pulled away. */
async function segmentsUsing(db: Queryable, what: (leaf: Condition) => boolean): Promise<string[]> {
  const { rows } = await db.query<{ name: string; rule: Condition }>(`SELECT name, rule FROM segment ORDER BY name`);
  return rows.filter((row) => uses(row.rule, what)).map((row) => row.name);
}

async function refuseUsed(db: Queryable, thing: string, what: (leaf: Condition) => boolean): Promise<void> {
  const using = await segmentsUsing(db, what);
  if (using.length > 0)
    throw new Problem(
      409,
      'in-use',
      `${thing} is used by the segment “${using[0]}”${using.length > 1 ? ` and ${using.length - 1} more` : ''}.`,
      {
        act: 'Change the segment first.',
        kept: 'Nothing was deleted.',
      },
    );
}

function taken(error: unknown, kind: string, name: string): never {
  if (isDuplicate(error)) throw new Problem(409, kind, `There is a ${kind} “${name}” already.`, { place: 'name' });
  throw error;
}

/** Lists and tags are made, renamed and deleted alike. */
const grouped = (kind: 'list' | 'tag'): Route[] => [
  route({
    method: 'post',
    path: `/api/${kind}s`,
    role: 'write',
    says: `Makes an empty ${kind}`,
    body: Named,
    async handle(app, asked) {
      const name = oneLine(asked.body.name);
      if (name === '') throw new Problem(422, kind, `A ${kind} needs a name.`, { place: 'name' });
      const made = await app.db
        .query<{ id: number }>(
          kind === 'list'
            ? `INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz) RETURNING id`
            : `INSERT INTO tag (name) SELECT $1::text WHERE $2::timestamptz IS NOT NULL RETURNING id`,
          [name, asked.at],
        )
        .catch((error: unknown) => taken(error, kind, name));
      await writeRecord(app.db, asked, `made a ${kind}`, name);
      app.bus.changed('people');
      return { id: made.rows[0].id };
    },
  }),
  route({
    method: 'put',
    path: `/api/${kind}s/:id`,
    role: 'write',
    says: `Renames a ${kind}`,
    body: Named,
    async handle(app, asked) {
      const name = oneLine(asked.body.name);
      const renamed = await app.db
        .query(`UPDATE ${kind} SET name = $2 WHERE id = $1`, [idOf(asked.params.id), name])
        .catch((error: unknown) => taken(error, kind, name));
      if (renamed.rowCount === 0) throw nothingHere();
      await writeRecord(app.db, asked, `renamed a ${kind}`, name);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'delete',
    path: `/api/${kind}s/:id`,
    role: 'write',
    says: `Deletes a ${kind}; the people stay`,
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      await refuseUsed(app.db, `This ${kind}`, (leaf) => 'on' in leaf && leaf.on === kind && leaf.ids.includes(id));
      const gone = await app.db.query<{ name: string }>(
        kind === 'list'
          ? `DELETE FROM list WHERE id = $1 AND filling_import IS NULL RETURNING name`
          : `DELETE FROM tag WHERE id = $1 RETURNING name`,
        [id],
      );
      if (gone.rowCount === 0) throw nothingHere();
      await writeRecord(app.db, asked, `deleted a ${kind}`, gone.rows[0].name);
      app.bus.changed('people');
      return {};
    },
  }),
];

export const groupRoutes: Route[] = [
  ...grouped('list'),
  ...grouped('tag'),
  ...(['put', 'delete'] as const).flatMap((method) =>
    (['list', 'tag'] as const).map((kind) =>
      route({
        method,
        path: `/api/${kind}s/:id/members/:person`,
        role: 'write',
        says:
          kind === 'list'
            ? `${method === 'put' ? 'Puts a person on' : 'Takes a person off'} a list`
            : `${method === 'put' ? 'Gives a person' : 'Takes from a person'} a tag`,
        async handle(app, asked) {
          const [table, column] = kind === 'list' ? ['list_member', 'list_id'] : ['person_tag', 'tag_id'];
          const pair = [idOf(asked.params.id), idOf(asked.params.person)];
          await app.db.query(
            method === 'put'
              ? `INSERT INTO ${table} (${column}, person_id) SELECT ${kind}.id, person.id FROM ${kind}, person WHERE ${kind}.id = $1 AND person.id = $2 ON CONFLICT DO NOTHING`
              : `DELETE FROM ${table} WHERE ${column} = $1 AND person_id = $2`,
            pair,
          );
          app.bus.changed('people');
          return {};
        },
      }),
    ),
  ),
  route({
    method: 'post',
    path: '/api/fields',
    role: 'write',
    says: 'Adds a custom field of people or of dependants; it is at once a merge field and a condition',
    body: Type.Object(
      {
        label: Type.String({ minLength: 1, maxLength: 60 }),
        type: FieldTypeSchema,
        about: Type.Optional(About),
        choices: Type.Optional(Choices),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const label = oneLine(asked.body.label);
      const slug = slugOf(label);
      const about = asked.body.about ?? 'person';
      if (RESERVED.has(slug))
        throw new Problem(422, 'field', `“${label}” is a word of our own; call the field something else.`, { place: 'label' });
      const added = await app.db.query(
        `INSERT INTO field_def (about, slug, label, type, choices) VALUES ($1, $2, $3, $4, $5::text[]) ON CONFLICT DO NOTHING`,
        [about, slug, label, asked.body.type, asked.body.choices ?? []],
      );
      if (added.rowCount === 0) throw new Problem(409, 'field', `There is a field “${slug}” already.`, { place: 'label' });
      if (about === 'person') await indexField(app.db.lane('bulk'), slug, asked.body.type);
      await writeRecord(app.db, asked, 'added a field', slug);
      app.bus.changed('people');
      return { slug };
    },
  }),
  route({
    method: 'put',
    path: '/api/fields/:about/:slug',
    role: 'write',
    says: 'Changes a field’s label and choices; its type and its name in texts stay',
    body: Type.Object({ label: Type.String({ minLength: 1, maxLength: 60 }), choices: Choices }, { additionalProperties: false }),
    async handle(app, asked) {
      const changed = await app.db.query(`UPDATE field_def SET label = $3, choices = $4::text[] WHERE about = $1 AND slug = $2`, [
        asked.params.about,
        asked.params.slug,
        oneLine(asked.body.label),
        asked.body.choices,
      ]);
      if (changed.rowCount === 0) throw nothingHere();
      await writeRecord(app.db, asked, 'changed a field', asked.params.slug);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'delete',
    path: '/api/fields/:about/:slug',
    role: 'manage',
    says: 'Deletes a field that no segment uses; its values stay with the people until they are edited',
    async handle(app, asked) {
      const { about, slug } = asked.params;
      await refuseUsed(app.db, 'This field', (leaf) => 'on' in leaf && leaf.on === 'field' && leaf.field === slug);
      const gone = await app.db.query(`DELETE FROM field_def WHERE about = $1 AND slug = $2`, [about, slug]);
      if (gone.rowCount === 0) throw nothingHere();
      if (about === 'person') await dropFieldIndex(app.db, slug);
      await writeRecord(app.db, asked, 'deleted a field', slug);
      app.bus.changed('people');
      return {};
    },
  }),
];
