import { PHONE_PROBLEM_WORDS, readPhone } from '../../core/phone/read';
import { setup } from '../../core/api/setup';
import { links } from '../../core/api/sending/links';
import { originOf } from '../../core/plan/draft/web-address';
import { iso } from '../../core/clock';
import { isZone } from '../../core/zones';
import { encodeGsm7 } from '../../core/text/gsm7';
import { isDuplicate } from '../db/db-error';
import { writeRecord } from '../db/record';
import { balanceMicro } from '../engine/for-others';
import { hashToken, newToken } from '../http/passwords';
import { refuseAlike } from '../db/named-alike';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { plainPage } from '../http/plain-page';
import { idOf, Page, route, type Route } from '../http/route';
import { missingFor } from './missing';
import { recordEntries } from './record-queries';
import {
  accounts,
  addToBalance,
  balanceEntries,
  carrierWays,
  changeSender,
  deleteRate,
  deleteSender,
  fieldDefs,
  insertInvitation,
  insertSender,
  rates,
  saveCarrierWays,
  senders,
  setRates,
} from './setup-queries';
import { chosenAddress, choosePublicAddress, expectTry, nothingSentYet, saveWorkspace, tryCame, workspaceOf } from './workspace';

const INVITATION_MS = 7 * 86_400_000;

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

/** A sender's address as it is kept: a number is read as everywhere else, a short code without what stands between its digits. */
function readAddress(kind: 'long' | 'short' | 'name', typed: string, country: string): { address: string; wrong?: string } {
  if (kind === 'name') return { address: typed, wrong: senderNameProblem(typed) };
  if (kind === 'short') {
    const address = typed.replace(/[\s.-]/g, '');
    return { address, wrong: /^\d{3,8}$/.test(address) ? undefined : 'A short code has 3 to 8 digits.' };
  }
  const read = readPhone(typed, { country });
  return read.ok ? { address: read.number } : { address: typed, wrong: `“${typed}” is ${PHONE_PROBLEM_WORDS[read.problem]}.` };
}

export const setupRoutes: Route[] = [
  route(setup.get, async (app, asked) => {
    const [workspace, free, ownSenders, card, people, fields, missing] = await Promise.all([
      workspaceOf(app.db),
      nothingSentYet(app.db),
      senders(app.db),
      rates(app.db),
      accounts(app.db, asked.at),
      fieldDefs(app.db),
      missingFor(app.db),
    ]);
    return {
      workspace,
      address: await chosenAddress(app.db),
      can_change_money: free,
      senders: ownSenders,
      rates: card,
      accounts: people,
      fields,
      missing,
      balance_micro: await balanceMicro(app.db),
      carrier: {
        ...app.engine.gateway.state,
        trouble: app.engine.line.line?.circuit?.reason ?? null,
        practice: app.practice !== undefined,
        host: app.engine.gateway.address.host,
        port: app.engine.gateway.address.port,
        ways: await carrierWays(app.db),
      },
    };
  }),
  route(setup.record, (app, asked) => recordEntries(app.db, asked.query)),
  route(setup.balanceEntries, (app, asked) => balanceEntries(app.db, asked.query.skip ?? 0)),
  route(setup.publicAddress, async (app, asked) => {
    const { address, here } = asked.body;
    const origin = address.trim() === '' ? '' : originOf(address);
    if (origin === undefined)
      throw new Refusal('wrong', 'address', `“${address}” is not an address such as https://texts.example.org, without a path.`, {
        place: 'address',
        kept: 'Nothing was changed.',
      });
    await choosePublicAddress(app.db, origin, originOf(here) === origin ? asked.at : null);
    await writeRecord(app.db, asked, 'changed the public address', origin);
    return { address: origin };
  }),
  route(setup.tryAddress, async (app) => {
    const { token, hash } = newToken();
    await expectTry(app.db, hash);
    return { address: `${(await workspaceOf(app.db)).public_address}/try/${token}` };
  }),
  route(links.tried, async (app, asked) => {
    const name = await tryCame(app.db, hashToken(asked.params.token), asked.at);
    if (name === undefined) throw nothingHere();
    app.bus.changed('setup');
    return new Page((nonce) => plainPage(`This address leads to Yellow Bell of ${name}. Others can get here by it, too.`, nonce));
  }),
  route(setup.workspace, async (app, asked) => {
    const b = asked.body;
    if (!isZone(b.zone))
      throw new Refusal('wrong', 'zone', `There is no time zone “${b.zone}”.`, { place: 'zone', kept: 'Nothing was changed.' });
    const now = await workspaceOf(app.db);
    if ((now.country !== b.country || now.currency !== b.currency) && !(await nothingSentYet(app.db)))
      throw new Refusal('clash', 'sent', 'Texts have been sent and paid: country and currency stay as they are.', {
        place: now.country !== b.country ? 'country' : 'currency',
        kept: 'Nothing was changed.',
      });
    await saveWorkspace(app.db, b);
    await writeRecord(app.db, asked, 'changed the settings', '');
    return {};
  }),
  route(setup.carrier, async (app, asked) => {
    await saveCarrierWays(app.db, asked.body);
    await app.engine.readWays();
    await writeRecord(app.db, asked, 'changed how the carrier writes', '');
    return {};
  }),
  route(setup.addSender, async (app, asked) => {
    const { name, kind } = asked.body;
    const { address, wrong } = readAddress(kind, asked.body.address, (await workspaceOf(app.db)).country);
    if (wrong) throw new Refusal('wrong', 'sender', wrong, { place: 'address', kept: 'What you typed is still here.' });
    await refuseAlike(app.db, 'sender', name, { place: 'name' });
    if (kind === 'name') await refuseAlike(app.db, 'sender', address, { place: 'address' });
    try {
      const id = await insertSender(app.db, { ...asked.body, address }, asked.at);
      await writeRecord(app.db, asked, 'added a sender', name);
      return { id };
    } catch (error) {
      if (isDuplicate(error)) throw new Refusal('clash', 'sender', `There is a sender ${address} already.`, { place: 'address' });
      throw error;
    }
  }),
  route(setup.changeSender, async (app, asked) => {
    const id = idOf(asked.params.id);
    await refuseAlike(app.db, 'sender', asked.body.name, { place: 'name', self: id });
    if (!(await changeSender(app.db, id, asked.body))) throw nothingHere();
    await writeRecord(app.db, asked, 'changed a sender', asked.body.name);
    return {};
  }),
  route(setup.removeSender, async (app, asked) => {
    const id = idOf(asked.params.id);
    if (!(await deleteSender(app.db, id)))
      throw new Refusal('clash', 'used', 'Texts have come from this sender; people know it, and it stays.', {});
    await writeRecord(app.db, asked, 'removed a sender', `sender ${id}`);
    return {};
  }),
  route(setup.setRates, async (app, asked) => {
    await setRates(app.db, asked.body.rates);
    await writeRecord(
      app.db,
      asked,
      'set prices',
      asked.body.rates
        .map((rate) => rate.prefix)
        .join(', ')
        .slice(0, 200),
    );
    return {};
  }),
  route(setup.removeRate, async (app, asked) => {
    if (!(await deleteRate(app.db, asked.params.prefix))) throw nothingHere();
    await writeRecord(app.db, asked, 'removed a price', asked.params.prefix);
    return {};
  }),
  route(setup.addBalance, async (app, asked) => {
    await addToBalance(app.db, asked.body.amount_micro, asked.at);
    await writeRecord(app.db, asked, 'added to the balance', '', { amount_micro: asked.body.amount_micro });
    return {};
  }),
  route(setup.invite, async (app, asked) => {
    const { token, hash } = newToken();
    await insertInvitation(app.db, { hash, role: asked.body.role, until: iso(asked.now + INVITATION_MS) });
    await writeRecord(app.db, asked, 'invited someone', asked.body.role);
    return { path: `/join/${token}` };
  }),
];
