import { links } from '../../core/api/sending/links';
import { optOut } from '../engine/for-others';
import { addressOfLink, followLink, openedByMachine, optOutLink, pressOptOut } from './link-queries';
import { optOutPage } from './opt-out-page';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { Page, route, type Asked, type Route } from '../http/route';
import { writeRecord } from '../db/record';
import type { App } from '../app-context';

const TOKEN = /^[2-9a-z]{12}$/;

async function optOutOf(app: App, { params }: Pick<Asked, 'params'>) {
  if (!TOKEN.test(params.token)) throw nothingHere();
  const found = await optOutLink(app.db, params.token);
  // of somebody who was erased nothing is known any more, and nothing is sent
  if (!found || found.number.startsWith('erased-')) throw nothingHere();
  return { ...found, path: `/o/${params.token}` };
}

export const linkRoutes: Route[] = [
  route(links.follow, async (app, asked) => {
    const token = asked.params.token;
    if (!TOKEN.test(token)) throw nothingHere();
    const open = { looks: addressOfLink, machine: openedByMachine, person: followLink }[asked.opener];
    const followed = await open(app.db, token, asked.at);
    if (!followed) throw nothingHere();
    if (followed.ended) throw new Refusal('over', 'ended', 'This link has ended. What it was about is over.');
    if (asked.opener !== 'looks' && followed.run_id !== null) app.bus.changed('run', followed.run_id);
    return new URL(followed.address);
  }),
  route(links.askOptOut, async (app, asked) => {
    const found = await optOutOf(app, asked);
    return new Page((nonce) => optOutPage(found, nonce));
  }),
  // where it was pressed is not asked: the page sends no referrer, so its own form has the origin `null`; the token is the secret, and
  // the worst that somebody without it can do is nothing
  route(links.pressOptOut, async (app, asked) => {
    const found = await optOutOf(app, asked);
    if (found.test) return new Page((nonce) => optOutPage(found, nonce));
    const runs = await app.db.transaction(async (tx) => {
      const done = await optOut(tx, { number: found.number, how: 'link', words: '' }, asked.at);
      if (await pressOptOut(tx, asked.params.token, asked.at))
        await writeRecord(tx, asked, 'someone opted out by their link', `run ${found.run_id ?? 0}`);
      return done.runs;
    });
    for (const run of runs) app.bus.changed('run', run);
    if (found.run_id !== null) app.bus.changed('run', found.run_id);
    app.bus.changed('people');
    return new Page((nonce) => optOutPage({ ...found, done: true }, nonce));
  }),
];
