import fs from 'node:fs';
import { dirname, join, relative } from 'node:path';
import type { Dice } from '../../../../core/line/simulator/dice';
import { isOfNames, type Done } from './recorded-disk';

/** What becomes of what was written and not synced. */
export const LOSSES = ['all of it lost', 'none of it lost', 'some writes lost', 'some sectors lost'] as const;
export type Loss = (typeof LOSSES)[number];

/** A disk writes so many octets at once, and never a part of them. */
const SECTOR = 512;

/** A folder with its files as they were before anything was recorded; the number of a file is its place in the list. */
export interface Before {
  root: string;
  files: readonly string[];
}

/** Every file below a folder, and every directory. */
export function tree(root: string): { files: string[]; folders: string[] } {
  const found = { files: [] as string[], folders: [] as string[] };
  const walk = (folder: string) => {
    for (const entry of fs.readdirSync(folder, { withFileTypes: true })) {
      const path = join(folder, entry.name);
      if (!entry.isDirectory()) found.files.push(path);
      else {
        found.folders.push(path);
        walk(path);
      }
    }
  };
  walk(root);
  return found;
}

/**
 * Puts into a new folder what a disk may hold after a power cut at a moment: what was synced, whole; of the rest what the loss says. Names
 * (of new, renamed, removed files) are lost from the last back, in their order, and none before the last that a sync reached: so the journals
 * of the common file systems have it (ext4, XFS; common practice, POSIX promises less).
 * @param kept a copy of the folder as it was before
 * @param done what was recorded, up to the moment
 */
export function crashImage(before: Before, kept: string, done: readonly Done[], loss: Loss, dice: Dice, into: string): void {
  const names = new Map(before.files.map((path, file) => [path, file]));
  const folders = new Set(tree(kept).folders.map((path) => join(before.root, relative(kept, path))));
  const named = done.flatMap((each, index) => (isOfNames(each) ? [index] : []));
  const forced = done.reduce((most, each) => Math.max(most, 'names' in each ? each.names : -1), -1);
  const free = named.filter((index) => index > forced);
  const left = loss === 'none of it lost' ? free.length : loss === 'all of it lost' ? 0 : dice.between(0, free.length);
  const last = left === 0 ? forced : free[left - 1];
  for (const index of named) if (index <= last) rename(done[index], names, folders);

  const synced = new Map<number, number>();
  done.forEach((each, index) => {
    if (each.kind === 'sync') synced.set(each.file, index);
  });
  const changes = new Map<number, { change: Done; sure: boolean }[]>();
  done.forEach((each, index) => {
    if (each.kind !== 'write' && each.kind !== 'size') return;
    const of = changes.get(each.file) ?? [];
    of.push({ change: each, sure: index < (synced.get(each.file) ?? -1) });
    changes.set(each.file, of);
  });

  fs.mkdirSync(into, { recursive: true });
  const placed = (path: string) => join(into, relative(before.root, path));
  for (const folder of [...folders].sort()) fs.mkdirSync(placed(folder), { recursive: true });
  for (const [path, file] of names) {
    const target = placed(path);
    if (!fs.existsSync(dirname(target))) continue;
    const from = file < before.files.length ? join(kept, relative(before.root, before.files[file])) : undefined;
    const of = changes.get(file);
    if (!of && from) fs.copyFileSync(from, target);
    else fs.writeFileSync(target, changed(from ? fs.readFileSync(from) : Buffer.alloc(0), of ?? [], loss, dice));
  }
}

function rename(done: Done, names: Map<string, number>, folders: Set<string>): void {
  if (done.kind === 'create') names.set(done.path, done.file);
  else if (done.kind === 'mkdir') folders.add(done.path);
  else if (done.kind === 'rmdir') folders.delete(done.path);
  else if (done.kind === 'unlink') names.delete(done.path);
  else if (done.kind === 'rename') {
    const file = names.get(done.from);
    if (file === undefined) return;
    names.delete(done.from);
    names.set(done.to, file);
  }
}

function changed(begun: Buffer, changes: readonly { change: Done; sure: boolean }[], loss: Loss, dice: Dice): Buffer {
  let data = begun;
  let size = begun.length;
  const grow = (to: number) => {
    if (to > data.length) data = Buffer.concat([data, Buffer.alloc(Math.max(to, data.length * 2) - data.length)]);
    size = Math.max(size, to);
  };
  for (const { change, sure } of changes) {
    const whole = sure || loss === 'none of it lost' || (loss === 'some writes lost' && dice.chance(0.5));
    if (change.kind === 'size' && whole) {
      grow(change.size);
      size = change.size;
      data.fill(0, size);
    } else if (change.kind === 'write') {
      if (!whole && loss !== 'some sectors lost') continue;
      for (let at = 0; at < change.data.length; at += whole ? change.data.length : SECTOR) {
        if (!whole && dice.chance(0.5)) continue;
        const piece = whole ? change.data : change.data.subarray(at, at + SECTOR);
        grow(change.at + at + piece.length);
        data.set(piece, change.at + at);
      }
    }
  }
  return data.subarray(0, size);
}
