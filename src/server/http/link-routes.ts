import { links } from '../../core/api/links';
import { addressOfLink, followLink } from './link-queries';
import { nothingHere } from './problem';
import { route, type Route } from './route';

export const linkRoutes: Route[] = [
  route(links.follow, async (app, asked) => {
    const token = asked.params.token;
    if (!/^[2-9a-z]{12}$/.test(token)) throw nothingHere();
    if (asked.looking) {
      const address = await addressOfLink(app.db, token);
      if (address === undefined) throw nothingHere();
      return new URL(address);
    }
    const followed = await followLink(app.db, token, asked.at);
    if (!followed) throw nothingHere();
    if (followed.run_id !== null) app.bus.changed('run', followed.run_id);
    return new URL(followed.address);
  }),
];
