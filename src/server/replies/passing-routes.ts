import { passing, type PassOnBody, type PassTo } from '../../core/api/desk/passing';
import { iso } from '../../core/clock';
import { isMailAddress } from '../../core/passing/mail';
import { PHONE_PROBLEM_WORDS, readPhone } from '../../core/phone/read';
import { oneLine } from '../../core/text/tidy';
import type { App } from '../app-context';
import { writeRecord } from '../db/record';
import { GIVEN_FOR, giveConversation, mailServer } from '../engine/for-others';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, who, type Route } from '../http/route';
import { countryOf } from '../setup/for-others';
import {
  allPassOn,
  endPassOn,
  insertPassOn,
  isOwnSender,
  knownForPassing,
  lateBroadcasts,
  lookAtPassOn,
  passAgain,
  settleAnswer,
} from './passing-queries';

const KEPT = 'What you typed is still here.';
const DAY = 86_400_000;

const wrong = (place: string, title: string, act?: string) => new Refusal('wrong', 'passing', title, { place, kept: KEPT, act });

/** Who it is and where it comes to them, as it is kept. @throws Refusal that names the place */
async function readTo<B extends PassTo>(app: App, body: B): Promise<B> {
  let address = body.address.trim();
  if (body.way === 'text') {
    const number = readPhone(address, { country: await countryOf(app.db) });
    if (!number.ok) throw wrong('address', `“${address}” cannot be texted: ${PHONE_PROBLEM_WORDS[number.problem]}.`);
    address = number.number;
  } else {
    if (!isMailAddress(address)) throw wrong('address', 'That is not one e-mail address.');
    if (!(await mailServer(app.db, app.mail?.practicePort())))
      throw wrong('way', 'No mail server is set.', 'Set one in Setup, Mail.');
  }
  if (await isOwnSender(app.db, address))
    throw wrong('address', 'That is a sender of this workspace: replies would go round and round.');
  return { ...body, address, name: oneLine(body.name) };
}

/** What was typed, as it is kept. @throws Refusal that names the place */
async function read(app: App, body: PassOnBody): Promise<PassOnBody> {
  const kept: PassOnBody = {
    ...(await readTo(app, body)),
    keyword_id: body.what === 'keyword' ? body.keyword_id : null,
    broadcast_id: body.what === 'broadcast' ? body.broadcast_id : null,
  };
  const there = await lookAtPassOn(app.db, kept);
  if (!there.there) throw wrong(body.what === 'keyword' ? 'keyword_id' : 'broadcast_id', 'Choose what it is of.');
  if (there.twice)
    throw new Refusal('clash', 'passing', `That is passed on to ${kept.address} already.`, { place: 'address', kept: KEPT });
  return kept;
}

export const passingRoutes: Route[] = [
  route(passing.list, async (app, asked) => ({
    rules: await allPassOn(app.db, iso(asked.now - GIVEN_FOR)),
    known: await knownForPassing(app.db),
    mail: (await mailServer(app.db, app.mail?.practicePort())) !== undefined,
    broadcasts: await lateBroadcasts(app.db),
  })),
  route(passing.add, async (app, asked) => {
    const kept = await read(app, asked.body);
    const id = await insertPassOn(app.db, kept, asked.at, who(asked).id);
    await writeRecord(app.db, asked, 'passes replies on to', kept.name, { what: kept.what, way: kept.way });
    return { id };
  }),
  route(passing.give, async (app, asked) => {
    const { number, ...body } = asked.body;
    const to = await readTo(app, body);
    if (to.address === number) throw wrong('address', 'That is their own number.');
    const passed = await app.db.transaction(async (tx) => {
      const n = await giveConversation(tx, number, to, { account: who(asked).id, now: asked.now });
      if (n === 0)
        throw new Refusal('clash', 'passing', `There is nothing of theirs that has not been passed on to ${to.name} already.`);
      await writeRecord(tx, asked, 'gave a conversation to', to.name, { way: to.way });
      return n;
    });
    app.bus.work();
    return { passed };
  }),
  route(passing.end, async (app, asked) => {
    const name = await endPassOn(app.db, idOf(asked.params.id), asked.at);
    if (name === undefined) throw nothingHere();
    await writeRecord(app.db, asked, 'passes nothing more on to', name);
    return {};
  }),
  route(passing.again, async (app, asked) => ({
    again: await app.db.transaction((tx) => passAgain(tx, idOf(asked.params.id), iso(asked.now - DAY), asked.at)),
  })),
  route(passing.settle, async (app, asked) => {
    if (!(await settleAnswer(app.db, idOf(asked.params.id)))) throw nothingHere();
    return {};
  }),
];
