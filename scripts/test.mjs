// npm test: on a machine with nothing but Node and apt. Installs what is missing, then lint, types, unit, database, end-to-end.
import { spawn } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installForTests, installPackages } from './install.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
process.env.TZ = 'UTC';
installPackages();
installForTests();
const { build } = await import('./build.mjs');

/** Runs a command; what it says stands together once it is done, since others run beside it. */
const run = (name, command) =>
  new Promise((resolve, reject) => {
    const began = Date.now();
    const child = spawn(command, { shell: true, stdio: ['ignore', 'pipe', 'pipe'] });
    const said = [];
    child.stdout.on('data', (chunk) => said.push(chunk));
    child.stderr.on('data', (chunk) => said.push(chunk));
    child.on('exit', (code) => {
      process.stdout.write(
        `\n== ${name}\n${Buffer.concat(said).toString()}== ${name}: ${Math.round((Date.now() - began) / 1000)} s\n`,
      );
      if (code === 0) resolve();
      else reject(new Error(`${name} ended with ${code}`));
    });
  });
const begun = Date.now();
// two cores: what reads the code and what asks the databases take one each
const results = await Promise.allSettled([
  (async () => {
    await run('house', 'node scripts/check-house.mjs');
    await run('lint', 'npx eslint . --max-warnings 0');
    await run('types', 'npx tsc --noEmit -p tsconfig.json');
    await run('unit', 'npx vitest run --project unit');
  })(),
  run('database, both engines', 'npx vitest run --project database'),
]);
for (const result of results) if (result.status === 'rejected') throw result.reason;
await build();
await run('end to end', 'npx vitest run --project e2e');
process.stdout.write(`\nall passed, in ${Math.round((Date.now() - begun) / 1000)} s\n`);
