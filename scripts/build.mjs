// Builds dist/: the server and the message center as bundles, the migrations, the web. Skips what is up to date.
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync } from 'node:zlib';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
process.chdir(root);

function hashTree(hash, path) {
  if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) hashTree(hash, join(path, name));
  else if (!/\.test\.tsx?$/.test(path)) hash.update(path).update(readFileSync(path));
}

/** Beside each asset its brotli form (RFC 7932), so that nothing is compressed while somebody waits. */
function packAssets(folder) {
  for (const name of readdirSync(folder))
    if (/\.(js|css|svg|json)$/.test(name))
      writeFileSync(join(folder, `${name}.br`), brotliCompressSync(readFileSync(join(folder, name))));
}

export async function build() {
  const hash = createHash('sha256');
  for (const path of ['src', 'package.json', 'package-lock.json', 'vite.config.ts', 'scripts/build.mjs']) hashTree(hash, path);
  const key = hash.digest('hex');
  if (existsSync('dist/key') && readFileSync('dist/key', 'utf8') === key) return;
  const { build: bundle } = await import('esbuild');
  await bundle({
    entryPoints: {
      server: 'src/server/start.ts',
      demo: 'src/demo/main.ts',
      carrier: 'src/carrier/main.ts',
      'store-worker': 'src/server/db/store/store-worker.ts',
      'plan-worker': 'src/server/broadcasts/planning/plan-worker.ts',
      'reading-worker': 'src/server/files/reading-worker.ts',
      'handed-in-worker': 'src/server/handed-in/worker.ts',
      'row-worker': 'src/server/people/imports/row-worker.ts',
    },
    outdir: 'dist',
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    // PGlite finds its WebAssembly beside itself, so it stays where npm put it
    external: ['@electric-sql/pglite', '@electric-sql/pglite/*', 'pg-native', 'pino'],
    banner: { js: "import { createRequire as bellRequire } from 'node:module'; const require = bellRequire(import.meta.url);" },
    logLevel: 'warning',
  });
  mkdirSync('dist/migrations', { recursive: true });
  cpSync('src/server/db/migrations', 'dist/migrations', { recursive: true });
  cpSync('src/server/db/functions', 'dist/functions', { recursive: true });
  const vite = await import('vite');
  await vite.build({ configFile: 'vite.config.ts', logLevel: 'warn' });
  packAssets('dist/web/assets');
  writeFileSync('dist/key', key);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await build();
