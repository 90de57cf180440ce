import { existsSync, statfsSync } from 'node:fs';
import { tmpdir } from 'node:os';

/** What images take at most, octets. */
const NEEDED = 2e9;

/** Where images are put together: in memory where there is room, since nothing of them is to be kept. */
export function roomForImages(): string {
  if (!existsSync('/dev/shm')) return tmpdir();
  const { bavail, bsize } = statfsSync('/dev/shm');
  return bavail * bsize > NEEDED ? '/dev/shm' : tmpdir();
}
