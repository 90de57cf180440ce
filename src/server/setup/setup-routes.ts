import { Type } from 'typebox';
import { isZone } from '../../core/plan/zones';
import { isDuplicate } from '../db/db-error';
import { balanceMicro } from '../engine/money';
import { newToken } from '../http/passwords';
import { Problem } from '../http/problem';
import { route, type Route } from '../http/route';
import { encodeGsm7 } from '../../core/text/gsm7';
import { writeRecord } from './record';

const ClockTime = Type.String({ pattern: '^([01]\\d|2[0-3]):[0-5]\\d$' });

/** A name as sender: at most 11 characters of the plain alphabet (3GPP TS 23.040 §9.1.2.5: 10 octets hold 11 septets). */
function senderNameProblem(name: string): string | undefined {
  try {
    const septets = encodeGsm7(name).length;
    return septets > 11
      ? `“${name}” has ${septets} characters; a name as sender has at most 11.`
      : name.trim() === ''
        ? 'The name is empty.'
        : undefined;
  } catch {
    return `“${name}” has a character that a sender's name cannot have.`;
  }
}

export const setupRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/setup',
    role: 'look',
    says: 'Settings, senders, rate card, accounts, the record',
    async handle(app) {
      const [workspace, senders, rates, accounts, entries, record, fields] = await Promise.all([
        app.db.query(
          `SELECT name, zone, country, currency, languages, quiet_from, quiet_to, late_limit_minutes, public_address, opt_out_wording, help_wording, emergency_line, carrier_host, carrier_port, carrier_system_id FROM workspace`,
        ),
        app.db.query(`SELECT id, name, kind, address, parts_per_second FROM sender ORDER BY id`),
        app.db.query(`SELECT prefix, destination, price_micro FROM rate ORDER BY prefix`),
        app.db.query(`SELECT id, name, email, role FROM account ORDER BY id`),
        app.db.query(
          `SELECT balance_entry.id, at, kind, amount_micro, coalesce(run.name, balance_entry.note) AS what FROM balance_entry LEFT JOIN run ON run.id = run_id ORDER BY balance_entry.id DESC LIMIT 30`,
        ),
        app.db.query(
          `SELECT record.id, at, act, subject, account.name AS by FROM record LEFT JOIN account ON account.id = account_id ORDER BY record.id DESC LIMIT 40`,
        ),
        app.db.query(`SELECT slug, label, type, about, choices FROM field_def ORDER BY about DESC, position, label`),
      ]);
      return {
        workspace: workspace.rows[0],
        senders: senders.rows,
        rates: rates.rows,
        accounts: accounts.rows,
        entries: entries.rows,
        record: record.rows,
        fields: fields.rows,
        balance_micro: await balanceMicro(app.db),
        carrier: {
          ...app.engine.gateway.state,
          practice: app.practice !== undefined,
          host: app.engine.gateway.address.host,
          port: app.engine.gateway.address.port,
        },
      };
    },
  }),
  route({
    method: 'put',
    path: '/api/setup/workspace',
    role: 'manage',
    says: 'Changes the settings',
    body: Type.Object(
      {
        name: Type.String({ minLength: 1, maxLength: 80 }),
        zone: Type.String({ maxLength: 60 }),
        quiet_from: ClockTime,
        quiet_to: ClockTime,
        late_limit_minutes: Type.Integer({ minimum: 1, maximum: 1440 }),
        opt_out_wording: Type.Record(Type.String({ pattern: '^[a-z]{2}$' }), Type.String({ maxLength: 120 })),
        help_wording: Type.String({ maxLength: 300 }),
        emergency_line: Type.String({ maxLength: 60 }),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const b = asked.body;
      if (!isZone(b.zone))
        throw new Problem(422, 'zone', `There is no time zone “${b.zone}”.`, { place: 'zone', kept: 'Nothing was changed.' });
      await app.db.query(
        `UPDATE workspace SET name = $1, zone = $2, quiet_from = $3, quiet_to = $4, late_limit_minutes = $5, opt_out_wording = $6::jsonb, help_wording = $7, emergency_line = $8`,
        [
          b.name,
          b.zone,
          b.quiet_from,
          b.quiet_to,
          b.late_limit_minutes,
          JSON.stringify(b.opt_out_wording),
          b.help_wording,
          b.emergency_line,
        ],
      );
      await writeRecord(app.db, asked, 'changed the settings', '');
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/setup/senders',
    role: 'manage',
    says: 'Adds a sender: long number, short code, or name',
    body: Type.Object(
      {
        name: Type.String({ minLength: 1, maxLength: 40 }),
        kind: Type.Union([Type.Literal('long'), Type.Literal('short'), Type.Literal('name')]),
        address: Type.String({ maxLength: 21 }),
        parts_per_second: Type.Integer({ minimum: 1, maximum: 1000 }),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const { name, kind, address, parts_per_second } = asked.body;
      const wrong =
        kind === 'name'
          ? senderNameProblem(address)
          : kind === 'short'
            ? /^\d{3,8}$/.test(address)
              ? undefined
              : 'A short code has 3 to 8 digits.'
            : /^\+[1-9]\d{6,14}$/.test(address)
              ? undefined
              : 'A long number is written with + and its country code.';
      if (wrong) throw new Problem(422, 'sender', wrong, { place: 'address', kept: 'What you typed is still here.' });
      try {
        const { rows } = await app.db.query<{ id: number }>(
          `INSERT INTO sender (name, kind, address, parts_per_second, created_at) VALUES ($1, $2, $3, $4, $5::timestamptz) RETURNING id`,
          [name, kind, address, parts_per_second, asked.at],
        );
        await writeRecord(app.db, asked, 'added a sender', name);
        return { id: rows[0].id };
      } catch (error) {
        if (isDuplicate(error)) throw new Problem(409, 'sender', `There is a sender ${address} already.`, { place: 'address' });
        throw error;
      }
    },
  }),
  route({
    method: 'put',
    path: '/api/setup/rates',
    role: 'manage',
    says: 'Sets the price of a part for a prefix, in millionths',
    body: Type.Object(
      {
        prefix: Type.String({ pattern: '^\\+[1-9]\\d{0,6}$' }),
        destination: Type.String({ minLength: 1, maxLength: 60 }),
        price_micro: Type.Integer({ minimum: 0, maximum: 10_000_000 }),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      await app.db.query(
        `INSERT INTO rate (prefix, destination, price_micro) VALUES ($1, $2, $3) ON CONFLICT (prefix) DO UPDATE SET destination = $2, price_micro = $3`,
        [asked.body.prefix, asked.body.destination, asked.body.price_micro],
      );
      await writeRecord(app.db, asked, 'set a rate', asked.body.prefix);
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/setup/balance',
    role: 'manage',
    says: 'Adds to the prepaid balance, in millionths',
    body: Type.Object({ amount_micro: Type.Integer({ minimum: 1, maximum: 100_000_000_000 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      await app.db.query(
        `INSERT INTO balance_entry (at, kind, amount_micro, note) VALUES ($1::timestamptz, 'top_up', $2, 'added by hand')`,
        [asked.at, asked.body.amount_micro],
      );
      await writeRecord(app.db, asked, 'added to the balance', '', { amount_micro: asked.body.amount_micro });
      app.bus.changed('balance');
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/setup/invitations',
    role: 'manage',
    says: 'Makes a one-time link for a new account',
    body: Type.Object(
      { role: Type.Union([Type.Literal('look'), Type.Literal('write'), Type.Literal('send'), Type.Literal('manage')]) },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const { token, hash } = newToken();
      await app.db.query(`INSERT INTO invitation (token_hash, role, expires_at) VALUES ($1, $2, $3::timestamptz)`, [
        hash,
        asked.body.role,
        new Date(asked.now + 7 * 86_400_000).toISOString(),
      ]);
      await writeRecord(app.db, asked, 'invited someone', asked.body.role);
      return { path: `/join/${token}` };
    },
  }),
];
