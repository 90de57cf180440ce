import { today } from '../../core/api/desk/today';
import { iso } from '../../core/clock';
import { localInstant, wallClock } from '../../core/zones';
import { route, who, type Route } from '../http/route';
import { missingFor, workspaceOf } from '../setup/for-others';
import { coming, nextRun, runsOfDay, runUnderWay, todayOf } from './today-queries';

export const todayRoutes: Route[] = [
  route(today.day, async (app, asked) => {
    const { zone, quiet_from, quiet_to } = await workspaceOf(app.db);
    const date = asked.query.date ?? wallClock(asked.now, zone).date;
    const from = localInstant(date, '00:00', zone).instant;
    const to = localInstant(wallClock(from + 30 * 3_600_000, zone).date, '00:00', zone).instant;
    const [runs, soon, next, sending] = await Promise.all([
      runsOfDay(app.db, from, to),
      coming(app.db, iso(from), iso(to)),
      nextRun(app.db, asked.at),
      runUnderWay(app.db),
    ]);
    return { date, from: iso(from), to: iso(to), zone, quiet_from, quiet_to, now: asked.at, runs, coming: soon, next, sending };
  }),
  route(today.get, async (app, asked) => {
    const [shown, missing] = await Promise.all([
      todayOf(app.db, { account: who(asked).id, at: asked.at }, asked.now),
      missingFor(app.db),
    ]);
    return { ...shown, missing };
  }),
];
