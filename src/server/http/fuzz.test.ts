import { Ajv } from 'ajv';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Dice } from '../../core/line/simulator/dice';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { allRoutes } from '../routes';
import { askingOf } from './testing/contract/asking';
import { askBroadcasts } from './testing/contract/broadcasts';
import { askPeople } from './testing/contract/people';
import { askSetup } from './testing/contract/setup';
import { openDesk, type Desk } from './testing/desk';
import { quietCarrier, type QuietCarrier } from './testing/quiet-carrier';
import { bytesNear, neighborOf, partOfAddress, pick, sampleOf, WEIRD } from './testing/fuzz';

/** Of each round and engine; `npm run trial:door` asks twenty thousand in all, and says how long others waited meanwhile. */
const ROUND = Number(process.env.FUZZ ?? 300);
const SEED = 72345;
/** What says so by its own name is no fault: a carrier that is not there, a busy moment. */
const ALLOWED = /urn:yellow-bell:(?:practice-down|busy|away|no-carrier)/;

// a round in everybody's tests is for one engine; `npm run trial:door` plays both
describe.each(process.env.FUZZ === undefined ? (['postgres'] as const) : ENGINES)(
  'requests that nobody who means well sends, %s',
  (engine) => {
    let desk: Desk;
    let carrier: QuietCarrier;
    const real: { method: string; path: string; body: string }[] = [];

    beforeAll(async () => {
      desk = await openDesk(await emptyDb(engine), { trustProxy: 'loopback' });
      carrier = await quietCarrier();
      desk.app.practice = carrier;
      const { ask } = desk;
      desk.ask = (method, path, role, more) => {
        if (typeof more?.body === 'string' && more.body.startsWith('{')) real.push({ method, path, body: more.body });
        return ask(method, path, role, more);
      };
      const asking = askingOf(
        desk,
        new Map(
          allRoutes.map((each) => [`${each.method} ${each.path}`, each.gives === 'answer' ? new Ajv().compile({}) : undefined]),
        ),
      );
      await askBroadcasts(asking, await askPeople(asking));
      await askSetup(asking);
      desk.ask = ask;
    });
    afterAll(async () => {
      await desk.close();
      await carrier.close();
    });

    /** Whoever manages is there, whatever was just asked. */
    const stillThere = () =>
      desk.app.db.exec(`UPDATE account SET role = 'manage', removed_at = NULL, password_hash = 'x' WHERE id = 4;
      INSERT INTO session (token_hash, account_id, created_at, expires_at) SELECT encode(sha256('manage'), 'hex'), 4, '2026-01-01T00:00:00Z', '2099-01-01T00:00:00Z' ON CONFLICT DO NOTHING`);

    /** What somebody else waits who looks at people all the time, ms; nothing fails on it, since it is the machine's, too. */
    function others(): () => Promise<string> {
      const waits: number[] = [];
      let looking = process.env.FUZZ !== undefined;
      const looks = (async () => {
        while (looking) {
          const began = performance.now();
          await desk.ask('GET', '/api/people', 'look');
          waits.push(performance.now() - began);
          await new Promise((resolve) => setTimeout(resolve, 10));
        }
      })();
      return async () => {
        looking = false;
        await looks;
        waits.sort((a, b) => a - b);
        const ms = (part: number) => waits[Math.min(waits.length - 1, Math.floor(part * waits.length))]?.toFixed(0) ?? '–';
        return `${waits.length} looks: half within ${ms(0.5)} ms, 99 of 100 within ${ms(0.99)} ms, ${ms(1)} ms at most`;
      };
    }
    async function watched(name: string, work: () => Promise<void>): Promise<void> {
      if (process.env.FUZZ === undefined) return work();
      const idle = others();
      await new Promise((resolve) => setTimeout(resolve, 10_000));
      const rest = await idle();
      const began = performance.now();
      const meanwhile = others();
      await work();
      process.stdout.write(
        `${engine}, ${name}, ${((performance.now() - began) / 1000).toFixed(0)} s; others: ${await meanwhile()} (idle: ${rest})\n`,
      );
    }

    let n = 0;
    const statuses = new Map<number, number>();
    async function ask(
      method: string,
      path: string,
      role: 'manage' | undefined,
      body: Buffer | string | undefined,
      type = 'application/json',
    ) {
      n += 1;
      if (n % 20 === 0) await stillThere();
      const answer = await desk.ask(method, path, role, {
        ...(method === 'get' ? {} : { body: body as never }),
        headers: { 'content-type': type, 'x-forwarded-for': `10.${(n >> 16) & 255}.${(n >> 8) & 255}.${n & 255}` },
      });
      const text = await answer.text();
      statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
      if (answer.status >= 500 && !ALLOWED.test(text))
        expect.soft(`${answer.status}`, `${method} ${path} ${String(body).slice(0, 600)}`).toBe('below 500');
    }

    test(`${ROUND} from the contract, each with something beside it`, async () => {
      const dice = new Dice(SEED);
      await watched(`${ROUND} from the contract`, async () => {
        for (let i = 0; i < ROUND; i += 1) {
          const route = allRoutes[i % allRoutes.length];
          const path = route.path.replace(/:\w+/g, () => partOfAddress(dice));
          const query = sampleOf(route.query, dice) as Record<string, unknown>;
          if (dice.chance(0.5)) query[pick(dice, [...Object.keys(query), 'skip', 'unnamed', '__proto__'])] = pick(dice, WEIRD);
          const asked = new URLSearchParams(
            Object.entries(query).map(([key, value]) => [key, typeof value === 'string' ? value : JSON.stringify(value)]),
          );
          const body = sampleOf(route.body, dice);
          const role = dice.chance(0.9) ? 'manage' : undefined;
          if (route.upload !== undefined)
            await ask(
              route.method,
              `${path}?${asked.toString()}`,
              role,
              bytesNear('name,number\nAna,+12075550142\n'.repeat(3), dice),
              'application/octet-stream',
            );
          else
            await ask(
              route.method,
              `${path}?${asked.toString()}`,
              role,
              dice.chance(0.2) ? JSON.stringify(body) : neighborOf(body, dice),
            );
        }
      });
      // it was answered, not only refused
      expect(statuses.get(200)).toBeGreaterThan(ROUND / 50);
      expect(statuses.get(400)).toBeGreaterThan(ROUND / 10);
    }, 3_600_000);

    test(`${ROUND} near to real ones, byte by byte`, async () => {
      const dice = new Dice(SEED + 1);
      await watched(`${ROUND} near to real ones`, async () => {
        for (let i = 0; i < ROUND; i += 1) {
          const { method, path, body } = pick(dice, real);
          await ask(method, path, 'manage', dice.chance(0.9) ? bytesNear(body, dice) : body);
        }
      });
    }, 3_600_000);
  },
);
