// npm run dev: the server from source, restarted on changes; Vite's own server for the web is not used, since the
// content security policy is part of what is tried. `npm run build` after a change in src/web.
import { spawn } from 'node:child_process';

process.env.DATA_FOLDER ??= 'data/dev';
process.env.TZ = 'UTC';
spawn('npx', ['tsx', 'watch', 'src/demo/main.ts'], { stdio: 'inherit', env: process.env });
