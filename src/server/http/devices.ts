import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Queryable } from '../db/db';

export const DEVICE_COOKIE = 'bell_device';
/** A device is remembered this long after its last signing in, ms. */
export const DEVICE_MS = 400 * 86_400_000;

/**
 * Devices from which somebody has signed in to an account before. What a stranger does wrong with an account's address is not counted
 * against them, so a stranger locks nobody out. The cookie says nothing but this, and opens nothing.
 */
export class Devices {
  constructor(private readonly secret: Buffer) {}

  /** A new device of the account with this address (as `addressOf` writes it): what its cookie says. */
  mark(address: string): string {
    const id = randomBytes(12).toString('base64url');
    return `${id}.${this.sign(id, address).toString('base64url')}`;
  }

  /** Which device it is that this cookie names; undefined when it is none of this address. */
  known(cookie: string | undefined, address: string): string | undefined {
    const [id, signed] = (cookie ?? '').split('.');
    if (!id || !signed) return undefined;
    const given = Buffer.from(signed, 'base64url');
    const right = this.sign(id, address);
    return given.length === right.length && timingSafeEqual(given, right) ? id : undefined;
  }

  private sign(id: string, address: string): Buffer {
    return createHmac('sha256', this.secret).update(`${id}|${address}`).digest();
  }
}

/** With the secret of this workspace, which is made once; of two that start at once both have the same. */
export async function devicesOf(db: Queryable): Promise<Devices> {
  await db.query(`UPDATE workspace SET device_secret = $1 WHERE device_secret = ''`, [randomBytes(32).toString('hex')]);
  const { rows } = await db.query<{ device_secret: string }>(`SELECT device_secret FROM workspace`);
  return new Devices(Buffer.from(rows[0].device_secret, 'hex'));
}
