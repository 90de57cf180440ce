import { Type } from 'typebox';
import { localInstant, wallClock } from '../../core/plan/zones';
import { iso } from '../../core/clock';
import { route, type Route } from '../http/route';

export const todayRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/day',
    role: 'look',
    says: "One day's runs for the bell line: ?date=YYYY-MM-DD in the workspace's zone",
    query: Type.Object({ date: Type.Optional(Type.String({ format: 'date' })) }),
    async handle(app, asked) {
      const { zone, quiet_from, quiet_to } = (
        await app.db.query<{ zone: string; quiet_from: string; quiet_to: string }>(
          `SELECT zone, quiet_from, quiet_to FROM workspace`,
        )
      ).rows[0];
      const date = asked.query.date ?? wallClock(asked.now, zone).date;
      const from = localInstant(date, '00:00', zone).instant;
      const to = localInstant(wallClock(from + 30 * 3_600_000, zone).date, '00:00', zone).instant;
      const { rows } = await app.db.query(
        `SELECT id, name, state, people, due_at AS first, greatest(last_due_at, coalesce(ended_at, last_due_at)) AS last FROM run
         WHERE due_at < $2::timestamptz AND last_due_at >= $1::timestamptz AND state <> 'stopped' ORDER BY due_at, id LIMIT 300`,
        [iso(from), iso(to)],
      );
      const next =
        (
          await app.db.query(
            `SELECT id, name, due_at, people FROM run WHERE state = 'waiting' AND due_at >= $1::timestamptz ORDER BY due_at LIMIT 1`,
            [asked.at],
          )
        ).rows[0] ?? null;
      const sending =
        (
          await app.db.query(
            `SELECT run.id, name, people, (SELECT coalesce(sum(people), 0)::bigint FROM run_tally t WHERE t.run_id = run.id AND t.state NOT IN ('planned', 'handing_over')) AS gone, run.state FROM run WHERE run.state IN ('sending', 'paused') ORDER BY id LIMIT 1`,
          )
        ).rows[0] ?? null;
      return { date, from: iso(from), to: iso(to), zone, quiet_from, quiet_to, now: asked.at, runs: rows, next, sending };
    },
  }),
  route({
    method: 'get',
    path: '/api/today',
    role: 'look',
    says: 'What needs someone, what goes out next, what was just sent',
    async handle(app, asked) {
      const [replies, uncertain, failed, missed, going, sent, imports] = await Promise.all([
        app.db.query(
          `SELECT inbound.id, received_at, inbound.number, body, kind, inbound.person_id, trim(given_name || ' ' || family_name) AS name, count(*) OVER () AS total
           FROM inbound LEFT JOIN person ON person.id = inbound.person_id WHERE done_at IS NULL ORDER BY inbound.id LIMIT 3`,
        ),
        app.db.query(
          `SELECT run.id, run.name, t.people AS n, run.due_at AS at FROM run_tally t JOIN run ON run.id = t.run_id WHERE t.state = 'uncertain' AND t.people > 0 AND run.due_at > $1::timestamptz ORDER BY at DESC LIMIT 5`,
          [iso(asked.now - 7 * 86_400_000)],
        ),
        app.db.query(
          `SELECT run.id, run.name, outbound.reason, count(*) AS n, max(run.due_at) AS at FROM outbound JOIN run ON run.id = run_id
           WHERE outbound.state = 'not_delivered' AND run.due_at > $1::timestamptz GROUP BY run.id, run.name, outbound.reason HAVING count(*) >= 2 ORDER BY at DESC LIMIT 3`,
          [iso(asked.now - 86_400_000)],
        ),
        app.db.query(
          `SELECT id, name, note, due_at, broadcast_id FROM run WHERE state = 'missed' AND due_at > $1::timestamptz ORDER BY due_at DESC LIMIT 3`,
          [iso(asked.now - 3 * 86_400_000)],
        ),
        app.db.query(
          `SELECT id, broadcast_id, name, state, people, parts, cost_micro, due_at, last_due_at FROM run WHERE state IN ('waiting', 'sending', 'paused', 'planning') ORDER BY due_at, id LIMIT 12`,
        ),
        app.db.query(
          `SELECT id, name, state, people, due_at, cost_micro, (SELECT coalesce(jsonb_object_agg(t.state, t.people), '{}') FROM run_tally t WHERE t.run_id = run.id AND t.people > 0) AS tally,
             (SELECT count(*) FROM inbound WHERE run_id = run.id AND kind IN ('reply', 'maybe_stop')) AS answers, (SELECT count(*) FROM inbound WHERE run_id = run.id AND kind = 'stop') AS opted_out,
             (SELECT count(*) FROM link WHERE run_id = run.id AND clicked_at IS NOT NULL) AS clicked
           FROM run WHERE started_at IS NOT NULL AND state IN ('finished', 'stopped') ORDER BY due_at DESC LIMIT 5`,
        ),
        app.db.query(
          `SELECT id, file_name, state, counts FROM import WHERE state IN ('open', 'writing') ORDER BY id DESC LIMIT 3`,
        ),
      ]);
      return {
        replies: replies.rows,
        uncertain: uncertain.rows,
        failed: failed.rows,
        missed: missed.rows,
        going: going.rows,
        sent: sent.rows,
        imports: imports.rows,
      };
    },
  }),
];
