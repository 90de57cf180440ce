// npm test: on a machine with nothing but Node and apt. Installs what is missing, then lint, types, unit, database, end-to-end.
import { execSync, spawn } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installForTests, installPackages } from './install.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
process.env.TZ = 'UTC';
installPackages();
installForTests();
const { build } = await import('./build.mjs');

/** Several at once: each of them takes one core for a minute. */
const together =
  (...commands) =>
  () =>
    Promise.all(
      commands.map(
        (command) =>
          new Promise((resolve, reject) =>
            spawn(command, { shell: true, stdio: 'inherit' }).on('exit', (code) =>
              code === 0 ? resolve() : reject(new Error(`${command} ended with ${code}`)),
            ),
          ),
      ),
    );
const steps = [
  ['lint and types', together('npx eslint . --max-warnings 0', 'npx tsc --noEmit -p tsconfig.json')],
  ['unit', 'npx vitest run --project unit'],
  ['database, both engines', 'npx vitest run --project database'],
  ['build', build],
  ['end to end', 'npx vitest run --project e2e'],
];
for (const [name, step] of steps) {
  const began = Date.now();
  process.stdout.write(`\n== ${name}\n`);
  if (typeof step === 'string') execSync(step, { stdio: 'inherit' });
  else await step();
  process.stdout.write(`== ${name}: ${Math.round((Date.now() - began) / 1000)} s\n`);
}
process.stdout.write(`\n${steps.length} passed, 0 failed\n`);
