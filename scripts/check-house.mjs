import { execSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

/** Files that stand side by side in one folder, tests and migrations aside; more are several rooms. */
const MOST_FILES = 25;
/** Words of the page of the whole. */
const MOST_WORDS = 1200;

/** Every file or room that a page of docs/ or the README names by its path is there: a page that leads nowhere is worse than none. */
const files = execSync('git ls-files --cached --others --exclude-standard').toString().trim().split('\n');
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
let wrong = 0;
for (const page of files.filter((file) => /^(?:README|docs\/.*)\.md$/.test(file)))
  for (const [, name] of readFileSync(page, 'utf8').matchAll(/`([a-z][\w-]*(?:\/[\w.-]+)+)`/g))
    if (!known.has(name.replace(/\/$/, ''))) {
      wrong += 1;
      console.error(`${page} names ${name}, which is not there.`);
    }
const rooms = new Map();
for (const file of files)
  if (/^src\/.*\.(?:tsx?|mjs)$/.test(file) && !/\.test\.|\.d\.ts$/.test(file)) {
    const room = file.slice(0, file.lastIndexOf('/'));
    rooms.set(room, (rooms.get(room) ?? 0) + 1);
  }
for (const [room, count] of rooms)
  if (count > MOST_FILES) {
    wrong += 1;
    console.error(`${room} has ${count} files side by side; give it inner rooms.`);
  }
const words = readFileSync('docs/house.md', 'utf8').split(/\s+/).filter(Boolean).length;
if (words > MOST_WORDS) {
  wrong += 1;
  console.error(`docs/house.md has ${words} words.`);
}
process.exit(wrong > 0 ? 1 : 0);
