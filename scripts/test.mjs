// npm test: on a machine with nothing but Node and apt. Installs what is missing, then lint, types, unit, database, end-to-end.
import { spawn } from 'node:child_process';
import { existsSync, statfsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installForTests, installPackages } from './install.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
process.env.TZ = 'UTC';
// what tests put down is not to be kept: in memory where there is room, so that syncing it costs nothing
if (existsSync('/dev/shm') && statfsSync('/dev/shm').bavail * statfsSync('/dev/shm').bsize > 6e9) process.env.TMPDIR = '/dev/shm';
installPackages();
installForTests();

/** Runs a command; what it says stands together once it is done, since others run beside it. */
const run = (name, command) =>
  new Promise((resolve, reject) => {
    const began = Date.now();
    const child = spawn(command, { shell: true, stdio: ['ignore', 'pipe', 'pipe'] });
    const said = [];
    child.stdout.on('data', (chunk) => said.push(chunk));
    child.stderr.on('data', (chunk) => said.push(chunk));
    child.on('exit', (code) => {
      const all = Buffer.concat(said).toString();
      process.stdout.write(`\n== ${name}\n${all}== ${name}: ${Math.round((Date.now() - began) / 1000)} s\n`);
      if (code === 0) resolve();
      else reject(Object.assign(new Error(`${name} ended with ${code}`), { why: why(all) }));
    });
  });
/** What failed, out of all that was said: vitest tells it after everything else; of the others, the end. */
const why = (all) => {
  const lines = all.split('\n');
  const failed = lines.findIndex((line) => / FAIL /.test(line));
  return (failed < 0 ? lines.slice(-60) : lines.slice(failed, failed + 150)).join('\n');
};
const begun = Date.now();
// the pages first: what drives them mostly waits, and has what it needs before the rest, which takes what is left of two cores
const results = await Promise.allSettled([
  run('end to end', 'node scripts/build.mjs && npx vitest run --project e2e'),
  (async () => {
    await run('database, both engines', 'nice -n 5 npx vitest run --project database');
    await run('web', 'nice -n 5 npx vitest run --project web --project "web, apart"');
  })(),
  (async () => {
    await run('house', 'node scripts/check-house.mjs');
    await run('types', 'nice -n 10 npx tsc --noEmit --incremental --tsBuildInfoFile .cache/types.tsbuildinfo -p tsconfig.json');
    await run('lint', 'nice -n 10 node scripts/lint.mjs');
    await run('unit', 'nice -n 10 npx vitest run --project unit');
  })(),
]);
// said once more at the very end: whoever sees only the last of a long output sees why
const failures = results.filter((result) => result.status === 'rejected').map((result) => result.reason);
for (const { message, why: said } of failures) process.stdout.write(`\n== failed: ${message}\n${said ?? ''}\n`);
if (failures.length > 0) process.exit(1);
process.stdout.write(`\nall passed, in ${Math.round((Date.now() - begun) / 1000)} s\n`);
