// npm run lint: the whole tree, without a warning; then each wall, broken on purpose. In one process, so that types are worked out once.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ESLint } from 'eslint';
import { openWalls } from './lint/walls.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
const lint = new ESLint();
const results = await lint.lintFiles(['.']);
process.stdout.write(await (await lint.loadFormatter('stylish')).format(results));
let wrong = results.reduce((sum, { errorCount, warningCount }) => sum + errorCount + warningCount, 0);
for (const each of await openWalls()) {
  process.stdout.write(`a wall that is open: ${each}\n`);
  wrong += 1;
}
process.exit(wrong === 0 ? 0 : 1);
