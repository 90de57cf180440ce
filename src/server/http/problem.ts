import type { Particulars, Refusal, Why } from '../../core/api/refusal';

/**
 * An answer that says what is wrong, as RFC 9457 problem details. `title` is the one clear sentence people read. What areas refuse is
 * a `Refusal`; this is what HTTP itself says.
 */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly kind: string,
    readonly title: string,
    readonly more: Particulars = {},
  ) {
    super(title);
    this.name = 'Problem';
  }

  toJSON(): Record<string, unknown> {
    return { type: `urn:yellow-bell:${this.kind}`, title: this.title, status: this.status, ...this.more };
  }
}

/** The status of each reason (RFC 9110, section 15.5; RFC 6585, section 4). */
const STATUS: Readonly<Record<Why, number>> = {
  'not understood': 400,
  'not signed in': 401,
  'not paid for': 402,
  'not allowed': 403,
  'not here': 404,
  clash: 409,
  over: 410,
  wrong: 422,
  'too often': 429,
  away: 503,
};

/** What an area refuses, as HTTP says it. */
export const problemOf = (refusal: Refusal): Problem =>
  new Problem(STATUS[refusal.why], refusal.kind, refusal.title, refusal.more);
