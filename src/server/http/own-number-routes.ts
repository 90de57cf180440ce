import { createHash, randomInt } from 'node:crypto';
import { Type } from 'typebox';
import { readPhone } from '../../core/phone/read';
import { queueText } from '../engine/texts';
import { writeRecord } from '../setup/record';
import { Problem } from './problem';
import { route, who, type Route } from './route';

const VALID_MS = 10 * 60_000;
const TRIES = 5;
/** So many codes for an account within the time of one. */
const CODES = 3;

const hash = (account: number, code: string) => createHash('sha256').update(`${account}|${code}`).digest('hex');
const sent = new Map<number, number[]>();

/** The number one's own test texts go to is proved by a code that is texted to it: nobody makes a stranger's number theirs. */
export const ownNumberRoutes: Route[] = [
  route({
    method: 'put',
    path: '/api/session/own-number',
    role: 'write',
    says: 'Texts a code to a number, to prove that it is the account’s own',
    body: Type.Object({ number: Type.String({ maxLength: 40 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      const account = who(asked);
      const { country, name } = (await app.db.query<{ country: string; name: string }>(`SELECT country, name FROM workspace`))
        .rows[0];
      const read = readPhone(asked.body.number, { country });
      if (!read.ok) throw new Problem(422, 'number', 'That is not a number we can text.', { place: 'number' });
      const recent = (sent.get(account.id) ?? []).filter((at) => at > asked.now - VALID_MS);
      if (recent.length >= CODES)
        throw new Problem(429, 'too-many-codes', 'Three codes were texted already. Wait ten minutes.', {});
      sent.set(account.id, [...recent, asked.now]);
      const code = String(randomInt(100_000, 1_000_000));
      await app.db.transaction(async (tx) => {
        const sender = (await tx.query<{ id: number }>(`SELECT id FROM sender ORDER BY (kind = 'name'), id LIMIT 1`)).rows[0]?.id;
        if (!sender) throw new Problem(422, 'no-sender', 'There is no sender yet.', { act: 'Add one in Setup.' });
        await tx.query(
          `UPDATE account SET own_number_wanted = $2, own_number_code = $3, own_number_until = $4::timestamptz, own_number_tries = 0 WHERE id = $1`,
          [account.id, read.number, hash(account.id, code), new Date(asked.now + VALID_MS).toISOString()],
        );
        await queueText(
          tx,
          {
            kind: 'test',
            personId: null,
            number: read.number,
            senderId: sender,
            body: `${code} is your code for ${name}.`,
            usefulFor: VALID_MS,
          },
          asked.now,
        );
        await writeRecord(tx, asked, 'asked for a code to prove an own number', '');
      });
      app.bus.work();
      app.bus.changed('balance');
      return { number: read.number };
    },
  }),
  route({
    method: 'post',
    path: '/api/session/own-number/code',
    role: 'write',
    says: 'The code that came: from now on test texts go to that number',
    body: Type.Object({ code: Type.String({ maxLength: 20 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      const account = who(asked);
      const { rows } = await app.db.query<{ own_number_wanted: string; own_number_code: string | null }>(
        // counted before it is compared, so that no number of tries at once helps
        `UPDATE account SET own_number_tries = own_number_tries + 1
         WHERE id = $1 AND own_number_wanted IS NOT NULL AND own_number_until > $2::timestamptz AND own_number_tries < ${TRIES}
         RETURNING own_number_wanted, own_number_code`,
        [account.id, asked.at],
      );
      if (rows.length === 0)
        throw new Problem(422, 'code', 'That code is too old, or was tried too often.', {
          place: 'code',
          act: 'Ask for another code.',
        });
      if (rows[0].own_number_code !== hash(account.id, asked.body.code.trim()))
        throw new Problem(422, 'code', 'That is not the code.', { place: 'code' });
      await app.db.query(
        `UPDATE account SET own_number = own_number_wanted, own_number_wanted = NULL, own_number_code = NULL, own_number_until = NULL WHERE id = $1`,
        [account.id],
      );
      await writeRecord(app.db, asked, 'proved an own number', '');
      return { number: rows[0].own_number_wanted };
    },
  }),
];
