import { calendar } from '../../core/api/sending/calendar';
import { iso } from '../../core/clock';
import type { Queryable } from '../db/db';
import { writeRecord } from '../db/record';
import { hashToken, newToken } from '../http/passwords';
import { nothingHere } from '../../core/api/refusal';
import { Download, route, who, type Route } from '../http/route';
import { workspaceOf } from '../setup/for-others';
import { calendarFeed, type CalendarRun, type CalendarSeries } from './feed';

const DAY = 86_400_000;

async function runsFor(db: Queryable, from: string): Promise<CalendarRun[]> {
  const { rows } = await db.query<CalendarRun>(
    `SELECT id, name, state, people, due_at AS first, last_due_at AS last FROM run
     WHERE due_at >= $1::timestamptz AND NOT called_off AND state <> 'planning' ORDER BY due_at, id LIMIT 1000`,
    [from],
  );
  return rows;
}

async function seriesFor(db: Queryable): Promise<CalendarSeries[]> {
  const { rows } = await db.query<CalendarSeries>(
    `SELECT id, name, draft->'when' AS "when", next_date FROM broadcast WHERE state = 'scheduled' AND next_date IS NOT NULL ORDER BY id LIMIT 200`,
  );
  return rows;
}

export const calendarRoutes: Route[] = [
  route(calendar.begin, async (app, asked) => {
    const { token, hash } = newToken();
    await app.db.query(`UPDATE account SET calendar_hash = $2 WHERE id = $1`, [who(asked).id, hash]);
    await writeRecord(app.db, asked, 'made an address of the calendar', '');
    return { path: `/calendar/${token}` };
  }),
  route(calendar.end, async (app, asked) => {
    await app.db.query(`UPDATE account SET calendar_hash = NULL WHERE id = $1`, [who(asked).id]);
    await writeRecord(app.db, asked, 'ended the address of the calendar', '');
    return {};
  }),
  route(calendar.feed, async (app, asked) => {
    const { rowCount } = await app.db.query(`SELECT 1 FROM account WHERE calendar_hash = $1 AND removed_at IS NULL`, [
      hashToken(asked.params.token),
    ]);
    if (rowCount === 0) throw nothingHere();
    const { name, zone, public_address } = await workspaceOf(app.db);
    const [runs, series] = await Promise.all([runsFor(app.db, iso(asked.now - 30 * DAY)), seriesFor(app.db)]);
    const text = calendarFeed({ workspace: name, zone, address: public_address, runs, series, now: asked.now });
    return new Download('broadcasts.ics', 'text/calendar; charset=utf-8', text);
  }),
];
