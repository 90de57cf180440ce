import { Type } from 'typebox';
import { fold, searchText, sortName } from '../../core/people/fold';
import { readPhone, PHONE_PROBLEM_WORDS } from '../../core/phone/read';
import { guessZone } from '../../core/phone/zone-guess';
import { isZone } from '../../core/plan/zones';
import type { Queryable } from '../db/db';
import { removeByPerson } from '../engine/removals';
import { queueText } from '../engine/texts';
import { writeCsv } from '../files/delimited';
import { idOf, nothingHere, Problem } from '../http/problem';
import { Download, route, type Route } from '../http/route';
import { writeRecord } from '../setup/record';
import { pageOfPeople, REACH_CASE, whereOf, type PeopleFilter } from './people-queries';

function filterOf(query: Record<string, string | undefined>): PeopleFilter {
  const search = fold(query.search ?? '');
  // numbers are found however they are written
  const digits = search.replace(/\D/g, '');
  return {
    search: digits.length >= 4 && /^[\d\s()+.-]+$/.test(search) ? digits : search || undefined,
    list: query.list ? idOf(query.list) : undefined,
    tag: query.tag ? idOf(query.tag) : undefined,
    cannot: query.cannot === '1',
  };
}

const PersonBody = Type.Object(
  {
    given_name: Type.String({ maxLength: 100 }),
    family_name: Type.String({ maxLength: 100 }),
    number: Type.String({ maxLength: 40 }),
    reference: Type.String({ maxLength: 100 }),
    language: Type.String({ maxLength: 5 }),
    zone: Type.String({ maxLength: 60 }),
    fields: Type.Record(Type.String({ pattern: '^[a-z][a-z0-9_]{0,40}$' }), Type.String({ maxLength: 500 })),
  },
  { additionalProperties: false },
);

async function readBody(
  db: Queryable,
  body: {
    given_name: string;
    family_name: string;
    number: string;
    reference: string;
    language: string;
    zone: string;
    fields: Record<string, string>;
  },
) {
  const country = (await db.query<{ country: string }>(`SELECT country FROM workspace`)).rows[0].country;
  const read = body.number.trim() === '' ? undefined : readPhone(body.number, { country });
  if (read && !read.ok)
    throw new Problem(422, 'number', `${body.number}: ${PHONE_PROBLEM_WORDS[read.problem]}.`, {
      place: 'number',
      kept: 'Everything you typed is still here.',
    });
  if (body.zone !== '' && !isZone(body.zone))
    throw new Problem(422, 'zone', `There is no time zone “${body.zone}”.`, { place: 'zone' });
  const number = read?.ok ? read.number : null;
  const guessed = number && body.zone === '' ? (guessZone(number, read?.ok ? read.country : '') ?? null) : null;
  return {
    ...body,
    given_name: body.given_name.trim(),
    family_name: body.family_name.trim(),
    reference: body.reference.trim() || null,
    language: body.language || null,
    number,
    number_country: read?.ok ? read.country : null,
    number_kind: read?.ok ? read.kind : null,
    zone: body.zone || guessed,
    zone_guessed: guessed !== null,
  };
}

export const peopleRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/people/sources',
    role: 'look',
    says: 'Everyone, lists and tags with their counts, and the fields',
    async handle(app) {
      const [everyone, lists, tags, fields] = await Promise.all([
        app.db.query<{ n: number; cannot: number }>(
          `SELECT count(*) AS n, count(*) FILTER (WHERE (${REACH_CASE}) <> 'yes') AS cannot FROM person`,
        ),
        app.db.query(
          `SELECT list.id, list.name, list.filling_import, count(person_id) AS people FROM list LEFT JOIN list_member ON list_id = list.id GROUP BY list.id ORDER BY list.name`,
        ),
        app.db.query(
          `SELECT tag.id, tag.name, count(person_id) AS people FROM tag LEFT JOIN person_tag ON tag_id = tag.id GROUP BY tag.id ORDER BY tag.name`,
        ),
        app.db.query(`SELECT slug, label, type FROM field_def ORDER BY position, label`),
      ]);
      return {
        everyone: everyone.rows[0].n,
        cannot: everyone.rows[0].cannot,
        lists: lists.rows,
        tags: tags.rows,
        fields: fields.rows,
      };
    },
  }),
  route({
    method: 'get',
    path: '/api/people',
    role: 'look',
    says: 'A page of people: ?search=, ?list=, ?tag=, ?cannot=1, ?after_sort= and ?after_id=',
    async handle(app, asked) {
      const filter = filterOf(asked.query);
      const after =
        asked.query.after_sort === undefined
          ? undefined
          : { sort: asked.query.after_sort, id: Number(asked.query.after_id ?? 0) };
      const people = await pageOfPeople(app.db, filter, after, 100);
      const { sql, params } = whereOf(filter, 1);
      const total = after
        ? undefined
        : (await app.db.query<{ n: number }>(`SELECT count(*) AS n FROM person WHERE ${sql}`, params)).rows[0].n;
      return { people, total };
    },
  }),
  route({
    method: 'get',
    path: '/api/people/export.csv',
    role: 'look',
    says: 'The people of a filter as CSV',
    async handle(app, asked) {
      const filter = filterOf(asked.query);
      const fields = (
        await app.db.query<{ slug: string; label: string }>(`SELECT slug, label FROM field_def ORDER BY position, label`)
      ).rows;
      const rows: string[][] = [
        [
          'given name',
          'family name',
          'text number',
          'own reference',
          'language',
          'time zone',
          'can be texted',
          ...fields.map((field) => field.label),
        ],
      ];
      const { sql, params } = whereOf(filter, 1);
      const stream = app.db.stream<{
        given_name: string;
        family_name: string;
        number: string | null;
        reference: string | null;
        language: string | null;
        zone: string | null;
        reach: string;
        fields: Record<string, string>;
      }>(
        `SELECT given_name, family_name, number, reference, language, zone, fields, ${REACH_CASE} AS reach FROM person WHERE ${sql} ORDER BY sort_name, id`,
        params,
        2000,
      );
      for await (const page of stream) {
        for (const p of page)
          rows.push([
            p.given_name,
            p.family_name,
            p.number ?? '',
            p.reference ?? '',
            p.language ?? '',
            p.zone ?? '',
            p.reach,
            ...fields.map((field) => p.fields[field.slug] ?? ''),
          ]);
      }
      await writeRecord(app.db, asked, 'exported people', '', { people: rows.length - 1 });
      return new Download('people.csv', 'text/csv; charset=utf-8', writeCsv(rows));
    },
  }),
  route({
    method: 'get',
    path: '/api/people/:id',
    role: 'look',
    says: 'Everything known about a person',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const person = (
        await app.db.query<{ number: string | null }>(
          `SELECT person.*, ${REACH_CASE} AS reach, (SELECT count(*) FROM person other WHERE other.number = person.number AND other.id <> person.id) AS shares FROM person WHERE id = $1`,
          [id],
        )
      ).rows[0];
      if (!person) throw nothingHere();
      const [lists, tags, consent, sent, received] = await Promise.all([
        app.db.query(
          `SELECT list.id, list.name FROM list JOIN list_member ON list_id = list.id WHERE person_id = $1 ORDER BY name`,
          [id],
        ),
        app.db.query(`SELECT tag.id, tag.name FROM tag JOIN person_tag ON tag_id = tag.id WHERE person_id = $1 ORDER BY name`, [
          id,
        ]),
        app.db.query(
          `SELECT purpose, act, how, evidence, number, at FROM consent_event WHERE person_id = $1 ORDER BY id DESC LIMIT 50`,
          [id],
        ),
        app.db.query(
          `SELECT outbound.id, 'to' AS direction, body, coalesce(outbound.handed_at, outbound.due_at) AS at, outbound.state, outbound.reason, run.name AS run, run_id FROM outbound LEFT JOIN run ON run.id = run_id
           WHERE outbound.person_id = $1 OR outbound.number = $2 ORDER BY outbound.id DESC LIMIT 30`,
          [id, person.number],
        ),
        app.db.query(
          `SELECT id, 'from' AS direction, body, received_at AS at, kind FROM inbound WHERE number = $1 ORDER BY id DESC LIMIT 30`,
          [person.number],
        ),
      ]);
      const suppressed = person.number
        ? (await app.db.query(`SELECT at, how, words FROM suppression WHERE number = $1`, [person.number])).rows[0]
        : undefined;
      return {
        person,
        lists: lists.rows,
        tags: tags.rows,
        consent: consent.rows,
        texts: [...sent.rows, ...received.rows],
        suppressed: suppressed ?? null,
      };
    },
  }),
  route({
    method: 'post',
    path: '/api/people',
    role: 'write',
    says: 'Adds a person by hand',
    body: PersonBody,
    async handle(app, asked) {
      const p = await readBody(app.db, asked.body);
      if (p.given_name === '' && p.family_name === '' && p.number === null)
        throw new Problem(422, 'nobody', 'A person needs a name or a number.', { place: 'given_name' });
      const { rows } = await app.db.query<{ id: number }>(
        `INSERT INTO person (given_name, family_name, reference, number, number_country, number_kind, language, zone, zone_guessed, fields, search, sort_name, created_at, updated_at)
         VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10::jsonb, $11, $12, $13::timestamptz, $13::timestamptz) RETURNING id`,
        [
          p.given_name,
          p.family_name,
          p.reference,
          p.number,
          p.number_country,
          p.number_kind,
          p.language,
          p.zone,
          p.zone_guessed,
          JSON.stringify(p.fields),
          searchText(p),
          sortName(p),
          asked.at,
        ],
      );
      await writeRecord(app.db, asked, 'added a person', String(rows[0].id));
      app.bus.changed('people');
      return { id: rows[0].id };
    },
  }),
  route({
    method: 'put',
    path: '/api/people/:id',
    role: 'write',
    says: 'Changes a person; a changed number takes them out of what is planned for the old one',
    body: PersonBody,
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const p = await readBody(app.db, asked.body);
      const removed = await app.db.transaction(async (tx) => {
        const old = (await tx.query<{ number: string | null }>(`SELECT number FROM person WHERE id = $1 FOR UPDATE`, [id]))
          .rows[0];
        if (!old) throw nothingHere();
        await tx.query(
          `UPDATE person SET given_name = $2, family_name = $3, reference = $4, number = $5, number_country = $6, number_kind = $7, language = $8, zone = $9, zone_guessed = $10,
             fields = $11::jsonb, search = $12, sort_name = $13, updated_at = $14::timestamptz WHERE id = $1`,
          [
            id,
            p.given_name,
            p.family_name,
            p.reference,
            p.number,
            p.number_country,
            p.number_kind,
            p.language,
            p.zone,
            p.zone_guessed,
            JSON.stringify(p.fields),
            searchText(p),
            sortName(p),
            asked.at,
          ],
        );
        await writeRecord(tx, asked, 'changed a person', String(id));
        return old.number !== p.number ? removeByPerson(tx, [id], 'number changed', asked.at) : [];
      });
      for (const run of removed) app.bus.changed('run', run);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'delete',
    path: '/api/people/:id',
    role: 'manage',
    says: 'Erases a person; a number that opted out stays in the register',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const removed = await app.db.transaction(async (tx) => {
        const touched = await removeByPerson(tx, [id], 'erased', asked.at);
        await tx.query(`DELETE FROM consent_event WHERE person_id = $1`, [id]);
        await tx.query(`UPDATE inbound SET person_id = NULL, body = '' WHERE person_id = $1`, [id]);
        await tx.query(
          `UPDATE outbound SET person_id = NULL, body = '' WHERE person_id = $1 AND state NOT IN ('planned', 'handing_over')`,
          [id],
        );
        const gone = await tx.query(`DELETE FROM person WHERE id = $1`, [id]);
        if (gone.rowCount === 0) throw nothingHere();
        await writeRecord(tx, asked, 'erased a person', String(id));
        return touched;
      });
      for (const run of removed) app.bus.changed('run', run);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/people/:id/text',
    role: 'send',
    says: 'Sends one text to a person, as an answer',
    body: Type.Object({ words: Type.String({ minLength: 1, maxLength: 1600 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      await app.db.transaction(async (tx) => {
        const person = (
          await tx.query<{ number: string | null; reach: string }>(
            `SELECT number, ${REACH_CASE} AS reach FROM person WHERE id = $1`,
            [id],
          )
        ).rows[0];
        if (!person) throw nothingHere();
        if (person.number === null || person.reach !== 'yes')
          throw new Problem(422, 'unreachable', `They cannot be texted: ${person.reach}.`, {
            kept: 'Your words are still here.',
          });
        const sender = (
          await tx.query<{ id: number }>(
            `SELECT coalesce((SELECT sender_id FROM outbound WHERE number = $1 ORDER BY id DESC LIMIT 1), (SELECT id FROM sender WHERE kind <> 'name' ORDER BY id LIMIT 1)) AS id`,
            [person.number],
          )
        ).rows[0].id;
        if (!sender) throw new Problem(422, 'no-sender', 'There is no sender yet.', { act: 'Add one in Setup.' });
        await queueText(
          tx,
          {
            kind: 'reply',
            personId: id,
            number: person.number,
            senderId: sender,
            body: asked.body.words,
            usefulFor: 12 * 3_600_000,
          },
          asked.now,
        );
        await tx.query(`UPDATE inbound SET done_at = $2::timestamptz WHERE number = $1 AND done_at IS NULL`, [
          person.number,
          asked.at,
        ]);
        await writeRecord(tx, asked, 'answered a person', String(id));
      });
      app.bus.work();
      app.bus.changed('replies');
      app.bus.changed('balance');
      return {};
    },
  }),
];
