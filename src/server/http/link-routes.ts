import { links } from '../../core/api/links';
import { addressOfLink, followLink } from './link-queries';
import { nothingHere, Problem } from './problem';
import { route, type Route } from './route';

export const linkRoutes: Route[] = [
  route(links.follow, async (app, asked) => {
    const token = asked.params.token;
    if (!/^[2-9a-z]{12}$/.test(token)) throw nothingHere();
    const followed = await (asked.looking ? addressOfLink : followLink)(app.db, token, asked.at);
    if (!followed) throw nothingHere();
    if (followed.ended) throw new Problem(410, 'ended', 'This link has ended. What it was about is over.');
    if (!asked.looking && followed.run_id !== null) app.bus.changed('run', followed.run_id);
    return new URL(followed.address);
  }),
];
