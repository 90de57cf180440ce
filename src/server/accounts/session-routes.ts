import { session } from '../../core/api/session';
import { oneLine } from '../../core/text/tidy';
import { balanceMicro } from '../engine/for-others';
import { countWaiting } from '../replies/for-others';
import { accountOfAddress, insertAccount, useInvitation } from './account-queries';
import { workspaceOf } from '../setup/for-others';
import { DEVICE_COOKIE, DEVICE_MS } from '../http/devices';
import { addressOf } from '../http/limits';
import { checkPassword, hashPassword, hashToken } from '../http/passwords';
import { Refusal } from '../../core/api/refusal';
import { route, type Route } from '../http/route';
import { beginSession, endSession, refuseWeak, SESSION_MS } from './session-begin';

// compared against when there is no such account, so that the answer takes as long
let dummy: Promise<string> | undefined;

export const sessionRoutes: Route[] = [
  route(session.get, async (app, asked) => {
    // before anything is read: what changes meanwhile is told
    const { moment } = app.bus;
    const { name, zone, country, currency, languages, quiet_from, quiet_to, hours, notices } = await workspaceOf(app.db);
    const base = { demo: app.demo, practice: app.practice !== undefined, now: asked.at, name };
    if (!asked.account) return { account: null, workspace: null, ...base };
    return {
      account: asked.account,
      workspace: { name, zone, country, currency, languages, quiet_from, quiet_to, hours, notices },
      ...base,
      balance_micro: await balanceMicro(app.db),
      replies: (await countWaiting(app.db, { account: asked.account.id, at: asked.at })).waiting,
      carrier: { ...app.engine.gateway.state, trouble: app.engine.line.line?.circuit?.reason ?? null },
      moment,
    };
  }),
  route(session.signIn, async (app, asked) => {
    const found = await accountOfAddress(app.db, addressOf(asked.body.email));
    dummy ??= hashPassword('nobody');
    // an empty hash is one that is being chosen anew: nothing is it
    const right = await checkPassword(asked.body.password, found?.password_hash || (await dummy));
    if (!right || !found?.password_hash)
      throw new Refusal('not signed in', 'sign-in', 'That address and password do not belong together.', {
        place: 'password',
        kept: 'What you typed is still here.',
      });
    asked.cookie('bell_session', await beginSession(app.db, found.id, asked.now), SESSION_MS);
    asked.cookie(DEVICE_COOKIE, app.devices.mark(addressOf(asked.body.email)), DEVICE_MS);
    return {};
  }),
  route(session.signOut, async (app, asked) => {
    await endSession(app.db, asked.token ?? '');
    asked.cookie('bell_session', '', 0);
    return {};
  }),
  route(session.join, async (app, asked) => {
    refuseWeak(asked.body.password);
    const name = oneLine(asked.body.name);
    if (name === '') throw new Refusal('wrong', 'name', 'Say what others should call you.', { place: 'name' });
    // before the transaction: it takes a while, in which nobody else should wait
    const hash = await hashPassword(asked.body.password);
    const made = await app.db.transaction(async (tx) => {
      const role = await useInvitation(tx, hashToken(asked.body.token), asked.at);
      if (!role) throw new Refusal('over', 'invitation', 'This link has been used or is too old. Ask for a new one.', {});
      const id = await insertAccount(tx, { email: addressOf(asked.body.email), name, role, hash, at: asked.at });
      if (id === undefined)
        throw new Refusal('clash', 'email', 'There is an account with that address already.', { place: 'email' });
      return beginSession(tx, id, asked.now);
    });
    asked.cookie('bell_session', made, SESSION_MS);
    asked.cookie(DEVICE_COOKIE, app.devices.mark(addressOf(asked.body.email)), DEVICE_MS);
    return {};
  }),
];
