import { links } from '../../core/api/links';
import { nothingHere } from './problem';
import { route, type Route } from './route';

export const linkRoutes: Route[] = [
  route(links.follow, async (app, asked) => {
    const token = asked.params.token;
    if (!/^[2-9a-z]{12}$/.test(token)) throw nothingHere();
    if (asked.looking) {
      // previews and scanners look; nobody has clicked
      const { rows } = await app.db.query<{ address: string }>(`SELECT address FROM link WHERE token = $1`, [token]);
      if (rows.length === 0) throw nothingHere();
      return new URL(rows[0].address);
    }
    const { rows } = await app.db.query<{ address: string; run_id: number | null }>(
      `UPDATE link SET clicked_at = coalesce(clicked_at, $2::timestamptz) WHERE token = $1 RETURNING address, run_id`,
      [token, asked.at],
    );
    if (rows.length === 0) throw nothingHere();
    if (rows[0].run_id !== null) app.bus.changed('run', rows[0].run_id);
    return new URL(rows[0].address);
  }),
];
