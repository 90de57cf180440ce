// npm start: production. Own data folder (DATA_FOLDER, default data/own), or DATABASE_URL for a PostgreSQL server.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installPackages, runBuild } from './install.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
installPackages();
process.env.DATA_FOLDER ??= 'data/own';
process.env.TZ = 'UTC';
// in a process of its own: what a build takes in memory goes with it
runBuild();
await import('../dist/server.js');
