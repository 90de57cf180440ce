import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { migrate } from '../migrate';
import { openPostgres } from '../postgres';
import { preparedSnapshot } from '../snapshot';

/** Once per test run: the prepared snapshot, and a real PostgreSQL on a loopback port in a temporary folder. */

declare module 'vitest' {
  export interface ProvidedContext {
    postgresUrl: string;
    snapshotFolder: string;
    pgliteVersion: string;
  }
}

export function pgliteVersion(): string {
  return (JSON.parse(readFileSync('node_modules/@electric-sql/pglite/package.json', 'utf8')) as { version: string }).version;
}

async function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => (address && typeof address === 'object' ? resolve(address.port) : reject(new Error('no port'))));
    });
  });
}

function binFolder(): string {
  const root = '/usr/lib/postgresql';
  const version = existsSync(root)
    ? readdirSync(root)
        .map(Number)
        .sort((a, b) => b - a)[0]
    : undefined;
  if (!version)
    throw new Error('PostgreSQL is not installed: apt-get install postgresql (npm test does it when it runs as root).');
  return join(root, String(version), 'bin');
}

export async function startPostgres(): Promise<{ url: string; stop: () => Promise<void> }> {
  const bin = binFolder();
  const folder = mkdtempSync(join(tmpdir(), 'yellow-bell-pg-'));
  const data = join(folder, 'data');
  const asRoot = process.getuid?.() === 0;
  const command = (program: string, args: string[]): [string, string[]] =>
    asRoot ? ['runuser', ['-u', 'postgres', '--', join(bin, program), ...args]] : [join(bin, program), args];
  if (asRoot) {
    execFileSync('chown', ['postgres', folder]);
    chmodSync(folder, 0o700);
  }
  // initdb refuses to run as root, so it and the server run as the postgres user of Debian's package
  execFileSync(
    ...command('initdb', ['-D', data, '-U', 'bell', '--auth=trust', '--encoding=UTF8', '--locale=C.UTF-8', '--no-sync']),
    { stdio: 'pipe' },
  );
  const port = await freePort();
  writeFileSync(join(folder, 'note'), 'temporary database of a test run');
  const [program, args] = command('postgres', [
    '-D',
    data,
    '-p',
    String(port),
    '-h',
    '127.0.0.1',
    '-k',
    folder,
    '-c',
    'fsync=off',
    '-c',
    'max_connections=100',
  ]);
  const child: ChildProcess = spawn(program, args, { stdio: 'ignore' });
  const url = `postgres://bell@127.0.0.1:${port}/postgres`;
  const deadline = Date.now() + 30_000;
  for (;;) {
    try {
      await (await openPostgres(url)).close();
      break;
    } catch (error) {
      if (Date.now() > deadline) throw error;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  return {
    url,
    async stop() {
      const pid = readFileSync(join(data, 'postmaster.pid'), 'utf8').split('\n')[0];
      const gone = new Promise((resolve) => child.once('exit', resolve));
      process.kill(Number(pid), 'SIGINT'); // fast shutdown
      await gone;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const version = pgliteVersion();
  await preparedSnapshot('.cache', version);
  const server = await startPostgres();
  const admin = await openPostgres(server.url);
  await admin.exec('CREATE DATABASE test');
  const url = server.url.replace(/postgres$/, 'test');
  const db = await openPostgres(url);
  await migrate(db);
  await db.close();
  // one for each worker (VITEST_POOL_ID counts from 1)
  for (let worker = 1; worker <= project.config.maxWorkers; worker += 1)
    await admin.exec(`CREATE DATABASE test${worker} TEMPLATE test`);
  await admin.close();
  project.provide('postgresUrl', url);
  project.provide('snapshotFolder', '.cache');
  project.provide('pgliteVersion', version);
  return server.stop;
}
