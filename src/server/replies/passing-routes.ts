import { passing, type PassOnBody } from '../../core/api/desk/passing';
import { iso } from '../../core/clock';
import { isMailAddress } from '../../core/passing/mail';
import { PHONE_PROBLEM_WORDS, readPhone } from '../../core/phone/read';
import { oneLine } from '../../core/text/tidy';
import type { App } from '../app-context';
import { writeRecord } from '../db/record';
import { mailServer } from '../engine/for-others';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, who, type Route } from '../http/route';
import { countryOf } from '../setup/for-others';
import { allPassOn, endPassOn, insertPassOn, lateBroadcasts, lookAtPassOn, passAgain, settleAnswer } from './passing-queries';

const KEPT = 'What you typed is still here.';
const DAY = 86_400_000;

/** What was typed, as it is kept. @throws Refusal that names the place */
async function read(app: App, body: PassOnBody): Promise<PassOnBody> {
  const wrong = (place: string, title: string, act?: string) =>
    new Refusal('wrong', 'passing', title, { place, kept: KEPT, act });
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
  const kept: PassOnBody = {
    ...body,
    address,
    name: oneLine(body.name),
    keyword_id: body.what === 'keyword' ? body.keyword_id : null,
    broadcast_id: body.what === 'broadcast' ? body.broadcast_id : null,
  };
  const there = await lookAtPassOn(app.db, kept);
  if (!there.there) throw wrong(body.what === 'keyword' ? 'keyword_id' : 'broadcast_id', 'Choose what it is of.');
  if (there.own) throw wrong('address', 'That is a sender of this workspace: replies would go round and round.');
  if (there.twice)
    throw new Refusal('clash', 'passing', `That is passed on to ${address} already.`, { place: 'address', kept: KEPT });
  return kept;
}

export const passingRoutes: Route[] = [
  route(passing.list, async (app) => ({
    rules: await allPassOn(app.db),
    mail: (await mailServer(app.db, app.mail?.practicePort())) !== undefined,
    broadcasts: await lateBroadcasts(app.db),
  })),
  route(passing.add, async (app, asked) => {
    const kept = await read(app, asked.body);
    const id = await insertPassOn(app.db, kept, asked.at, who(asked).id);
    await writeRecord(app.db, asked, 'passes replies on to', kept.name, { what: kept.what, way: kept.way });
    return { id };
  }),
  route(passing.end, async (app, asked) => {
    const name = await endPassOn(app.db, idOf(asked.params.id), asked.at);
    if (name === undefined) throw nothingHere();
    await writeRecord(app.db, asked, 'passes nothing more on to', name);
    return {};
  }),
  route(passing.again, async (app, asked) => ({
    again: await passAgain(app.db, idOf(asked.params.id), iso(asked.now - DAY), asked.at),
  })),
  route(passing.settle, async (app, asked) => {
    if (!(await settleAnswer(app.db, idOf(asked.params.id)))) throw nothingHere();
    return {};
  }),
];
