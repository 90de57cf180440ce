import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { keyOfFolder } from '../sealed';
import { beginMaking, endMaking, isMade } from './making';

let root: string;
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'bell-making-'));
});
afterEach(() => rmSync(root, { recursive: true }));

describe('a folder that is made in many steps', () => {
  test('is whole only when its making has ended', () => {
    const folder = join(root, 'a', 'b', 'db');
    beginMaking(folder);
    mkdirSync(folder);
    writeFileSync(join(folder, 'PG_VERSION'), '18');
    expect(isMade(folder)).toBe(false);
    endMaking(folder);
    expect(isMade(folder)).toBe(true);
    expect(readdirSync(join(root, 'a', 'b'))).toEqual(['db']);
  });

  test('is begun anew where an earlier making did not end', () => {
    const folder = join(root, 'db');
    beginMaking(folder);
    mkdirSync(folder);
    writeFileSync(join(folder, 'PG_VERSION'), '18');
    beginMaking(folder);
    expect(existsSync(folder)).toBe(false);
  });

  test('a folder with something in it that no making left there is not touched', () => {
    const folder = join(root, 'db');
    mkdirSync(folder);
    writeFileSync(join(folder, 'base'), 'everything we have');
    expect(() => beginMaking(folder)).toThrow(/is not empty, and holds no whole store .* Nothing in it was changed/);
    expect(readFileSync(join(folder, 'base'), 'utf8')).toBe('everything we have');
    expect(existsSync(`${folder}.making`)).toBe(false);
  });
});

test('the key of the register is there whole, stays the same, and leaves nothing beside it', () => {
  const made = keyOfFolder(root);
  expect(made).toHaveLength(32);
  expect(keyOfFolder(root)).toEqual(made);
  expect(readdirSync(root)).toEqual(['register.key']);
});
