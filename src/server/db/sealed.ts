import { createHmac, randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Queryable, Tx } from './db';
import { writeWhole } from './store/on-disk';

/**
 * Numbers in the do-not-text register of people who were erased: what is left of one is a keyed hash (HMAC with SHA-256, RFC 2104 and FIPS
 * 180-4), by which the number is known again when somebody brings it, and by nothing else. The key stands beside the database, not in it:
 * whoever has only a copy of the database cannot try all numbers, of which there are few.
 */
let key: Buffer | undefined;

/** The key of this process or thread. */
export function sealWith(bytes: Uint8Array): void {
  key = Buffer.from(bytes);
}

/** For a thread that seals as this one does. */
export const sealingKey = (): Uint8Array | undefined => key;

/** What stands for a number. @throws where no key was set: nothing is guessed without it */
export function sealed(number: string): string {
  if (!key) throw new Error('The key of the register is not there.');
  return createHmac('sha256', key).update(number).digest('base64url');
}

const FILE = 'register.key';

/** Reads the key from the data folder, or makes it at the first start: 32 random bytes, readable by its owner only. */
export function keyOfFolder(folder: string): Buffer {
  const path = join(folder, FILE);
  try {
    return readFileSync(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
  const made = randomBytes(32);
  // the database will hold what was sealed with it: lost, or in half, nobody who opted out would be known again
  writeWhole(path, made);
  return made;
}

/**
 * Whether the key is that with which the register's numbers were sealed; where there are none, it becomes so.
 * @throws in words for whoever starts the server: without the right key people who opted out would not be known again
 */
export async function agreeOnKey(db: Queryable, folder: string): Promise<void> {
  const mark = sealed('the key of the register');
  const { rows } = await db.query<{ mark: string | null; any: boolean }>(
    `SELECT register_mark AS mark, EXISTS (SELECT 1 FROM register_sealed) AS any FROM workspace`,
  );
  const set = rows.at(0);
  if (!set || set.mark === mark) return;
  if (set.mark !== null && set.any)
    throw new Error(
      `${join(folder, FILE)} is not the key that this database's register was sealed with. Put the right file there: without it, people who opted out and were erased would not be known again. Nothing was started.`,
    );
  await db.query(`UPDATE workspace SET register_mark = $1`, [mark]);
}

/** Which of these numbers are sealed in the register. */
export async function sealedAmong(db: Queryable, numbers: readonly string[]): Promise<Set<string>> {
  const found = new Set<string>();
  if (numbers.length === 0 || (await db.query(`SELECT 1 FROM register_sealed LIMIT 1`)).rowCount === 0) return found;
  const byHash = new Map(numbers.map((number) => [sealed(number), number]));
  const { rows } = await db.query<{ hash: string }>(`SELECT hash FROM register_sealed WHERE hash = ANY ($1::text[])`, [
    [...byHash.keys()],
  ]);
  for (const { hash } of rows) found.add(byHash.get(hash) ?? '');
  return found;
}

/** Whoever brings a number into the address book brings its stop with it: from then on it stands in the register as others do. */
export async function knownAgain(tx: Queryable, numbers: readonly string[]): Promise<void> {
  const again = [...(await sealedAmong(tx, numbers))].sort();
  if (again.length === 0) return;
  await tx.query(
    `INSERT INTO suppression (number, at, how) SELECT b.number, s.at, s.how FROM unnest($1::text[], $2::text[]) AS b (number, hash)
     JOIN register_sealed s ON s.hash = b.hash ORDER BY b.number ON CONFLICT (number) DO NOTHING`,
    [again, again.map(sealed)],
  );
}

/** A number leaves the register in the open, and stays in it sealed. */
export async function seal(tx: Tx, number: string): Promise<void> {
  await tx.query(
    `INSERT INTO register_sealed (hash, at, how) SELECT $2, at, how FROM suppression WHERE number = $1 ON CONFLICT (hash) DO NOTHING`,
    [number, sealed(number)],
  );
  await tx.query(`DELETE FROM suppression WHERE number = $1`, [number]);
}
