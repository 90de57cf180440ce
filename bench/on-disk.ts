import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Db } from '../src/server/db/db';
import { openEmbedded } from '../src/server/db/embedded';
import { migrate } from '../src/server/db/migrate';

/** Processor time in ms. */
export interface Cpu {
  /** Of the database's thread. */
  database: number;
  /** Of all threads of the process, that one among them. */
  process: number;
}

/** The embedded store on a folder of its own, syncing, as the server has it. */
export interface OnDisk {
  db: Db;
  folder: string;
  cpu(): Cpu;
  /** Closes it and leaves the folder. */
  close(): Promise<void>;
}

export const STORE_THREAD = new URL('./store-thread.mjs', import.meta.url);
/** Ticks of /proc/…/stat are a hundredth of a second (USER_HZ). */
const TICK = 10;

export const temporaryFolder = (): string => mkdtempSync(join(tmpdir(), 'bench-'));
export const forget = (folder: string): void => rmSync(folder, { recursive: true, force: true });

/** @param asked where what the database is asked is kept, when it is closed */
export async function onDisk(folder = temporaryFolder(), asked?: string): Promise<OnDisk> {
  const cpu = tellThread(folder, asked);
  const db = await openEmbedded({ dataDir: join(folder, 'db') }, STORE_THREAD);
  await migrate(db);
  return { db, folder, cpu, close: () => db.close() };
}

/** Where the next thread of the database says which it is. Gives what it and the process have used. */
export function tellThread(folder: string, asked = ''): () => Cpu {
  const said = join(folder, 'thread');
  Object.assign(process.env, { BENCH_THREAD: said, BENCH_ASKED: asked });
  return () => cpuOf(readFileSync(said, 'latin1'));
}

function cpuOf(thread: string): Cpu {
  const stat = readFileSync(`/proc/${thread}/stat`, 'latin1')
    .replace(/^.*\) /, '')
    .split(' ');
  const { user, system } = process.cpuUsage();
  return { database: (Number(stat[11]) + Number(stat[12])) * TICK, process: (user + system) / 1000 };
}

/** What work took: ms by the clock, and of processor. */
export async function spent(store: Pick<OnDisk, 'cpu'>, work: () => Promise<unknown>): Promise<Cpu & { wall: number }> {
  const [before, began] = [store.cpu(), performance.now()];
  await work();
  const after = store.cpu();
  return {
    wall: performance.now() - began,
    database: after.database - before.database,
    process: after.process - before.process,
  };
}
