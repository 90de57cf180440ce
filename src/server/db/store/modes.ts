import fs from 'node:fs';
import { syncBuiltinESMExports } from 'node:module';

/**
 * The embedded engine gives each file the rights it had where it was built (0666), whatever the process's umask. In its thread no file is
 * anybody's but the owner's. Called before the engine is loaded.
 */
export function onlyForTheOwner(): void {
  for (const name of ['chmodSync', 'fchmodSync'] as const) {
    const original = fs[name] as (of: never, mode: number) => void;
    (fs as unknown as Record<string, unknown>)[name] = (of: never, mode: number) => original(of, mode & 0o700);
  }
  syncBuiltinESMExports();
}
