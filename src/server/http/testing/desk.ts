import { mkdtempSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { ROLES, type Role } from '../../../core/api/roles';
import { pressAlone } from '../../broadcasts/press/press-alone';
import { localPlans } from '../../broadcasts/planning/plan-thread';
import { machineClock } from '../../clock';
import type { Db } from '../../db/db';
import { Bus } from '../../desk/bus';
import type { Engine } from '../../engine/engine';
import { Gateway } from '../../engine/gateway';
import { readHere } from '../../files/testing';
import { makeWorkspace, NOW } from '../../engine/testing/world';
import { HandedIn } from '../../handed-in/handed-in';
import { ImportDesk } from '../../people/imports/import-desk';
import { rowsReadHere } from '../../people/imports/row-thread';
import { accountOf } from '../../accounts/session-begin';
import { httpApp } from '../app';
import { keepIdleLines } from '../../../core/idle-lines';
import { allRoutes } from '../../routes';
import type { App } from '../../app-context';
import { Devices } from '../devices';
import { hashToken } from '../passwords';

/** The HTTP floor on a port of its own, with an account and a session for every role, and a carrier that is down. */
export interface Desk {
  app: App;
  ask(method: string, path: string, role: Role | undefined, more?: RequestInit): Promise<Response>;
  /** Asks as someone who manages; the answer as JSON with its status. */
  json<T>(method: string, path: string, body?: unknown): Promise<T & { status: number }>;
  close(): Promise<void>;
}

/** @param trustProxy whom a request is from may be said in its header, as behind a proxy */
export async function openDesk(db: Db, { trustProxy }: { trustProxy?: string } = {}): Promise<Desk> {
  await makeWorkspace(db);
  // in the afternoon of one day, whenever the test is run: at night nothing may be sent
  const clock = machineClock(NOW - Date.now());
  for (const [i, role] of ROLES.entries()) {
    await db.query(
      `INSERT INTO account (id, email, name, role, password_hash, created_at) VALUES ($1, $2, $2, $3, 'x', '2026-01-01T00:00:00Z')`,
      [i + 1, `${role}@ottermere.example`, role],
    );
    await db.query(
      `INSERT INTO session (token_hash, account_id, created_at, expires_at) VALUES ($1, $2, '2026-01-01T00:00:00Z', '2099-01-01T00:00:00Z')`,
      [hashToken(role), i + 1],
    );
  }
  // those above have ids of their own choosing
  await db.query(`SELECT setval(pg_get_serial_sequence('account', 'id'), 100)`);
  // a gateway that is never started stands for a carrier that is down
  const gateway = new Gateway(
    { host: '127.0.0.1', port: 1, systemId: '', password: '' },
    { receipt: async () => undefined, text: async () => undefined },
    () => clock.now(),
  );
  const handedIn = new HandedIn();
  const bus = new Bus();
  const log = pino({ level: 'silent' });
  const plans = localPlans(db);
  // what is pressed is stored; nothing else goes on by itself
  const presser = pressAlone(
    db,
    clock,
    plans,
    (error) => {
      throw error;
    },
    bus,
  );
  const app: App = {
    db,
    clock,
    bus,
    engine: { gateway, line: { owner: 1 }, readWays: async () => undefined } as unknown as Engine,
    plans,
    storing: presser.storing,
    give: presser.give,
    log,
    imports: new ImportDesk({ db, clock, bus, log }, mkdtempSync(join(tmpdir(), 'bell-uploads-')), readHere, rowsReadHere()),
    devices: new Devices(Buffer.alloc(32, 1)),
    handedIn,
    practice: undefined,
    demo: false,
    moveClock: (ms) => Promise.resolve(clock.move(ms)),
    trustProxy,
    checkAnswers: true,
  };
  const server = keepIdleLines(createServer(httpApp(app, { routes: allRoutes, accountOf, webFolder: undefined })));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const base = `http://127.0.0.1:${address && typeof address === 'object' ? address.port : 0}`;
  const ask: Desk['ask'] = (method, path, role, more = {}) =>
    fetch(base + path, {
      method: method.toUpperCase(),
      redirect: 'manual',
      ...(method.toLowerCase() === 'get' ? {} : { body: '{}' }),
      ...more,
      headers: {
        'content-type': 'application/json',
        ...(role ? { cookie: `bell_session=${role}` } : {}),
        ...(more.headers as Record<string, string> | undefined),
      },
    });
  return {
    app,
    ask,
    async json<T>(method: string, path: string, body?: unknown) {
      const answer = await ask(method, path, 'manage', body === undefined ? {} : { body: JSON.stringify(body) });
      return { ...((await answer.json()) as T), status: answer.status };
    },
    close: async () => {
      await handedIn.end();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
