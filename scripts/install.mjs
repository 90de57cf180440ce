// Installs what is missing, from plain Node: packages by npm, and for the tests Debian's Chromium, PostgreSQL and fonts.
import { execSync } from 'node:child_process';
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

/** Debian packages that only the tests need. */
export function installForTests() {
  const hasPostgres = existsSync('/usr/lib/postgresql');
  const hasFonts = existsSync('/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf');
  if (existsSync('/usr/bin/chromium') && hasPostgres && hasFonts) return;
  if (process.getuid?.() !== 0)
    throw new Error(
      'The tests need chromium, postgresql, fonts-noto-color-emoji and fonts-noto-cjk: apt-get install them, or run npm test as root.',
    );
  process.stdout.write('Installing Chromium, PostgreSQL and fonts for the tests…\n');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get update -qq', { env });
  run('apt-get install -y -qq --no-install-recommends postgresql-common', { env, stdio: ['ignore', 'ignore', 'inherit'] });
  run(
    "mkdir -p /etc/postgresql-common && sed -i 's/^#\\?create_main_cluster.*/create_main_cluster = false/' /etc/postgresql-common/createcluster.conf",
    { env },
  );
  run('apt-get install -y -qq --no-install-recommends chromium postgresql fonts-noto-color-emoji fonts-noto-cjk', {
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}
