/**
 * An answer that says what is wrong, as RFC 9457 problem details. `title` is the one clear sentence people read;
 * `place` names where, `kept` what was kept, `act` what to do.
 */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly kind: string,
    readonly title: string,
    readonly more: { place?: string; kept?: string; act?: string; [extension: string]: unknown } = {},
  ) {
    super(title);
    this.name = 'Problem';
  }

  toJSON(): Record<string, unknown> {
    return { type: `urn:yellow-bell:${this.kind}`, title: this.title, status: this.status, ...this.more };
  }
}

/** An id from the address; anything else is "nothing here". */
export function idOf(text: string | undefined): number {
  // digits and nothing else: what else JavaScript reads as a number is another way of writing the same
  if (text === undefined || !/^[1-9]\d{0,15}$/.test(text) || !Number.isSafeInteger(Number(text))) throw nothingHere();
  return Number(text);
}

export function nothingHere(): Problem {
  return new Problem(404, 'no-such-thing', 'There is nothing at this address.');
}
