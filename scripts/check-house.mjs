import { execSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** Files that stand side by side in one folder, tests and migrations aside; more are several rooms. */
const MOST_FILES = 25;
/** Words of the page of the whole. */
const MOST_WORDS = 1200;

/**
 * What is wrong with the house, a sentence each: a page of docs/ or the README that names a file or room which is not there (one that leads
 * nowhere is worse than none), a folder that should be several rooms, SQL that reads the clock, a page of the whole that is too long.
 *
 * @param {readonly string[]} files every file, by its path
 * @param {(file: string) => string} read
 */
export function wrongWith(files, read) {
  const known = new Set();
  for (const file of files) {
    const bare = file.replace(/\.(tsx?|mjs|js|md|sql)$/, '');
    for (const whole of [bare.replace(/\.test$/, ''), bare, file]) {
      const parts = whole.split('/');
      // by any end of its path, and each of its rooms likewise
      for (let to = 1; to <= parts.length; to += 1)
        for (let from = 0; from < to; from += 1) known.add(parts.slice(from, to).join('/'));
    }
  }
  const wrong = [];
  for (const page of files.filter((file) => /^(?:README|docs\/.*)\.md$/.test(file)))
    for (const [, name] of read(page).matchAll(/`([a-z][\w-]*(?:\/[\w.-]+)+)`/g))
      if (!known.has(name.replace(/\/$/, ''))) wrong.push(`${page} names ${name}, which is not there.`);
  const rooms = new Map();
  for (const file of files)
    if (/^src\/.*\.(?:tsx?|mjs)$/.test(file) && !/\.test\.|\.d\.ts$/.test(file)) {
      const room = file.slice(0, file.lastIndexOf('/'));
      rooms.set(room, (rooms.get(room) ?? 0) + 1);
    }
  for (const [room, count] of rooms)
    if (count > MOST_FILES) wrong.push(`${room} has ${count} files side by side; give it inner rooms.`);
  for (const file of files.filter((each) => each.endsWith('.sql')))
    if (/\bnow\(\)|_timestamp\(\)|\bcurrent_(?:date|time)/i.test(read(file).replace(/--.*/g, '')))
      wrong.push(`${file} reads the clock; times are parameters.`);
  const words = read('docs/house.md').split(/\s+/).filter(Boolean).length;
  if (words > MOST_WORDS) wrong.push(`docs/house.md has ${words} words; ${MOST_WORDS} are a page.`);
  return wrong;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const files = execSync('git ls-files --cached --others --exclude-standard').toString().trim().split('\n');
  const wrong = wrongWith(files, (file) => readFileSync(file, 'utf8'));
  for (const each of wrong) console.error(each);
  process.exit(wrong.length > 0 ? 1 : 0);
}
