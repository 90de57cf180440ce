import { links } from '../../core/api/sending/links';
import type { Tx } from '../db/db';
import { optIn, optOut } from '../engine/for-others';
import {
  addressOfLink,
  endMarketing,
  followLink,
  openedByMachine,
  optOutLink,
  pressOptOut,
  takeMarketingBack,
  unpressOptOut,
  type OptOutLink,
} from './link-queries';
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
  route(links.pressOptOut, (app, asked) =>
    pressed(app, asked, async (tx, found) => {
      const done = await optOut(tx, { number: found.number, how: 'link', words: '' }, asked.at);
      if (await pressOptOut(tx, asked.params.token, asked.at))
        await writeRecord(tx, asked, 'someone opted out by their link', `run ${found.run_id ?? 0}`);
      return done.runs;
    }),
  ),
  route(links.endMarketing, (app, asked) =>
    pressed(app, asked, async (tx, found) => {
      if ((await endMarketing(tx, found.number, asked.at)) > 0)
        await writeRecord(tx, asked, 'someone ended marketing by their link', `run ${found.run_id ?? 0}`);
      return [];
    }),
  ),
  route(links.takeBack, (app, asked) =>
    pressed(app, asked, async (tx, found) => {
      // what they said in another way is not taken back by a page
      const back = found.by_link ? await optIn(tx, found.number) : (await takeMarketingBack(tx, found.number, asked.at)) > 0;
      if (found.by_link) await unpressOptOut(tx, asked.params.token);
      if (back) await writeRecord(tx, asked, 'someone took back what they said by their link', `run ${found.run_id ?? 0}`);
      return [];
    }),
  ),
];

/** A press on the page of an opt-out link, and the page as it is after it; by one of a test nothing changes. */
async function pressed(
  app: App,
  asked: Pick<Asked, 'params'>,
  act: (tx: Tx, found: OptOutLink) => Promise<readonly number[]>,
): Promise<Page> {
  const found = await optOutOf(app, asked);
  if (found.test) return new Page((nonce) => optOutPage(found, nonce));
  for (const run of await app.db.transaction((tx) => act(tx, found))) app.bus.changed('run', run);
  if (found.run_id !== null) app.bus.changed('run', found.run_id);
  app.bus.changed('people');
  const now = await optOutOf(app, asked);
  return new Page((nonce) => optOutPage(now, nonce));
}
