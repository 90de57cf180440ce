import { existsSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { FolderHeld, takeFolderLock } from './folder-lock';

const AT = '2026-12-02T20:50:00.000Z';
const folder = () => join(mkdtempSync(join(tmpdir(), 'lock-')), 'db');

describe('the folder lock', () => {
  test('a second taker is refused with who holds it, and gets it after it is given back', () => {
    const data = folder();
    const release = takeFolderLock(data, AT);
    expect(() => takeFolderLock(data, AT)).toThrow(FolderHeld);
    expect(() => takeFolderLock(data, AT)).toThrow(`in use by process ${process.pid} since ${AT}`);
    release();
    expect(existsSync(`${data}.lock`)).toBe(false);
    takeFolderLock(data, AT)();
  });

  test('the lock of a dead process, of a reused pid, or a torn one is taken over', () => {
    for (const left of [
      { pid: 2 ** 22 + 1, started: '1', since: AT },
      { pid: process.pid, started: 'another time', since: AT },
    ]) {
      const data = folder();
      writeFileSync(`${data}.lock`, JSON.stringify(left));
      takeFolderLock(data, AT)();
    }
    const data = folder();
    writeFileSync(`${data}.lock`, '{"pid":');
    takeFolderLock(data, AT)();
  });
});
