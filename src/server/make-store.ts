import { spawn } from 'node:child_process';
import type { Db } from './db/db';
import { openEmbedded } from './db/embedded';
import { takeFolderLock } from './db/folder-lock';
import { migrate } from './db/migrate';
import { keyOfFolder, sealWith } from './db/sealed';
import { endMaking, isMade } from './db/store/making';
import { closeToOthers } from './folder-modes';

/** What a demo adds before the server starts: its data and its clock. */
export interface Seeding {
  (db: Db): Promise<void>;
}

/** Set for the process that only makes the store. */
const MAKES = 'MAKE_STORE';
export const makesOnly = (): boolean => process.env[MAKES] === '1';

/**
 * Where no store is, or none that is whole, one is made and filled by a process of its own: what that takes in memory goes with it, and
 * a first start is as light as any later one. It ends with this process; what it left unfinished is made anew.
 * @returns false where it could not be made; it has said why
 */
export function madeApart(dataFolder: string): Promise<boolean> {
  if (isMade(`${dataFolder}/db`)) return Promise.resolve(true);
  return new Promise((resolve, reject) => {
    const maker = spawn(process.execPath, [...process.execArgv, process.argv[1]], {
      env: { ...process.env, [MAKES]: '1' },
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    maker.once('error', reject);
    maker.once('exit', (code) => resolve(code === 0));
  });
}

/** Makes the store, its tables, and what it begins with; only then it is whole. */
export async function makeStore(dataFolder: string, seed?: Seeding): Promise<void> {
  process.once('disconnect', () => process.exit(1));
  const folder = `${dataFolder}/db`;
  closeToOthers(dataFolder);
  const unlock = takeFolderLock(folder, new Date().toISOString());
  const db = await openEmbedded({ dataDir: folder, unfinished: true });
  await migrate(db);
  sealWith(keyOfFolder(dataFolder));
  if (seed) await seed(db);
  await db.close();
  endMaking(folder);
  unlock();
}
