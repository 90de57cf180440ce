import { session } from '../../core/api/session';
import { readPhone } from '../../core/phone/read';
import { countryOf } from '../setup/for-others';
import { setPlace } from './account-queries';
import { proveNumber, textCode } from './own-number';
import { oneLine } from '../../core/text/tidy';
import { writeRecord } from '../db/record';
import { Refusal } from '../../core/api/refusal';
import { route, who, type Route } from '../http/route';

/** The number one's own test texts go to is proved by a code that is texted to it: nobody makes a stranger's number theirs. */
export const ownNumberRoutes: Route[] = [
  route(session.ownNumber, async (app, asked) => {
    const country = await countryOf(app.db);
    const read = readPhone(asked.body.number, { country });
    if (!read.ok) throw new Refusal('wrong', 'number', 'That is not a number we can text.', { place: 'number' });
    const done = await textCode(app.db, who(asked).id, read.number, asked.now);
    if (done === 'too many codes')
      throw new Refusal('too often', 'too-many-codes', 'Three codes were texted already. Wait ten minutes.', {});
    if (done === 'no sender') throw new Refusal('wrong', 'no-sender', 'There is no sender yet.', { act: 'Add one in Setup.' });
    await writeRecord(app.db, asked, 'asked for a code to prove an own number', '');
    app.bus.work();
    app.bus.changed('balance');
    return { number: read.number };
  }),
  route(session.ownNumberCode, async (app, asked) => {
    const done = await proveNumber(app.db, who(asked).id, asked.body.code.trim(), asked.now);
    if (done === 'too old or tried too often')
      throw new Refusal('wrong', 'code', 'That code is too old, or was tried too often.', {
        place: 'code',
        act: 'Ask for another code.',
      });
    if (done === 'another code') throw new Refusal('wrong', 'code', 'That is not the code.', { place: 'code' });
    await writeRecord(app.db, asked, 'proved an own number', '');
    return done;
  }),
  route(session.place, async (app, asked) => {
    await setPlace(app.db, who(asked).id, oneLine(asked.body.place));
    return {};
  }),
];
