import { Refusal } from '../../core/api/refusal';
import { createHash, randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';

/** scrypt, N 2^15, r 8, p 3 (OWASP's equal of its first choice; needs 32 MB a hash). */
export const COST: ScryptOptions = { N: 2 ** 15, r: 8, p: 3, maxmem: 64 * 1024 * 1024 };

/** So many may wait for their hash; a flood of sign-ins is refused, not queued for minutes. */
const MOST_WAITING = 20;
let waiting = 0;
let tail: Promise<unknown> = Promise.resolve();

/**
 * One hash at a time: each takes a core and 32 MB for some tenths of a second, in a thread of Node's pool, of which files and names
 * need the others.
 * @throws Refusal 503 when too many wait already
 */
function derive(password: string, salt: Buffer): Promise<Buffer> {
  if (waiting >= MOST_WAITING)
    throw new Refusal('away', 'busy', 'Too many people are signing in at once.', { act: 'Try again in a moment.' });
  waiting += 1;
  const key = tail.then(
    () =>
      new Promise<Buffer>((resolve, reject) =>
        scrypt(password.normalize('NFKC'), salt, 32, COST, (error, made) => (error ? reject(error) : resolve(made))),
      ),
  );
  tail = key.catch(() => undefined).finally(() => (waiting -= 1));
  return key;
}

export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt$${salt.toString('base64')}$${(await derive(password, salt)).toString('base64')}`;
}

/** @throws Refusal 503 when too many wait already */
export async function checkPassword(password: string, stored: string): Promise<boolean> {
  const [, salt, key] = stored.split('$');
  const expected = Buffer.from(key ?? '', 'base64');
  const got = await derive(password, Buffer.from(salt ?? '', 'base64'));
  return expected.length === got.length && timingSafeEqual(expected, got);
}

/** 256 random bits for sessions and one-time links; only the hash is kept. */
export function newToken(): { token: string; hash: string } {
  const token = randomBytes(32).toString('base64url');
  return { token, hash: hashToken(token) };
}

export function hashToken(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}
