import { Type } from 'typebox';
import { fold } from '../../core/people/fold';
import { decided, optOut } from '../engine/opt-out';
import { removeByPerson } from '../engine/removals';
import { queueText } from '../engine/texts';
import { eraseFromFiles, erasePerson } from './erase';
import { idOf, nothingHere, Problem } from '../http/problem';
import { route, who, type Route } from '../http/route';
import { writeRecord } from '../setup/record';
import { BulkAct, changeMany, undoMany } from './bulk';
import { mergePeople } from './merge-people';
import { countPeople, filterOf, pageOfPeople, REACH_CASE, todayOf } from './people-queries';
import { KEPT, PersonBody, readBody } from './person-body';
import { fieldTypes, insertPeople, peopleById, reserveIds, updatePeople } from './person-store';

export const peopleRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/people/sources',
    role: 'look',
    says: 'Everyone, lists, tags and segments, with counts of all but the segments, and the fields',
    async handle(app, asked) {
      const today = await todayOf(app.db, asked.now);
      const [everyone, cannot, lists, tags, segments, fields] = await Promise.all([
        countPeople(app.db, {}, today),
        countPeople(app.db, { rule: { on: 'reach', is: 'no' } }, today),
        app.db.query(
          `SELECT list.id, list.name, list.filling_import, coalesce(n, 0) AS people FROM list LEFT JOIN (SELECT list_id, count(*) AS n FROM list_member GROUP BY list_id) AS m ON list_id = list.id ORDER BY list.name`,
        ),
        app.db.query(
          `SELECT tag.id, tag.name, coalesce(n, 0) AS people FROM tag LEFT JOIN (SELECT tag_id, count(*) AS n FROM person_tag GROUP BY tag_id) AS m ON tag_id = tag.id ORDER BY tag.name`,
        ),
        app.db.query(`SELECT id, name, rule FROM segment ORDER BY name`),
        app.db.query(`SELECT slug, label, type, choices, about FROM field_def ORDER BY position, label`),
      ]);
      return { everyone, cannot, lists: lists.rows, tags: tags.rows, segments: segments.rows, fields: fields.rows };
    },
  }),
  route({
    method: 'get',
    path: '/api/people',
    role: 'look',
    says: 'A page of people: ?search=, ?list=, ?tag=, ?segment=, ?cannot=1, ?rule=, in the order of ?sort= (?down=1), after ?after_key= and ?after_id=',
    async handle(app, asked) {
      const { query } = asked;
      const today = await todayOf(app.db, asked.now);
      const filter = await filterOf(app.db, query);
      const by = /^[a-z][a-z0-9_]{0,40}$/.test(query.sort ?? '') ? (query.sort ?? 'name') : 'name';
      const after = query.after_key === undefined ? undefined : { key: query.after_key, id: Number(query.after_id) || 0 };
      return { people: await pageOfPeople(app.db, filter, { by, down: query.down === '1' }, after, 100, today) };
    },
  }),
  route({
    method: 'get',
    path: '/api/people/count',
    role: 'look',
    says: 'How many people a filter has, and how many of them can be texted',
    async handle(app, asked) {
      const today = await todayOf(app.db, asked.now);
      const filter = await filterOf(app.db, asked.query);
      const can = {
        op: 'all' as const,
        of: [...(filter.rule ? [filter.rule] : []), { on: 'reach' as const, is: 'yes' as const }],
      };
      return {
        people: await countPeople(app.db, filter, today),
        can: asked.query.cannot === '1' ? 0 : await countPeople(app.db, { ...filter, rule: can }, today),
      };
    },
  }),
  route({
    method: 'post',
    path: '/api/people/bulk',
    role: 'write',
    says: 'Changes many people at once: those of a filter (as in the address of the list) or by id; can be undone',
    body: Type.Object(
      {
        filter: Type.Optional(Type.Record(Type.String({ maxLength: 20 }), Type.String({ maxLength: 8000 }))),
        ids: Type.Optional(Type.Array(Type.Integer(), { maxItems: 5000 })),
        act: BulkAct,
        what: Type.String({ maxLength: 200 }),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const { filter, ids, act, what } = asked.body;
      if (!filter && !ids) throw new Problem(400, 'request', 'Nobody is chosen.', { place: 'ids' });
      const which = ids ? { ids } : await filterOf(app.db, filter ?? {});
      const changed = await changeMany(app.db, which, act, what, asked, await todayOf(app.db, asked.now));
      await writeRecord(app.db, asked, 'changed many people', what, { people: changed.people, change: changed.id });
      app.bus.changed('people');
      return changed;
    },
  }),
  route({
    method: 'post',
    path: '/api/people/bulk/:id/undo',
    role: 'write',
    says: 'Takes a bulk change back, where it still stands',
    body: Type.Object({}),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const people = await undoMany(app.db, id, asked.at);
      await writeRecord(app.db, asked, 'undid a change of many people', '', { people, change: id });
      app.bus.changed('people');
      return { people };
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
      const [lists, tags, consent, sent, received, dependants, sharers] = await Promise.all([
        app.db.query(
          `SELECT list.id, list.name FROM list JOIN list_member ON list_id = list.id WHERE person_id = $1 ORDER BY name`,
          [id],
        ),
        app.db.query(`SELECT tag.id, tag.name FROM tag JOIN person_tag ON tag_id = tag.id WHERE person_id = $1 ORDER BY name`, [
          id,
        ]),
        app.db.query(
          `SELECT c.purpose, c.act, c.how, c.evidence, c.wording, c.number, c.at, account.name AS by FROM consent_event c LEFT JOIN account ON account.id = c.account_id WHERE person_id = $1 ORDER BY c.id DESC LIMIT 50`,
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
        app.db.query(
          `SELECT d.id, d.given_name, d.family_name, d.reference, d.born, d.fields, g.contact, g.must_not_receive,
             (SELECT json_agg(json_build_object('id', p.id, 'name', trim(p.given_name || ' ' || p.family_name), 'contact', o.contact) ORDER BY o.contact, p.id)
              FROM guardianship o JOIN person p ON p.id = o.person_id WHERE o.dependant_id = d.id AND o.person_id <> $1) AS others
           FROM guardianship g JOIN dependant d ON d.id = g.dependant_id WHERE g.person_id = $1 ORDER BY d.sort_name, d.id`,
          [id],
        ),
        app.db.query(`SELECT id, given_name, family_name FROM person WHERE number = $1 AND id <> $2 ORDER BY id LIMIT 10`, [
          person.number,
          id,
        ]),
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
        dependants: dependants.rows,
        sharers: sharers.rows,
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
      const p = await readBody(app.db, asked.body, asked.at);
      if (p.given_name === '' && p.family_name === '' && p.number === null)
        throw new Problem(422, 'nobody', 'A person needs a name or a number.', { place: 'given_name', kept: KEPT });
      const id = await app.db.transaction(async (tx) => {
        const [made] = await reserveIds(tx, 'person', 1);
        await insertPeople(tx, [{ id: made, ...p }], await fieldTypes(tx), { at: asked.at, importId: null });
        await writeRecord(tx, asked, 'added a person', String(made));
        return made;
      });
      app.bus.changed('people');
      return { id };
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
      const removed = await app.db.transaction(async (tx) => {
        await tx.query(`SELECT id FROM person WHERE id = $1 FOR UPDATE`, [id]);
        const [old] = await peopleById(tx, [id]);
        if (!old) throw nothingHere();
        const p = await readBody(tx, asked.body, asked.at, old);
        await updatePeople(tx, [{ id, ...p }], await fieldTypes(tx), asked.at);
        await writeRecord(tx, asked, 'changed a person', String(id));
        return old.number !== p.number ? removeByPerson(tx, [id], 'number changed', asked.at) : [];
      });
      for (const run of removed) app.bus.changed('run', run);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/people/:id/merge',
    role: 'write',
    says: 'Makes one person of this one and another, who goes',
    body: Type.Object({ other_id: Type.Integer() }, { additionalProperties: false }),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const removed = await app.db.transaction(async (tx) => {
        const runs = await mergePeople(tx, id, asked.body.other_id, asked.at, asked.account?.id ?? null);
        await writeRecord(tx, asked, 'made one person of two', String(id), { other: asked.body.other_id });
        return runs;
      });
      for (const run of removed) app.bus.changed('run', run);
      app.bus.changed('people');
      return { id };
    },
  }),
  route({
    method: 'post',
    path: '/api/people/:id/consent',
    role: 'write',
    says: 'Writes down what a person said about being texted: how, and the wording they agreed to',
    body: Type.Object(
      {
        purpose: Type.Union([Type.Literal('service'), Type.Literal('marketing')]),
        act: Type.Union([Type.Literal('granted'), Type.Literal('withdrawn')]),
        how: Type.String({ minLength: 1, maxLength: 100 }),
        evidence: Type.String({ maxLength: 300 }),
        wording: Type.String({ maxLength: 500 }),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const { purpose, act, how, evidence, wording } = asked.body;
      await app.db.transaction(async (tx) => {
        const [person] = await peopleById(tx, [id]);
        if (!person) throw nothingHere();
        if (person.number === null)
          throw new Problem(422, 'no-number', 'Consent belongs to a number, and there is none yet.', { place: 'number' });
        await tx.query(
          `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, account_id, at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9::timestamptz)`,
          [id, person.number, purpose, act, how, evidence, wording, who(asked).id, asked.at],
        );
        await writeRecord(tx, asked, `wrote down consent ${act}`, String(id), { purpose });
      });
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/people/:id/opt-out',
    role: 'write',
    says: 'Puts a person’s number on the do-not-text register, as told by them',
    body: Type.Object({ words: Type.String({ maxLength: 300 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const runs = await app.db.transaction(async (tx) => {
        const [person] = await peopleById(tx, [id]);
        if (!person?.number) throw new Problem(422, 'no-number', 'There is no number to keep from being texted.');
        await writeRecord(tx, asked, 'opted a person out', String(id));
        return (await optOut(tx, { number: person.number, how: 'told us', words: asked.body.words }, asked.at)).runs;
      });
      for (const run of runs) app.bus.changed('run', run);
      app.bus.changed('people');
      return {};
    },
  }),
  route({
    method: 'get',
    path: '/api/people/:id/twins',
    role: 'look',
    says: 'People who may be the same: the same number, reference or name',
    async handle(app, asked) {
      const [person] = await peopleById(app.db, [idOf(asked.params.id)]);
      if (!person) throw nothingHere();
      const { rows } = await app.db.query(
        `SELECT id, given_name, family_name, number, reference FROM person
         WHERE id <> $1 AND (number = $2 OR reference = $3 OR ($4 <> '' AND sort_name = $4)) ORDER BY sort_name, id LIMIT 20`,
        [person.id, person.number, person.reference, fold(`${person.family_name} ${person.given_name}`)],
      );
      return { people: rows };
    },
  }),
  route({
    method: 'delete',
    path: '/api/people/:id',
    role: 'manage',
    says: 'Erases a person; a number that opted out stays in the register',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const erased = await app.db.transaction(async (tx) => {
        const done = await erasePerson(tx, id, asked.at);
        if (!done) throw nothingHere();
        await writeRecord(tx, asked, 'erased a person', String(id));
        return done;
      });
      if (erased.number !== null) await eraseFromFiles(app.db, erased.number);
      for (const run of erased.runs) app.bus.changed('run', run);
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
        await decided(tx, person.number);
        await writeRecord(tx, asked, 'answered a person', String(id));
      });
      app.bus.work();
      app.bus.changed('replies');
      app.bus.changed('balance');
      return {};
    },
  }),
];
