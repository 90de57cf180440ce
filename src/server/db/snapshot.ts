import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { openEmbedded } from './embedded';
import { migrate, migrationsKey } from './migrate';

/**
 * A prepared, migrated, empty database as one archive. Creating a database takes seconds (initdb);
 * loading this takes a fraction. The key holds everything it depends on, so a stale one is never used.
 */
export async function preparedSnapshot(folder: string, pgliteVersion: string): Promise<Uint8Array> {
  const file = join(folder, `empty-${migrationsKey()}-${pgliteVersion}-trgm.tar`);
  if (existsSync(file)) return readFileSync(file);
  const db = await openEmbedded();
  try {
    await migrate(db);
    const dump = await db.dump();
    mkdirSync(folder, { recursive: true });
    writeFileSync(`${file}.${process.pid}`, dump);
    renameSync(`${file}.${process.pid}`, file);
    return dump;
  } finally {
    await db.close();
  }
}
