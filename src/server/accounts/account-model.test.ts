import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Role } from '../../core/api/roles';
import { Dice } from '../../core/line/simulator/dice';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { hashPassword } from '../http/passwords';
import { cheapPasswords } from '../http/testing/cheap-passwords';
import { openDesk, type Desk } from '../http/testing/desk';

/** `npm run trial:accounts` plays ten thousand. */
const STEPS = Number(process.env.ACCOUNT_STEPS ?? 300);
const SEED = 72345;
const ROLES: readonly Role[] = ['look', 'write', 'send', 'manage'];

interface Modeled {
  id: number;
  email: string;
  role: Role;
  /** None while another is to be chosen. */
  password: string | undefined;
  removed: boolean;
}
interface Way {
  of: Modeled;
  /** The session's or the link's token, or the calendar's address. */
  key: string;
  open: boolean;
}

/** What accounts are to be, without a database: who there is, and every way in that was ever given. */
class Model {
  accounts: Modeled[] = [];
  sessions: Way[] = [];
  links: Way[] = [];
  calendars: Way[] = [];

  /** Those who can manage: a role alone does not let anybody in. */
  managers(): Modeled[] {
    return this.accounts.filter((each) => each.role === 'manage' && !each.removed && each.password !== undefined);
  }
  isLast(of: Modeled): boolean {
    const those = this.managers();
    return those.length === 1 && those[0] === of;
  }
  close(of: Modeled, but?: Way): void {
    for (const way of [...this.sessions, ...this.links, ...this.calendars]) if (way.of === of && way !== but) way.open = false;
  }
}

cheapPasswords();

describe.each(ENGINES)('accounts against a model of them, %s', (engine) => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine), { trustProxy: 'loopback' });
  });
  afterAll(() => desk.close());

  test(`${STEPS} acts at random: always somebody who manages, and no way in that was closed`, async () => {
    const dice = new Dice(SEED);
    const pick = <T>(all: readonly T[]): T | undefined => (all.length === 0 ? undefined : all[dice.between(0, all.length - 1)]);
    const model = new Model();
    let from = 0;
    const ask = async (session: string | undefined, method: string, path: string, body?: unknown) => {
      from += 1; // each from a place of its own: how often one may try is looked at elsewhere
      const answer = await desk.ask(method, path, undefined, {
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        headers: {
          'x-forwarded-for': `10.${(from >> 16) & 255}.${(from >> 8) & 255}.${from & 255}`,
          cookie: `bell_session=${session ?? ''}`,
        },
      });
      return {
        status: answer.status,
        session: /bell_session=([^;]+)/.exec(answer.headers.get('set-cookie') ?? '')?.[1] ?? '',
        said:
          method === 'get' && path.startsWith('/calendar')
            ? {}
            : ((await answer.json().catch(() => ({}))) as Record<string, unknown>),
      };
    };
    const owner: Modeled = {
      id: 4,
      email: 'manage@ottermere.example',
      role: 'manage',
      password: 'heron and kittiwake',
      removed: false,
    };
    await desk.app.db.query(`DELETE FROM account WHERE id <> 4`);
    await desk.app.db.query(`DELETE FROM session`);
    await desk.app.db.query(`UPDATE account SET password_hash = $1`, [await hashPassword('heron and kittiwake')]);
    model.accounts.push(owner);

    const signIn = async (of: Modeled, password: string) => {
      const answer = await ask(undefined, 'post', '/api/sign-in', { email: of.email, password });
      const right = !of.removed && of.password === password;
      expect(answer.status, `signing in to ${of.id}`).toBe(right ? 200 : 401);
      if (right) model.sessions.push({ of, key: answer.session, open: true });
    };
    /** Somebody asks with a session they once had; only an open one of somebody who may is heard. */
    const expected = (way: Way, needs: Role, then: () => number): number =>
      !way.open ? 401 : ROLES.indexOf(way.of.role) < ROLES.indexOf(needs) ? 403 : then();
    const manage = async (act: (way: Way, target: Modeled) => Promise<void>) => {
      const open = model.sessions.filter((way) => way.open && way.of.role === 'manage');
      const way = dice.chance(0.85) ? pick(open) : pick(model.sessions);
      const target = pick(model.accounts);
      if (way && target) await act(way, target);
    };

    const acts: [number, () => Promise<void>][] = [
      [
        6,
        async () => {
          const of = pick(model.managers());
          if (of?.password !== undefined) await signIn(of, of.password);
        },
      ],
      [
        10,
        async () => {
          const of = pick(model.accounts);
          if (of) await signIn(of, dice.chance(0.97) ? (of.password ?? 'none that it has') : 'a guess of somebody');
        },
      ],
      [
        6,
        () =>
          manage(async (way) => {
            const role = pick(ROLES) ?? 'look';
            const answer = await ask(way.key, 'post', '/api/setup/invitations', { role });
            expect(answer.status).toBe(expected(way, 'manage', () => 200));
            if (answer.status !== 200) return;
            const token = String(answer.said.path).split('/')[2];
            const email = `person${model.accounts.length}@ottermere.example`;
            const password = `the words of person ${model.accounts.length}`;
            const join = { token, name: 'Somebody', email, password };
            const joined = await ask(undefined, 'post', '/api/invitation', join);
            expect(joined.status).toBe(200);
            const { rows } = await desk.app.db.query<{ id: number }>(`SELECT id FROM account WHERE email = $1`, [email]);
            const of: Modeled = { id: rows[0].id, email, role, password, removed: false };
            model.accounts.push(of);
            model.sessions.push({ of, key: joined.session, open: true });
            expect((await ask(undefined, 'post', '/api/invitation', { ...join, email: `x${email}` })).status).toBe(410);
          }),
      ],
      [
        14,
        () =>
          manage(async (way, target) => {
            const answer = await ask(way.key, 'post', `/api/accounts/${target.id}/reset`, {});
            expect(answer.status, `resetting ${target.id}`).toBe(
              expected(way, 'manage', () => (model.isLast(target) ? 409 : target.removed ? 404 : 200)),
            );
            if (answer.status !== 200) return;
            model.close(target);
            target.password = undefined;
            model.links.push({ of: target, key: String(answer.said.path).split('/')[2], open: true });
          }),
      ],
      [
        14,
        async () => {
          const link = dice.chance(0.6) ? pick(model.links.filter(({ open }) => open)) : pick(model.links);
          if (!link) return;
          const password = `chosen with a link, ${from}`;
          const answer = await ask(undefined, 'post', '/api/reset', { token: link.key, password });
          expect(answer.status, `a link of ${link.of.id}`).toBe(link.open ? 200 : 410);
          if (!link.open) return;
          model.close(link.of);
          link.of.password = password;
          model.sessions.push({ of: link.of, key: answer.session, open: true });
        },
      ],
      [
        10,
        () =>
          manage(async (way, target) => {
            const role = pick(ROLES) ?? 'look';
            const answer = await ask(way.key, 'put', `/api/accounts/${target.id}`, { role });
            expect(answer.status, `the role of ${target.id}`).toBe(
              expected(way, 'manage', () => (role !== 'manage' && model.isLast(target) ? 409 : target.removed ? 404 : 200)),
            );
            if (answer.status === 200) target.role = role;
          }),
      ],
      [
        4,
        () =>
          manage(async (way, target) => {
            const answer = await ask(way.key, 'delete', `/api/accounts/${target.id}`);
            expect(answer.status, `removing ${target.id}`).toBe(
              expected(way, 'manage', () => (model.isLast(target) ? 409 : target.removed ? 404 : 200)),
            );
            if (answer.status !== 200) return;
            model.close(target);
            target.removed = true;
          }),
      ],
      [
        8,
        async () => {
          const way = pick(model.sessions);
          if (!way) return;
          const password = `another one of them, ${from}`;
          const answer = await ask(way.key, 'put', '/api/session/password', { old: way.of.password ?? '', password });
          expect(answer.status).toBe(expected(way, 'look', () => 200));
          if (answer.status !== 200) return;
          model.close(way.of, way);
          way.of.password = password;
        },
      ],
      [
        8,
        async () => {
          const way = pick(model.sessions);
          if (!way) return;
          const answer = await ask(way.key, 'post', '/api/session/calendar', {});
          if (answer.status !== 200) return;
          expect(way.open).toBe(true);
          for (const other of model.calendars) if (other.of === way.of) other.open = false;
          model.calendars.push({ of: way.of, key: String(answer.said.path), open: true });
        },
      ],
      [
        4,
        async () => {
          const way = pick(model.sessions);
          if (!way) return;
          const others = dice.chance(0.5);
          const answer = await ask(way.key, 'post', others ? '/api/session/end-others' : '/api/sign-out', {});
          expect(answer.status).toBe(expected(way, 'look', () => 200));
          if (answer.status !== 200) return;
          if (others) for (const each of model.sessions) each.open &&= each.of !== way.of || each === way;
          else way.open = false;
        },
      ],
    ];
    const whole = acts.reduce((sum, [weight]) => sum + weight, 0);
    /** Every way in that was ever given is as the model has it. */
    const lookAtAll = async () => {
      for (const way of model.sessions.slice(-60)) {
        const { account } = (await ask(way.key, 'get', '/api/session')).said as { account: { id: number; role: Role } | null };
        expect(account === null ? null : [account.id, account.role]).toEqual(way.open ? [way.of.id, way.of.role] : null);
      }
      for (const way of model.calendars.slice(-30))
        expect((await ask(undefined, 'get', way.key)).status, `calendar of ${way.of.id}`).toBe(way.open ? 200 : 404);
      const { rows } = await desk.app.db.query<{ n: number }>(
        `SELECT count(*) AS n FROM account WHERE role = 'manage' AND removed_at IS NULL AND password_hash <> ''`,
      );
      expect(rows[0].n).toBe(model.managers().length);
      expect(rows[0].n).toBeGreaterThan(0);
    };
    for (let step = 0; step < STEPS; step += 1) {
      let roll = dice.between(1, whole);
      const act = acts.find(([weight]) => (roll -= weight) <= 0)?.[1];
      await act?.();
      expect(model.managers().length).toBeGreaterThan(0);
      if (step % 100 === 99) await lookAtAll();
    }
    await lookAtAll();
    // it was no idle round
    expect(model.accounts.length).toBeGreaterThan(STEPS / 40);
    expect(model.links.filter(({ open }) => !open).length).toBeGreaterThan(STEPS / 40);
  }, 3_600_000);
});
