import { Type } from 'typebox';
import type { Queryable, Tx } from '../db/db';
import type { App } from '../http/app-context';
import { writeCsv } from '../files/delimited';
import { idOf, nothingHere, Problem } from '../http/problem';
import { After, Skip } from '../http/query';
import { Download, route, who, type Route } from '../http/route';
import { writeRecord } from '../setup/record';

async function tallyOf(db: Queryable, runId: number): Promise<Record<string, number>> {
  const { rows } = await db.query<{ state: string; n: number }>(
    `SELECT state, people AS n FROM run_tally WHERE run_id = $1 AND people > 0`,
    [runId],
  );
  return Object.fromEntries(rows.map((row) => [row.state, row.n]));
}

/** Moves a run from one state to another in one transaction, with a note on its course. */
async function move(
  app: App,
  id: number,
  from: string[],
  to: string,
  what: string,
  asked: { account: { id: number; name: string } | undefined; at: string },
  also?: (tx: Tx) => Promise<void>,
): Promise<void> {
  await app.db.transaction(async (tx) => {
    const moved = await tx.query(`UPDATE run SET state = $3 WHERE id = $1 AND state = ANY ($2::text[])`, [id, from, to]);
    if (moved.rowCount === 0) {
      const now = (await tx.query<{ state: string }>(`SELECT state FROM run WHERE id = $1`, [id])).rows[0];
      if (!now) throw nothingHere();
      throw new Problem(409, 'state', `The run is ${now.state} already.`);
    }
    await also?.(tx);
    await tx.query(`INSERT INTO run_event (run_id, at, what, account_id) VALUES ($1, $2::timestamptz, $3, $4)`, [
      id,
      asked.at,
      what,
      asked.account?.id ?? null,
    ]);
    await writeRecord(tx, asked, what, `run ${id}`);
  });
  app.bus.changed('run', id);
  app.bus.changed('runs');
  app.bus.work();
}

export const runRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/runs/:id',
    role: 'look',
    says: 'A run: tally, reasons, course, cost against what was shown',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const run = (
        await app.db.query<{ name: string }>(
          `SELECT run.*, account.name AS by, sender.name AS sender, sender.address AS sender_address, sender.kind AS sender_kind FROM run LEFT JOIN account ON account.id = run.account_id JOIN sender ON sender.id = run.sender_id WHERE run.id = $1`,
          [id],
        )
      ).rows[0];
      if (!run) throw nothingHere();
      const [tally, reasons, events, replies, money, clicks, delays, optOuts] = await Promise.all([
        tallyOf(app.db, id),
        app.db.query(
          `SELECT state, reason, count(*) AS n FROM outbound WHERE run_id = $1 AND reason IS NOT NULL GROUP BY state, reason ORDER BY n DESC LIMIT 20`,
          [id],
        ),
        app.db.query(
          `SELECT at, what, account.name AS by FROM run_event LEFT JOIN account ON account.id = account_id WHERE run_id = $1 ORDER BY run_event.id LIMIT 100`,
          [id],
        ),
        app.db.query(`SELECT body, number, kind, done_at FROM inbound WHERE run_id = $1 ORDER BY id DESC LIMIT 50`, [id]),
        app.db.query(
          `SELECT coalesce(sum(billed_micro), 0)::bigint AS spent, coalesce(sum(billed_parts), 0)::bigint AS parts FROM run_tally WHERE run_id = $1`,
          [id],
        ),
        app.db.query(
          `SELECT count(*) FILTER (WHERE clicked_at IS NOT NULL) AS clicked, count(*) AS links FROM link WHERE run_id = $1`,
          [id],
        ),
        // seconds from handing over to delivered, by minute: half of the texts and the slowest tenth
        app.db.query(
          `SELECT date_trunc('minute', handed_at) AS at, percentile_cont(0.5) WITHIN GROUP (ORDER BY extract(epoch FROM final_at - handed_at)::float8) AS half,
                  percentile_cont(0.9) WITHIN GROUP (ORDER BY extract(epoch FROM final_at - handed_at)::float8) AS slow, count(*) AS n
           FROM outbound WHERE run_id = $1 AND state = 'delivered' GROUP BY 1 ORDER BY 1 LIMIT 500`,
          [id],
        ),
        app.db.query(`SELECT count(*) AS n FROM inbound WHERE run_id = $1 AND kind = 'stop'`, [id]),
      ]);
      return {
        run,
        tally,
        reasons: reasons.rows,
        events: events.rows,
        replies: replies.rows,
        money: money.rows[0],
        clicks: clicks.rows[0],
        delays: delays.rows,
        opted_out: (optOuts.rows[0] as { n: number }).n,
      };
    },
  }),
  route({
    method: 'get',
    path: '/api/runs/:id/recipients',
    role: 'look',
    says: 'Recipients of a run, by ?state= and ?reason=, paged by ?after=',
    query: Type.Object({
      state: Type.Optional(Type.String({ maxLength: 20 })),
      reason: Type.Optional(Type.String({ maxLength: 100 })),
      after: After,
    }),
    async handle(app, asked) {
      const { rows } = await app.db.query(
        `SELECT outbound.id, person_id, given_name, family_name, outbound.number, parts, state, reason, due_at, handed_at, final_at, body FROM outbound LEFT JOIN person ON person.id = person_id
         WHERE run_id = $1 AND ($2::text IS NULL OR state = $2) AND ($3::text IS NULL OR reason = $3) AND outbound.id > $4 ORDER BY outbound.id LIMIT 100`,
        [idOf(asked.params.id), asked.query.state ?? null, asked.query.reason ?? null, asked.query.after ?? 0],
      );
      return { recipients: rows };
    },
  }),
  route({
    method: 'get',
    path: '/api/runs/:id/recipients.csv',
    role: 'look',
    says: 'Every recipient of a run with state, times, reason and exact words',
    async handle(app, asked) {
      const id = idOf(asked.params.id);
      const rows: string[][] = [
        ['number', 'given name', 'family name', 'state', 'why', 'parts', 'planned', 'with carrier', 'final', 'words'],
      ];
      const stream = app.db.stream<Record<string, string | number | null>>(
        `SELECT outbound.number, given_name, family_name, state, reason, parts, due_at, handed_at, final_at, body FROM outbound LEFT JOIN person ON person.id = person_id WHERE run_id = $1 ORDER BY outbound.id`,
        [id],
        2000,
      );
      for await (const page of stream)
        for (const r of page)
          rows.push(
            [
              r.number,
              r.given_name,
              r.family_name,
              String(r.state).replaceAll('_', ' '),
              r.reason,
              r.parts,
              r.due_at,
              r.handed_at,
              r.final_at,
              r.body,
            ].map((v) => String(v ?? '')),
          );
      return new Download(`run-${id}.csv`, 'text/csv; charset=utf-8', writeCsv(rows));
    },
  }),
  route({
    method: 'post',
    path: '/api/runs/:id/pause',
    role: 'send',
    says: 'Holds what has not gone',
    body: Type.Object({}),
    handle: async (app, asked) => move(app, idOf(asked.params.id), ['sending'], 'paused', 'paused', asked),
  }),
  route({
    method: 'post',
    path: '/api/runs/:id/resume',
    role: 'send',
    says: 'Goes on',
    body: Type.Object({}),
    handle: async (app, asked) => move(app, idOf(asked.params.id), ['paused'], 'sending', 'resumed', asked),
  }),
  route({
    method: 'post',
    path: '/api/runs/:id/cancel-rest',
    role: 'send',
    says: 'Cancels everything of the run that has not gone',
    body: Type.Object({}),
    handle: async (app, asked) => {
      const id = idOf(asked.params.id);
      // nothing more is handed over from this moment; what is on its way comes to its end, and then the run is paid for
      await move(app, id, ['sending', 'paused'], 'stopped', 'rest canceled', asked, async (tx) => {
        await tx.query(`UPDATE run SET note = $2 WHERE id = $1`, [id, `canceled by ${who(asked).name}`]);
      });
      app.bus.changed('balance');
      return {};
    },
  }),
  route({
    method: 'get',
    path: '/api/outcomes',
    role: 'look',
    says: 'Runs that ended or are going, latest first, with what became of them; a page after ?skip=',
    query: Type.Object({ skip: Skip }),
    async handle(app, asked) {
      const { rows } = await app.db.query(
        `SELECT run.id, run.name, run.state, run.due_at, run.last_due_at, run.started_at, run.ended_at, run.people, run.parts, run.cost_micro, run.note, run.purpose,
           (SELECT coalesce(jsonb_object_agg(state, people), '{}') FROM run_tally WHERE run_id = run.id AND people > 0) AS tally,
           (SELECT count(*) FROM inbound WHERE run_id = run.id AND kind IN ('reply', 'maybe_stop')) AS answers,
           (SELECT count(*) FROM inbound WHERE run_id = run.id AND kind = 'stop') AS opted_out,
           (SELECT count(*) FROM link WHERE run_id = run.id AND clicked_at IS NOT NULL) AS clicked
         FROM run WHERE run.started_at IS NOT NULL OR run.state = 'missed' ORDER BY run.due_at DESC, run.id DESC LIMIT 50 OFFSET $1::int`,
        [asked.query.skip ?? 0],
      );
      return { runs: rows };
    },
  }),
];
