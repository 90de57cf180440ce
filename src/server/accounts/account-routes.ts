import type { Layout } from '../../core/api/layouts';
import { layouts } from '../../core/api/layouts';
import { accounts } from '../../core/api/setup';
import { iso } from '../../core/clock';
import { writeRecord } from '../db/record';
import { DEVICE_COOKIE, DEVICE_MS } from '../http/devices';
import { checkPassword, hashPassword, hashToken, newToken } from '../http/passwords';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, who, type Route } from '../http/route';
import { beginSession, refuseWeak, SESSION_MS } from './session-begin';
import {
  addressOfAccount,
  keepLayout,
  layoutsOf,
  passwordOf,
  removeAccount,
  roleOf,
  setPassword,
  setRole,
  useResetLink,
} from './account-queries';
import { closeWays, endSessions, managers } from './account-ways';
import { insertInvitation } from '../setup/for-others';

const RESET_MS = 86_400_000;

/** Somebody who can manage has to remain, or nobody could ever change anything again. */
function refuseLast(those: readonly number[], id: number): void {
  if (those.length === 1 && those[0] === id)
    throw new Refusal('clash', 'last-manager', 'They are the only one who may manage and can sign in.', {
      kept: 'Nothing was changed.',
      act: 'Let somebody else manage first.',
    });
}

export const accountRoutes: Route[] = [
  route(accounts.password, async (app, asked) => {
    const { id } = who(asked);
    refuseWeak(asked.body.password);
    if (!(await checkPassword(asked.body.old, await passwordOf(app.db, id))))
      throw new Refusal('wrong', 'password', 'That is not your password now.', { place: 'old' });
    const hash = await hashPassword(asked.body.password);
    await app.db.transaction(async (tx) => {
      await closeWays(tx, id, hashToken(asked.token ?? ''));
      await setPassword(tx, id, hash);
      await writeRecord(tx, asked, 'changed their password', '');
    });
    return {};
  }),
  route(accounts.signOutEverywhere, async (app, asked) => {
    const ended = await endSessions(app.db, who(asked).id, hashToken(asked.token ?? ''));
    await writeRecord(app.db, asked, 'signed out everywhere else', '');
    return { ended };
  }),
  route(accounts.change, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction(async (tx) => {
      const those = await managers(tx);
      if (asked.body.role !== 'manage') refuseLast(those, id);
      if (!(await setRole(tx, id, asked.body.role))) throw nothingHere();
      await writeRecord(tx, asked, `changed a role to ${asked.body.role}`, `account ${id}`);
    });
    return {};
  }),
  route(accounts.remove, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction(async (tx) => {
      refuseLast(await managers(tx), id);
      if (!(await removeAccount(tx, id, asked.at))) throw nothingHere();
      await writeRecord(tx, asked, 'removed an account', `account ${id}`);
    });
    return {};
  }),
  route(accounts.reset, async (app, asked) => {
    const id = idOf(asked.params.id);
    const { token, hash } = newToken();
    await app.db.transaction(async (tx) => {
      refuseLast(await managers(tx), id);
      const role = await roleOf(tx, id);
      if (!role) throw nothingHere();
      await closeWays(tx, id);
      await insertInvitation(tx, { hash, role, account: id, until: iso(asked.now + RESET_MS) });
      await setPassword(tx, id, '');
      await writeRecord(tx, asked, 'reset a password', `account ${id}`);
    });
    return { path: `/reset/${token}` };
  }),
  route(accounts.chooseNew, async (app, asked) => {
    refuseWeak(asked.body.password);
    const hash = await hashPassword(asked.body.password);
    const session = await app.db.transaction(async (tx) => {
      const id = await useResetLink(tx, hashToken(asked.body.token), asked.at);
      if (id === undefined)
        throw new Refusal('over', 'invitation', 'This link has been used or is too old. Ask for a new one.', {});
      await closeWays(tx, id);
      await setPassword(tx, id, hash);
      await writeRecord(tx, { ...asked, account: { id } }, 'chose a new password', '');
      return { token: await beginSession(tx, id, asked.now), email: await addressOfAccount(tx, id) };
    });
    asked.cookie('bell_session', session.token, SESSION_MS);
    asked.cookie(DEVICE_COOKIE, app.devices.mark(session.email), DEVICE_MS);
    return {};
  }),
  route(layouts.get, async (app, asked) => (await layoutsOf(app.db, who(asked).id)) as Record<string, Layout>),
  route(layouts.keep, async (app, asked) => {
    if (!/^[a-z][a-z-]{0,40}$/.test(asked.params.table)) throw nothingHere();
    await keepLayout(app.db, who(asked).id, asked.params.table, asked.body);
    return {};
  }),
];
