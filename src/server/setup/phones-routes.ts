import { Type } from 'typebox';
import { iso } from '../../core/clock';
import type { App } from '../http/app-context';
import { Problem } from '../http/problem';
import { route, type Route } from '../http/route';

/** The practice carrier's desk, passed on: only while the practice carrier is the one connected. */
async function desk(app: App, path: string, body?: unknown): Promise<unknown> {
  if (!app.practice) throw new Problem(404, 'no-practice', 'There are no practice phones: a real carrier is connected.');
  try {
    const answer = await fetch(
      `${app.practice.url}${path}`,
      body === undefined ? {} : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
    );
    return await answer.json();
  } catch {
    throw new Problem(503, 'practice-down', 'The practice carrier does not answer just now. It is being started again.', {});
  }
}

export const phonesRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/phones',
    role: 'look',
    says: 'The practice phones with what is on their screens',
    handle: async (app, asked) => {
      const list = (await desk(app, `/phones?limit=60&search=${encodeURIComponent(asked.query.search ?? '')}`)) as {
        phones: { number: string }[];
        total: number;
      };
      const { rows } = await app.db.query<{ number: string; name: string }>(
        `SELECT DISTINCT ON (number) number, trim(given_name || ' ' || family_name) AS name FROM person WHERE number = ANY ($1::text[]) ORDER BY number, id`,
        [list.phones.map((phone) => `+${phone.number}`)],
      );
      const names = new Map(rows.map((row) => [row.number, row.name]));
      return { total: list.total, phones: list.phones.map((phone) => ({ ...phone, name: names.get(`+${phone.number}`) ?? '' })) };
    },
  }),
  route({
    method: 'post',
    path: '/api/phones/:number/text',
    role: 'send',
    says: 'Answers as that phone',
    body: Type.Object(
      { to: Type.String({ maxLength: 21 }), text: Type.String({ minLength: 1, maxLength: 600 }) },
      { additionalProperties: false },
    ),
    handle: (app, asked) => desk(app, `/phones/${encodeURIComponent(asked.params.number)}/texts`, asked.body),
  }),
  route({
    method: 'post',
    path: '/api/clock',
    role: 'send',
    says: "Moves the demo's clock forward, in minutes",
    body: Type.Object({ minutes: Type.Integer({ minimum: 1, maximum: 10_080 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      if (!app.demo) throw new Problem(403, 'real-clock', 'Only the demo has a clock that can be moved.');
      app.clock.move(asked.body.minutes * 60_000);
      await app.db.query(`UPDATE workspace SET demo_clock = $1::timestamptz`, [iso(app.clock.now())]);
      await desk(app, '/clock', { offset: app.clock.offset() });
      app.bus.changed('clock');
      app.bus.work();
      return { now: iso(app.clock.now()) };
    },
  }),
];
