import { chmodSync, mkdirSync, mkdtempSync, readdirSync, statSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { openEmbedded } from './db/embedded';
import { migrate } from './db/migrate';
import { closeToOthers } from './folder-modes';

/** What is somebody else's stays as it is: a file beside ours, and where a link leads. */
const OTHERS = [join('db', 'link'), 'notes.sh'];
/** What somebody else on this machine may read, write or enter. */
const openIn = (folder: string): string[] =>
  ['.', ...readdirSync(folder, { recursive: true, encoding: 'utf8' })]
    .filter((name) => (statSync(join(folder, name)).mode & 0o077) !== 0)
    .sort();

test('a folder that stood open is closed, and what is made in it afterwards is, too', async () => {
  const before = process.umask();
  try {
    const folder = mkdtempSync(join(tmpdir(), 'bell-modes-'));
    const outside = join(mkdtempSync(join(tmpdir(), 'bell-outside-')), 'theirs');
    writeFileSync(outside, '');
    chmodSync(outside, 0o644);
    chmodSync(folder, 0o755);
    mkdirSync(join(folder, 'db'));
    writeFileSync(join(folder, 'carrier.journal'), '');
    for (const name of ['db', 'carrier.journal']) chmodSync(join(folder, name), 0o777);
    writeFileSync(join(folder, 'notes.sh'), '');
    chmodSync(join(folder, 'notes.sh'), 0o755);
    symlinkSync(outside, join(folder, 'db', 'link'));
    expect(closeToOthers(folder)).toBeUndefined();
    expect(statSync(folder).mode & 0o777).toBe(0o700);
    expect(openIn(folder)).toEqual(OTHERS);
    expect(statSync(outside).mode & 0o777).toBe(0o644);
    // the engine unpacks a thousand files of its own
    const db = await openEmbedded({ dataDir: join(folder, 'db', 'store') });
    await migrate(db);
    await db.close();
    writeFileSync(join(folder, 'later'), '');
    expect(openIn(folder)).toEqual(OTHERS);
  } finally {
    process.umask(before);
  }
});
