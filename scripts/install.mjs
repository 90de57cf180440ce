// Installs what is missing, from plain Node: packages by npm, and for the tests Debian's Chromium, PostgreSQL and fonts.
import { execFileSync, execSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';

const run = (command, options = {}) => execSync(command, { stdio: 'inherit', ...options });

/** npm packages, exactly as in the lock file. */
export function installPackages() {
  const wanted = readFileSync('package-lock.json', 'utf8');
  const marker = 'node_modules/.bell-lock';
  if (existsSync(marker) && readFileSync(marker, 'utf8') === wanted) return;
  process.stdout.write('Installing packages…\n');
  run('npm ci --no-audit --no-fund --loglevel=error');
  run(`cp package-lock.json ${marker}`);
}

/** Debian packages that only the tests need. Where only the smaller browser is missing and cannot be had, the other does. */
export function installForTests() {
  const hasPostgres = existsSync('/usr/lib/postgresql');
  const hasFonts = existsSync('/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf');
  const hasBrowser = existsSync('/usr/bin/chromium');
  const hasSmall = existsSync('/usr/bin/chromium-headless-shell');
  const enough = (hasBrowser || hasSmall) && hasPostgres && hasFonts;
  if (enough && (hasSmall || process.getuid?.() !== 0)) return;
  if (process.getuid?.() !== 0)
    throw new Error(
      'The tests need chromium-headless-shell (or chromium), postgresql, fonts-noto-color-emoji and fonts-noto-cjk: apt-get install them, or run npm test as root.',
    );
  process.stdout.write('Installing Chromium, PostgreSQL and fonts for the tests…\n');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const quietly = { env, stdio: ['ignore', 'ignore', 'inherit'] };
  const install = (...packages) => run(`apt-get install -y -qq --no-install-recommends ${packages.join(' ')}`, quietly);
  try {
    run('apt-get update -qq', { env });
    install('chromium-headless-shell');
  } catch (error) {
    if (enough) {
      process.stdout.write('The smaller Chromium cannot be had; the tests take the one that is there.\n');
      return;
    }
    throw error;
  }
  if (hasPostgres && hasFonts) return;
  install('postgresql-common');
  run(
    "mkdir -p /etc/postgresql-common && sed -i 's/^#\\?create_main_cluster.*/create_main_cluster = false/' /etc/postgresql-common/createcluster.conf",
    { env },
  );
  install('postgresql', 'fonts-noto-color-emoji', 'fonts-noto-cjk');
}

/** Builds what changed since it was built last. */
export function runBuild() {
  execFileSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
}
