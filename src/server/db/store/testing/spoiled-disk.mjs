// The store's thread on a disk that refuses: DISK_REFUSES names a file that holds the error of the operating system while there is one.
import fs from 'node:fs';
import { syncBuiltinESMExports } from 'node:module';
import { register } from 'tsx/esm/api';

const file = process.env.DISK_REFUSES ?? '';
const { existsSync, readFileSync } = fs;
const WRITES = [
  'writeSync',
  'fdatasyncSync',
  'fsyncSync',
  'ftruncateSync',
  'renameSync',
  'unlinkSync',
  'mkdirSync',
  'writeFileSync',
];
for (const name of WRITES) {
  const work = fs[name];
  fs[name] = (...args) => {
    // "EIO fdatasyncSync": of that one only
    const [code, only] = existsSync(file) ? readFileSync(file, 'utf8').split(' ') : [];
    if (code && (only === undefined || only === name)) throw Object.assign(new Error(`${code}: refused by the test`), { code });
    return work(...args);
  };
}
syncBuiltinESMExports();
register();
await import('../store-worker.ts');
