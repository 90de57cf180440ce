import { Type } from 'typebox';
import type { Role } from '../../core/api/roles';
import { iso } from '../../core/clock';
import type { Queryable } from '../db/db';
import { balanceMicro } from '../engine/money';
import { oneLine } from '../../core/text/tidy';
import { addressOf } from './limits';
import { checkPassword, hashPassword, hashToken, newToken } from './passwords';
import { Problem } from './problem';
import { route, type Account, type Route } from './route';

const SESSION_MS = 14 * 86_400_000;
const TEN_MINUTES = 600;

// compared against when there is no such account, so that the answer takes as long
let dummy: Promise<string> | undefined;

export const sessionRoutes: Route[] = [
  route({
    method: 'get',
    path: '/api/session',
    role: 'anyone',
    says: 'Who is signed in, and what every page needs to know',
    async handle(app, asked) {
      const workspace = (
        await app.db.query<{
          name: string;
          zone: string;
          country: string;
          currency: string;
          languages: string[];
          quiet_from: string;
          quiet_to: string;
        }>(`SELECT name, zone, country, currency, languages, quiet_from, quiet_to FROM workspace`)
      ).rows[0];
      const base = { demo: app.demo, practice: app.practice !== undefined, now: asked.at };
      if (!asked.account) return { account: null, workspace: workspace ? { name: workspace.name } : null, ...base };
      const replies = (await app.db.query<{ n: number }>(`SELECT count(*) AS n FROM inbound WHERE done_at IS NULL`)).rows[0].n;
      return {
        account: asked.account,
        workspace,
        ...base,
        balance_micro: await balanceMicro(app.db),
        replies,
        carrier: { ...app.engine.gateway.state, trouble: app.engine.line.line?.circuit?.reason ?? null },
      };
    },
  }),
  route({
    method: 'post',
    path: '/api/sign-in',
    role: 'anyone',
    says: 'Signs in with e-mail address and password',
    // of an address, wherever it is tried from; and from one place, over whatever addresses
    limits: [
      { most: 30, seconds: TEN_MINUTES, by: 'origin', refusedOnly: true },
      { most: 10, seconds: TEN_MINUTES, by: 'address', refusedOnly: true },
    ],
    body: Type.Object({ email: Type.String({ maxLength: 200 }), password: Type.String({ maxLength: 200 }) }),
    async handle(app, asked) {
      const email = addressOf(asked.body.email);
      const { rows } = await app.db.query<{ id: number; password_hash: string }>(
        `SELECT id, password_hash FROM account WHERE email = $1`,
        [email],
      );
      dummy ??= hashPassword('nobody');
      const right = await checkPassword(asked.body.password, rows[0]?.password_hash ?? (await dummy));
      if (!right || rows.length === 0)
        throw new Problem(401, 'sign-in', 'That address and password do not belong together.', {
          place: 'password',
          kept: 'What you typed is still here.',
        });
      asked.cookie('bell_session', await beginSession(app.db, rows[0].id, asked.now), SESSION_MS);
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/sign-out',
    role: 'look',
    says: 'Ends this session',
    async handle(app, asked) {
      await app.db.query(`DELETE FROM session WHERE token_hash = $1`, [hashToken(asked.token ?? '')]);
      asked.cookie('bell_session', '', 0);
      return {};
    },
  }),
  route({
    method: 'post',
    path: '/api/invitation',
    role: 'anyone',
    says: 'Makes an account from a one-time link, and signs it in',
    limits: [{ most: 10, seconds: TEN_MINUTES, by: 'origin', refusedOnly: true }],
    body: Type.Object({
      token: Type.String({ maxLength: 100 }),
      name: Type.String({ minLength: 1, maxLength: 100 }),
      email: Type.String({ format: 'email', maxLength: 200 }),
      password: Type.String({ maxLength: 200 }),
    }),
    async handle(app, asked) {
      // NIST SP 800-63B: length counts, no composition rules
      if (asked.body.password.length < 12)
        throw new Problem(422, 'password', 'The password needs at least 12 characters; a few words do well.', {
          place: 'password',
        });
      const name = oneLine(asked.body.name);
      if (name === '') throw new Problem(422, 'name', 'Say what others should call you.', { place: 'name' });
      // before the transaction: it takes a while, in which nobody else should wait
      const hash = await hashPassword(asked.body.password);
      const email = addressOf(asked.body.email);
      const session = await app.db.transaction(async (tx) => {
        const { rows } = await tx.query<{ role: Role }>(
          `DELETE FROM invitation WHERE token_hash = $1 AND expires_at > $2::timestamptz RETURNING role`,
          [hashToken(asked.body.token), asked.at],
        );
        if (rows.length === 0)
          throw new Problem(410, 'invitation', 'This link has been used or is too old. Ask for a new one.', {});
        const made = await tx.query<{ id: number }>(
          `INSERT INTO account (email, name, role, password_hash, created_at) VALUES ($1, $2, $3, $4, $5::timestamptz) ON CONFLICT (email) DO NOTHING RETURNING id`,
          [email, name, rows[0].role, hash, asked.at],
        );
        if (made.rowCount === 0)
          throw new Problem(409, 'email', 'There is an account with that address already.', { place: 'email' });
        return beginSession(tx, made.rows[0].id, asked.now);
      });
      asked.cookie('bell_session', session, SESSION_MS);
      return {};
    },
  }),
];

/** A new session; answers its token, of which only the hash is kept. @param now ms */
async function beginSession(db: Queryable, accountId: number, now: number): Promise<string> {
  const { token, hash } = newToken();
  await db.query(
    `INSERT INTO session (token_hash, account_id, created_at, expires_at) VALUES ($1, $2, $3::timestamptz, $4::timestamptz)`,
    [hash, accountId, iso(now), iso(now + SESSION_MS)],
  );
  return token;
}

/** The account of a session token, if it is still good. */
export async function accountOf(
  app: { db: { query: (sql: string, params: string[]) => Promise<{ rows: unknown[] }> } },
  token: string | undefined,
  at: string,
): Promise<Account | undefined> {
  if (!token) return undefined;
  const { rows } = await app.db.query(
    `SELECT account.id, name, email, role, own_number FROM session JOIN account ON account.id = session.account_id WHERE token_hash = $1 AND expires_at > $2::timestamptz`,
    [hashToken(token), at],
  );
  return rows[0] as Account | undefined;
}
