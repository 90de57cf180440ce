import { phones, type BoxMail, type Phone } from '../../core/api/desk/phones';
import { iso } from '../../core/clock';
import { PHONE_PROBLEM_WORDS, readPhone } from '../../core/phone/read';
import type { App } from '../app-context';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, type Route } from '../http/route';
import { countryOf } from '../setup/for-others';
import { knownScreens } from './known-screens';
import { namesOfNumbers } from '../people/for-others';

/** The practice carrier's desk, passed on: only while the practice carrier is the one connected. */
async function desk(app: App, path: string, body?: unknown): Promise<unknown> {
  if (!app.practice) throw new Refusal('not here', 'no-practice', 'There are no practice phones: a real carrier is connected.');
  try {
    const answer = await fetch(
      `${app.practice.url}${path}`,
      body === undefined ? {} : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
    );
    return await answer.json();
  } catch {
    throw new Refusal('away', 'practice-down', 'The practice carrier does not answer just now. It is being started again.', {});
  }
}

export const phonesRoutes: Route[] = [
  route(phones.list, async (app, asked) => {
    const ask = async () =>
      (await desk(app, `/phones?limit=60&search=${encodeURIComponent(asked.query.search ?? '')}`)) as {
        phones: Omit<Phone, 'name'>[];
        total: number;
        told: boolean;
      };
    let list = await ask();
    if (!list.told) {
      // it has just begun, perhaps anew: its phones have what they were sent before
      await desk(app, '/phones', { phones: await knownScreens(app.db) });
      list = await ask();
    }
    const names = await namesOfNumbers(
      app.db,
      list.phones.map((phone) => `+${phone.number}`),
    );
    return { total: list.total, phones: list.phones.map((phone) => ({ ...phone, name: names.get(`+${phone.number}`) ?? '' })) };
  }),
  route(phones.text, async (app, asked) => {
    const read = readPhone(asked.params.number, { country: await countryOf(app.db) });
    if (!read.ok)
      throw new Refusal('wrong', 'number', `“${asked.params.number}” is ${PHONE_PROBLEM_WORDS[read.problem]}.`, {
        place: 'number',
      });
    await desk(app, `/phones/${read.number.slice(1)}/texts`, asked.body);
    return {};
  }),
  route(
    phones.mails,
    async (app, asked) =>
      (await desk(app, `/mails?limit=60&search=${encodeURIComponent(asked.query.search ?? '')}`)) as { mails: BoxMail[] },
  ),
  route(phones.answerMail, async (app, asked) => {
    const { said } = (await desk(app, `/mails/${idOf(asked.params.id)}/answer`, asked.body)) as { said?: string };
    if (said === undefined) throw nothingHere();
    return { said };
  }),
  route(phones.moveClock, async (app, asked) => {
    if (!app.demo) throw new Refusal('not allowed', 'real-clock', 'Only the demo has a clock that can be moved.');
    await app.moveClock(asked.body.minutes * 60_000);
    // a carrier that is away begins with the clock as it is by then
    await desk(app, '/clock', { offset: app.clock.offset() }).catch((error: unknown) => {
      if (!(error instanceof Refusal) || error.kind !== 'practice-down') throw error;
    });
    app.bus.work();
    return { now: iso(app.clock.now()) };
  }),
];
