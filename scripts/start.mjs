// npm start: production. Own data folder (DATA_FOLDER, default data/own), or DATABASE_URL for a PostgreSQL server.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installPackages } from './install.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
installPackages();
process.env.DATA_FOLDER ??= 'data/own';
process.env.TZ = 'UTC';
const { build } = await import('./build.mjs');
await build();
await import('../dist/server.js');
