// npm run demo: installs what is missing, builds, makes the Ottermere data on first start, prints the address.
import { existsSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installPackages, runBuild } from './install.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
installPackages();
process.env.DATA_FOLDER ??= 'data/demo';
process.env.TZ = 'UTC';
if (process.argv.includes('--fresh')) {
  if (existsSync(`${process.env.DATA_FOLDER}/db.lock`))
    process.stdout.write('If another demo is running on this data, it keeps it.\n');
  else rmSync(process.env.DATA_FOLDER, { recursive: true, force: true });
}
// in a process of its own: what a build takes in memory goes with it
runBuild();
await import('../dist/demo.js');
