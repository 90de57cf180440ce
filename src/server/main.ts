import { originOf } from '../core/plan/draft/web-address';
import { createServer, type Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import type { Db } from './db/db';
import { DbError } from './db/db-error';
import { openEmbedded } from './db/embedded';
import { FolderHeld, takeFolderLock } from './db/folder-lock';
import { migrate } from './db/migrate';
import { openPostgres } from './db/postgres';
import { agreeOnKey, keyOfFolder, sealWith } from './db/sealed';
import { Bus } from './desk/bus';
import { startEngine } from './engine/engine';
import { MailIn } from './engine/passing/mail-in';
import { closeToOthers } from './folder-modes';
import { madeApart, makesOnly, makeStore, type Seeding } from './make-store';
import { HandedIn } from './handed-in/handed-in';
import { runById } from './broadcasts/run/run-queries';
import { accountOf } from './accounts/session-begin';
import { httpApp } from './http/app';
import { keepIdleLines } from '../core/idle-lines';
import { allRoutes } from './routes';
import { devicesOf } from './http/devices';
import type { App } from './app-context';
import { newToken } from './http/passwords';
import { planNextWork } from './broadcasts/press/plan-next';
import { Storing, type Presser } from './broadcasts/press/presser';
import { eraseWork } from './people/person/erase-work';
import { storeRunWork } from './broadcasts/press/store-job';
import { planThread } from './broadcasts/planning/plan-thread';
import { ImportDesk } from './people/imports/import-desk';
import { keptClock } from './practice/demo-clock';
import { startPractice, type Practice } from './practice/practice';

export interface ServeOptions {
  dataFolder: string;
  databaseUrl?: string;
  host: string;
  port: number;
  /** Fills an empty database; with it the demo's own clock runs. */
  seed?: Seeding;
  carrierProfile?: string;
  logLevel: string;
  /** Where answers by mail are taken in. */
  mailPort?: number;
  /** What stands before the server, as Express's `trust proxy` has it: a number of hops, or names like `loopback`. */
  trustProxy?: string;
  /** Where others get here, while nobody has said it in Setup. */
  publicAddress?: string;
  /** Every answer is held against what the contract says of it: for tests. */
  checkAnswers?: boolean;
}

/** Starts everything in the right order; resolves when pages are served. */
export async function serve(options: ServeOptions): Promise<{ url: string; stop(): Promise<void> }> {
  const log = pino({ level: options.logLevel, redact: ['req.headers.cookie'] });
  const open = closeToOthers(options.dataFolder);
  if (open !== undefined) process.stderr.write(`${open}\n`);
  const unlock = options.databaseUrl ? () => undefined : takeFolderLock(`${options.dataFolder}/db`, new Date().toISOString());
  const db = options.databaseUrl
    ? await openPostgres(options.databaseUrl)
    : await openEmbedded({ dataDir: `${options.dataFolder}/db` });
  await migrate(db);
  await servedAt(db, options, options.port);
  sealWith(keyOfFolder(options.dataFolder));
  if (options.seed) await options.seed(db);
  const workspace = await workspaceOf(db);
  await agreeOnKey(db, options.dataFolder);
  const bus = new Bus();
  const failed = (error: unknown) => log.error({ err: error }, 'engine trouble');
  const kept = await keptClock(db, failed);
  const { clock, demo } = kept;
  const handedIn = new HandedIn();
  const mailIn = new MailIn(db, clock, bus, handedIn, failed);
  // answers by mail are taken in where a port is set for them; for the practice mailbox, on this machine only
  const answersPort =
    options.mailPort !== undefined
      ? await mailIn.listen(options.mailPort, options.host)
      : workspace?.carrier_host
        ? undefined
        : await mailIn.listen(0, '127.0.0.1');
  // while no carrier is configured, the practice carrier stands in, and every page says that nothing leaves
  let practice: Practice | undefined;
  if (!workspace?.carrier_host) {
    practice = await startPractice({
      journal: `${options.dataFolder}/carrier.journal`,
      offset: () => clock.offset(),
      answersPort: answersPort ?? 0,
      profile: options.carrierProfile,
      log: (message) => log.warn(message),
    });
  }
  const practiceMail = () => practice?.mailPort;
  const plans = planThread(db, failed);
  const presser: Presser = { db, bus, plans, clock, storing: new Storing(), give: () => undefined };
  const engine = await startEngine({
    db,
    clock,
    bus,
    carrier: practice
      ? { host: '127.0.0.1', port: practice.port, systemId: 'bell', password: 'practice' }
      : {
          host: workspace?.carrier_host ?? '',
          port: workspace?.carrier_port ?? 2775,
          systemId: workspace?.carrier_system_id ?? '',
          password: workspace?.carrier_password ?? '',
        },
    practiceMail,
    countAhead: runById,
    later(give) {
      presser.give = give;
      return { 'store run': storeRunWork(presser), 'plan next': planNextWork(presser), erase: eraseWork(db, bus) };
    },
    failed,
  });
  const imports = new ImportDesk({ db, clock, bus, log }, `${options.dataFolder}/uploads`);
  const app: App = {
    db,
    clock,
    bus,
    engine,
    plans,
    storing: presser.storing,
    give: presser.give,
    log,
    imports,
    devices: await devicesOf(db),
    handedIn,
    practice: practice ? { url: practice.controlUrl } : undefined,
    mail: { practicePort: practiceMail, answersPort },
    demo,
    moveClock: (ms) => kept.move(ms),
    checkAnswers: options.checkAnswers,
    trustProxy: options.trustProxy && /^\d+$/.test(options.trustProxy) ? Number(options.trustProxy) : options.trustProxy,
  };
  await imports.resume();
  const server = keepIdleLines(
    createServer(httpApp(app, { routes: allRoutes, accountOf, webFolder: fileURLToPath(new URL('./web', import.meta.url)) })),
  );
  const port = await listening(server, options);
  const url = `http://${options.host === '0.0.0.0' ? 'localhost' : options.host}:${port}`;
  await servedAt(db, options, port);
  await firstAccount(db, url, clock.now());
  return {
    url,
    async stop() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await mailIn.close();
      await engine.stop();
      await plans.end();
      await handedIn.end();
      practice?.stop();
      await kept.end();
      await db.close();
      unlock();
    },
  };
}

/** Where links lead while nobody has chosen an address: what the environment says, else this machine. What was chosen is not touched. */
async function servedAt(db: Db, { publicAddress }: ServeOptions, port: number): Promise<void> {
  await db.query(`UPDATE workspace SET served_at = $1`, [publicAddress ?? `http://localhost:${port}`]);
}

/** Waits until the server takes requests; its port, which the machine chooses for port 0. */
function listening(server: Server, { port, host }: ServeOptions): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, () => {
      const address = server.address();
      resolve(address && typeof address === 'object' ? address.port : port);
    });
  });
}

interface Workspace {
  carrier_host: string | null;
  carrier_port: number | null;
  carrier_system_id: string | null;
  carrier_password: string | null;
}

/** What the workspace says of its clock and its carrier; an empty one is made where there is none. */
async function workspaceOf(db: Db): Promise<Workspace | undefined> {
  const { rows } = await db.query<Workspace>(
    `SELECT carrier_host, carrier_port, carrier_system_id, carrier_password FROM workspace`,
  );
  if (rows.length === 0)
    await db.query(`INSERT INTO workspace (id, name, zone, country, begun) VALUES (1, 'Our workspace', $1, 'US', false)`, [
      Intl.DateTimeFormat().resolvedOptions().timeZone || 'America/New_York',
    ]);
  return rows[0];
}

/** While there is no account, a one-time link to make the owner's is printed. */
async function firstAccount(db: Db, url: string, now: number): Promise<void> {
  if ((await db.query(`SELECT 1 FROM account LIMIT 1`)).rowCount > 0) return;
  const { token, hash } = newToken();
  await db.query(`INSERT INTO invitation (token_hash, role, expires_at) VALUES ($1, 'manage', $2::timestamptz)`, [
    hash,
    new Date(now + 86_400_000).toISOString(),
  ]);
  process.stdout.write(`Make the owner's account here (once, within a day): ${url}/join/${token}\n`);
}

/** A setting with which nothing can be started, in a sentence. */
class Unstartable extends Error {}

/** The public address of the environment, as links are made from it. @throws Unstartable where it is none */
function saidAddress(said: string | undefined): string | undefined {
  if (!said) return undefined;
  const origin = originOf(said);
  if (origin === undefined)
    throw new Unstartable(
      `PUBLIC_ADDRESS is “${said}”, which is not an address such as https://texts.example.org, without a path.`,
    );
  return origin;
}

/** Runs the server as a process: settings by environment, a clear word when it cannot start. */
export async function runServer(seed?: Seeding): Promise<void> {
  const dataFolder = process.env.DATA_FOLDER ?? 'data';
  try {
    // before anything is made
    const publicAddress = saidAddress(process.env.PUBLIC_ADDRESS);
    if (makesOnly()) {
      await makeStore(dataFolder, seed);
      process.exit(0);
    }
    if (!process.env.DATABASE_URL && !(await madeApart(dataFolder))) process.exit(1);
    const starting = serve({
      dataFolder,
      databaseUrl: process.env.DATABASE_URL || undefined,
      host: process.env.HOST ?? '127.0.0.1',
      port: Number(process.env.PORT ?? 4180),
      seed,
      carrierProfile: process.env.CARRIER_PROFILE,
      logLevel: process.env.LOG_LEVEL ?? 'warn',
      mailPort: process.env.MAIL_PORT ? Number(process.env.MAIL_PORT) : undefined,
      trustProxy: process.env.TRUST_PROXY || undefined,
      publicAddress,
      checkAnswers: process.env.CHECK_ANSWERS === '1',
    });
    // before anyone is told that it runs: whoever reads the address may end it at once, and it is to end in order even then
    let stopping = false;
    for (const signal of ['SIGTERM', 'SIGINT'] as const) {
      process.on(signal, () => {
        if (stopping) process.exit(1); // asked twice: at once
        stopping = true;
        starting
          .then((running) => running.stop())
          .then(
            () => process.exit(0),
            () => process.exit(1),
          );
      });
    }
    const running = await starting;
    process.stdout.write(`Yellow Bell is at ${running.url}\n`);
  } catch (error) {
    const said = error instanceof FolderHeld || error instanceof DbError || error instanceof Unstartable;
    if (!said && (error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
    const words = said
      ? error.message
      : `The port ${process.env.PORT ?? 4180} is taken by another program. Set PORT to a free one.`;
    process.stderr.write(`${words}\n`);
    process.exit(1);
  }
}
