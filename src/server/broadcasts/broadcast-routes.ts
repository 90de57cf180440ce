import { Type } from 'typebox';
import { Draft, EMPTY_DRAFT } from '../../core/plan/draft';
import type { Queryable } from '../db/db';
import { callOff } from '../engine/sweep';
import { queueText } from '../engine/texts';
import { idOf, nothingHere, Problem } from '../http/problem';
import { Skip } from '../http/query';
import { route, who, type Route } from '../http/route';
import { writeRecord } from '../setup/record';
import { press } from './press';

interface BroadcastRow {
  id: number;
  name: string;
  state: string;
  draft: Draft;
  version: number;
  updated_at: string;
}

async function broadcastOf(db: Queryable, id: number): Promise<BroadcastRow> {
  const { rows } = await db.query<BroadcastRow>(
    `SELECT id, name, state, draft, version, updated_at FROM broadcast WHERE id = $1`,
    [id],
  );
  if (rows.length === 0) throw nothingHere();
  return rows[0];
}

export const broadcastRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/broadcasts',
    role: 'look',
    says: 'Drafts and scheduled broadcasts, latest first; ended ones by ?state=ended',
    query: Type.Object({ state: Type.Optional(Type.String({ maxLength: 20 })), skip: Skip }),
    handle: async (app, asked) => ({
      broadcasts: (
        await app.db.query(
          `SELECT broadcast.id, broadcast.name, broadcast.state, broadcast.updated_at, run.id AS run_id, run.state AS run_state, run.people, run.due_at, run.parts, run.cost_micro, account.name AS by
           FROM broadcast LEFT JOIN LATERAL (SELECT * FROM run WHERE run.broadcast_id = broadcast.id ORDER BY run.id DESC LIMIT 1) AS run ON true
           LEFT JOIN account ON account.id = broadcast.account_id
           WHERE ($1::text IS NULL OR broadcast.state = $1) ORDER BY (broadcast.state IN ('draft', 'set_aside', 'scheduled')) DESC, coalesce(run.due_at, broadcast.updated_at) DESC, broadcast.id DESC LIMIT 100 OFFSET $2::int`,
          [asked.query.state ?? null, asked.query.skip ?? 0],
        )
      ).rows,
    }),
  }),
  route({
    method: 'post',
    path: '/api/broadcasts',
    role: 'write',
    says: 'A new draft, or a copy of another (?copy=)',
    body: Type.Object(
      {
        name: Type.String({ maxLength: 120 }),
        list_id: Type.Optional(Type.Integer()),
        segment_id: Type.Optional(Type.Integer()),
        copy: Type.Optional(Type.Integer()),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const first = (await app.db.query<{ id: number }>(`SELECT id FROM sender ORDER BY (kind = 'name'), id LIMIT 1`)).rows[0];
      let draft: Draft = { ...EMPTY_DRAFT, sender_id: first?.id ?? null };
      let name = asked.body.name;
      if (asked.body.copy) {
        const from = await broadcastOf(app.db, asked.body.copy);
        draft = { ...from.draft, when: { kind: 'now' }, no_use_after: null, unticked: [], unticked_numbers: [] };
        name = name || `${from.name}, copy`;
      }
      if (asked.body.list_id) draft = { ...draft, to: [{ kind: 'list', id: asked.body.list_id }] };
      if (asked.body.segment_id) draft = { ...draft, to: [{ kind: 'segment', id: asked.body.segment_id }] };
      const { rows } = await app.db.query<{ id: number }>(
        `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at) VALUES ($1, 'draft', $2::jsonb, $3, $4::timestamptz, $4::timestamptz) RETURNING id`,
        [name, JSON.stringify(draft), who(asked).id, asked.at],
      );
      return { id: rows[0].id };
    },
  }),
  route({
    method: 'get',
    path: '/api/broadcasts/:id',
    role: 'look',
    says: 'A broadcast with its draft and its latest run',
    async handle(app, asked) {
      const broadcast = await broadcastOf(app.db, idOf(asked.params.id));
      const run =
        (
          await app.db.query(`SELECT id, state, people, due_at FROM run WHERE broadcast_id = $1 ORDER BY id DESC LIMIT 1`, [
            broadcast.id,
          ])
        ).rows[0] ?? null;
      const senders = (await app.db.query(`SELECT id, name, kind, address FROM sender ORDER BY id`)).rows;
      return { ...broadcast, run, senders };
    },
  }),
  route({
    method: 'put',
    path: '/api/broadcasts/:id',
    role: 'write',
    says: 'Saves the draft; the version must be the one it was made from',
    body: Type.Object(
      { name: Type.String({ maxLength: 120 }), draft: Draft, version: Type.Integer() },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const { rows } = await app.db.query<{ version: number; updated_at: string }>(
        `UPDATE broadcast SET name = $2, draft = $3::jsonb, version = version + 1, updated_at = $5::timestamptz WHERE id = $1 AND version = $4 AND state IN ('draft', 'set_aside') RETURNING version, updated_at`,
        [id, asked.body.name, JSON.stringify(asked.body.draft), asked.body.version, asked.at],
      );
      if (rows.length > 0) return rows[0];
      const now = await broadcastOf(app.db, id);
      if (now.state === 'scheduled')
        throw new Problem(409, 'scheduled', 'This broadcast is scheduled. Set it aside to edit it.', {});
      if (now.state === 'ended' || now.state === 'canceled')
        throw new Problem(409, 'ended', `This broadcast is ${now.state}. Copy it to write another.`, {});
      throw new Problem(409, 'changed', 'Someone else has saved this draft since you opened it.', {
        kept: 'Your words are still on this page; copy them before you reload.',
      });
    },
  }),
  route({
    method: 'delete',
    path: '/api/broadcasts/:id',
    role: 'write',
    says: 'Deletes a draft that was never sent',
    async handle(app, asked) {
      const gone = await app.db.query(
        `DELETE FROM broadcast WHERE id = $1 AND state = 'draft' AND NOT EXISTS (SELECT 1 FROM run WHERE broadcast_id = $1)`,
        [idOf(asked.params.id)],
      );
      if (gone.rowCount === 0) throw new Problem(409, 'kept', 'Only a draft that was never sent can be deleted.', {});
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/broadcasts/:id/plan',
    role: 'look',
    says: 'The exact reach, parts, cost and times of a draft over the real audience; nothing is written',
    body: Type.Object({ draft: Draft }, { additionalProperties: false }),
    async handle(app, asked) {
      return app.plans.summary(asked.body.draft, asked.now);
    },
  }),
  route({
    method: 'post',
    path: '/api/broadcasts/:id/proof',
    role: 'look',
    says: 'The text exactly as one recipient gets it: which kind, and the how-manieth',
    body: Type.Object(
      { draft: Draft, which: Type.String({ maxLength: 12 }), index: Type.Integer({ minimum: 0 }) },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      return app.plans.proof(asked.body.draft, asked.body.which, asked.body.index, asked.now);
    },
  }),
  route({
    method: 'post',
    path: '/api/broadcasts/:id/proofs',
    role: 'look',
    says: 'Every text of a draft as its recipient would get it, paged by skip; for checking a plan from outside',
    body: Type.Object({ draft: Draft, skip: Type.Optional(Type.Integer({ minimum: 0 })) }, { additionalProperties: false }),
    async handle(app, asked) {
      return app.plans.proofs(asked.body.draft, asked.body.skip ?? 0, 5000, asked.now);
    },
  }),
  route({
    method: 'post',
    path: '/api/broadcasts/:id/test',
    role: 'write',
    says: "Texts a proof to one's own number",
    body: Type.Object(
      { draft: Draft, which: Type.String({ maxLength: 12 }), index: Type.Integer({ minimum: 0 }) },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const account = who(asked);
      if (!account.own_number)
        throw new Problem(422, 'own-number', 'You have not said which number is yours.', {
          place: 'own_number',
          act: 'Give your own number first.',
        });
      const { proof, sender_id } = await app.plans.proof(asked.body.draft, asked.body.which, asked.body.index, asked.now);
      if (!proof || sender_id === null) throw new Problem(422, 'no-proof', 'There is nobody to write it for yet.', {});
      await app.db.transaction(async (tx) => {
        await queueText(
          tx,
          {
            kind: 'test',
            personId: null,
            number: account.own_number ?? '',
            senderId: sender_id,
            body: proof.text,
            usefulFor: 600_000,
          },
          asked.now,
        );
        await writeRecord(tx, asked, 'sent a test text', String(idOf(asked.params.id)));
      });
      app.bus.work();
      app.bus.changed('balance');
      return { number: account.own_number };
    },
  }),
  route({
    method: 'post',
    path: '/api/broadcasts/:id/press',
    role: 'send',
    says: 'Sends: the digest must be that of the last look; the same press id twice is one run',
    body: Type.Object(
      {
        version: Type.Integer(),
        digest: Type.String({ pattern: '^[0-9a-f]{64}$' }),
        press_id: Type.String({ pattern: '^[0-9a-zA-Z-]{8,60}$' }),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const { run_id } = await press(
        { ...app, epoch: app.engine.line.owner },
        {
          broadcastId: idOf(asked.params.id),
          version: asked.body.version,
          digest: asked.body.digest,
          pressId: asked.body.press_id,
        },
        asked,
      );
      // it is being planned: nothing has started, and until it does it can be called off
      return { run_id };
    },
  }),
  route({
    method: 'post',
    path: '/api/broadcasts/:id/set-aside',
    role: 'send',
    says: 'Takes a scheduled broadcast back, also while it is still being planned: nothing of it has gone, its money returns',
    body: Type.Object(
      { as: Type.Union([Type.Literal('set_aside'), Type.Literal('draft'), Type.Literal('canceled')]) },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const run = (
        await app.db.query<{ id: number }>(
          `SELECT id FROM run WHERE broadcast_id = $1 AND state IN ('planning', 'waiting') AND NOT called_off ORDER BY id DESC LIMIT 1`,
          [id],
        )
      ).rows[0];
      if (!run || !(await callOff(app.db, run.id, asked.body.as, asked.at)))
        throw new Problem(409, 'too-late', 'It has started and cannot be taken back; you can cancel the rest.');
      await writeRecord(
        app.db,
        asked,
        asked.body.as === 'canceled' ? 'canceled a broadcast' : 'took a broadcast back',
        String(id),
        { run: run.id },
      );
      app.bus.changed('runs');
      app.bus.changed('balance');
      return {};
    },
  }),
];
