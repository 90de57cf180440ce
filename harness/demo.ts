import { spawn, type ChildProcess } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The real demo (the built server with its message center) on a folder and port of its own. */
export interface Demo {
  url: string;
  folder: string;
  child: ChildProcess;
  said: () => string;
  /** Ends it, kindly or with kill -9. */
  stop(signal?: NodeJS.Signals): Promise<void>;
}

/**
 * Under test its lives are short: the database's engine is compiled once, and not again for speed (a third of what a start takes). What is
 * measured runs as it does for everybody.
 */
const QUICK_START = process.env.VITEST ? ['--liftoff-only'] : [];
const PREPARED = join('.cache', 'e2e-demo');

function start(
  folder: string,
  environment: Record<string, string> = {},
  program: 'dist/demo.js' | 'dist/server.js' = 'dist/demo.js',
): { child: ChildProcess; said: () => string; ready: Promise<string> } {
  const child = spawn(process.execPath, [...QUICK_START, program], {
    env: { ...process.env, TZ: 'UTC', DATA_FOLDER: folder, PORT: '0', CHECK_ANSWERS: '1', ...environment },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let words = '';
  const ready = new Promise<string>((resolve, reject) => {
    const hear = (chunk: Buffer) => {
      words += chunk.toString();
      const url = /Yellow Bell is at (http:\S+)/.exec(words)?.[1];
      if (url) resolve(url);
    };
    child.stdout?.on('data', hear);
    child.stderr?.on('data', hear);
    child.once('exit', (code) => reject(new Error(`the demo ended with ${code}: ${words}`)));
  });
  ready.catch(() => undefined);
  return { child, said: () => words, ready };
}

/** Opens the demo on an existing folder. */
export async function openDemo(
  folder: string,
  environment: Record<string, string> = {},
  program: 'dist/demo.js' | 'dist/server.js' = 'dist/demo.js',
): Promise<Demo> {
  const { child, said, ready } = start(folder, environment, program);
  const url = await ready;
  const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  return {
    url,
    folder,
    child,
    said,
    async stop(signal = 'SIGTERM') {
      child.kill(signal);
      await gone;
    },
  };
}

/** Makes Ottermere's data once per build; answers the folder. */
export async function prepareDemo(): Promise<string> {
  const key = readFileSync('dist/key', 'utf8');
  const prepared = `${PREPARED}-${key.slice(0, 16)}`;
  if (!existsSync(join(prepared, 'done'))) {
    rmSync(prepared, { recursive: true, force: true });
    mkdirSync(prepared, { recursive: true });
    await (await openDemo(join(prepared, 'data'))).stop();
    mkdirSync(join(prepared, 'done'));
  }
  return prepared;
}

/** A fresh copy of Ottermere. */
export async function freshDemo(environment: Record<string, string> = {}): Promise<Demo> {
  const prepared = await prepareDemo();
  const folder = mkdtempSync(join(tmpdir(), 'bell-e2e-'));
  cpSync(join(prepared, 'data'), folder, { recursive: true });
  return openDemo(folder, environment);
}

/** The production server on a folder where nothing is yet; it prints the owner's one-time link. */
export function openNew(environment: Record<string, string> = {}): Promise<Demo> {
  return openDemo(mkdtempSync(join(tmpdir(), 'bell-new-')), environment, 'dist/server.js');
}

/** The production server's first start, killed while it makes its store; the folder that it leaves behind. */
export async function cutOffWhileMaking(): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'bell-cut-off-'));
  const { child } = start(folder, {}, 'dist/server.js');
  await until(() => existsSync(join(folder, 'db', 'PG_VERSION')));
  child.kill('SIGKILL');
  // whoever makes it ends with whoever started it, and says that it is made only when it is
  const { pid } = JSON.parse(readFileSync(join(folder, 'db.lock'), 'utf8')) as { pid: number };
  await until(() => !existsSync(`/proc/${pid}`));
  return folder;
}

async function until(there: () => boolean): Promise<void> {
  while (!there()) await new Promise((resolve) => setTimeout(resolve, 20));
}

/** Removes a demo's folder after it was stopped. */
export function forget(demo: Demo): void {
  rmSync(demo.folder, { recursive: true, force: true });
}

export function tryToOpen(
  folder: string,
  environment: Record<string, string> = {},
): Promise<{ code: number | null; said: string }> {
  const { child, said } = start(folder, environment);
  return new Promise((resolve) => child.once('exit', (code) => resolve({ code, said: said() })));
}
