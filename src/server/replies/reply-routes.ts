import { Type } from 'typebox';
import { optOut, decided } from '../engine/opt-out';
import { idOf, nothingHere } from '../http/problem';
import { route, type Route } from '../http/route';
import { detachNumber } from '../people/person-store';
import { writeRecord } from '../setup/record';

export const replyRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/replies',
    role: 'look',
    says: 'Replies that wait for a person, longest waiting first; ?done=1 for the others',
    async handle(app, asked) {
      const done = asked.query.done === '1';
      const { rows } = await app.db.query(
        `SELECT inbound.id, received_at, inbound.number, body, kind, inbound.person_id, given_name, family_name, run.name AS run, run.id AS run_id, done_at, incomplete, trouble,
           EXISTS (SELECT 1 FROM suppression WHERE suppression.number = inbound.number) AS opted_out
         FROM inbound LEFT JOIN person ON person.id = inbound.person_id LEFT JOIN run ON run.id = inbound.run_id
         WHERE (done_at IS NOT NULL) = $1 ORDER BY CASE WHEN $1 THEN -inbound.id ELSE inbound.id END LIMIT 100`,
        [done],
      );
      return { replies: rows };
    },
  }),
  route({
    method: 'post',
    path: '/api/replies/:id/done',
    role: 'write',
    says: 'A reply needs no answer',
    body: Type.Object({}),
    async handle(app, asked) {
      await app.db.transaction(async (tx) => {
        const { rows } = await tx.query<{ number: string }>(
          `UPDATE inbound SET done_at = $2::timestamptz WHERE id = $1 RETURNING number`,
          [idOf(asked.params.id), asked.at],
        );
        if (rows.length > 0) await decided(tx, rows[0].number);
      });
      app.bus.work();
      app.bus.changed('replies');
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/replies/:id/opt-out',
    role: 'write',
    says: 'The person meant stop: puts the number on the register and takes it out of everything planned',
    body: Type.Object({ wrong_number: Type.Boolean() }, { additionalProperties: false }),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const runs = await app.db.transaction(async (tx) => {
        const reply = (await tx.query<{ number: string; body: string }>(`SELECT number, body FROM inbound WHERE id = $1`, [id]))
          .rows[0];
        if (!reply) throw nothingHere();
        const how = asked.body.wrong_number ? 'wrong number' : 'said so in a reply';
        const { runs: touched } = await optOut(tx, { number: reply.number, how, words: reply.body }, asked.at);
        if (asked.body.wrong_number) await detachNumber(tx, reply.number, asked.at);
        await tx.query(`UPDATE inbound SET done_at = $2::timestamptz WHERE number = $1 AND done_at IS NULL`, [
          reply.number,
          asked.at,
        ]);
        await writeRecord(tx, asked, asked.body.wrong_number ? 'wrong number' : 'opted a number out', `reply ${id}`);
        return touched;
      });
      for (const run of runs) app.bus.changed('run', run);
      app.bus.changed('replies');
      app.bus.changed('people');
      return {};
    },
  }),
];
