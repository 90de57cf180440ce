/**
 * Why something asked for is not done. Areas say it in these words and know nothing of HTTP; its floor gives each a status of its own
 * (`http/problem`).
 */
export type Why =
  | 'not understood'
  | 'not signed in'
  | 'not paid for'
  | 'not allowed'
  | 'not here'
  /** The world has moved, or something else stands in the way. */
  | 'clash'
  /** It was there, and is over. */
  | 'over'
  /** It was understood, and cannot be so. */
  | 'wrong'
  | 'too often'
  | 'away';

/** What goes with a refusal: `place` names where, `kept` what was kept, `act` what to do. */
export interface Particulars {
  place?: string;
  kept?: string;
  act?: string;
  [extension: string]: unknown;
}

/** Something asked for that is not done. `title` is the one clear sentence people read; `kind` tells one refusal from another. */
export class Refusal extends Error {
  constructor(
    readonly why: Why,
    readonly kind: string,
    readonly title: string,
    readonly more: Particulars = {},
  ) {
    super(title);
    this.name = 'Refusal';
  }
}

export const nothingHere = (): Refusal => new Refusal('not here', 'no-such-thing', 'There is nothing at this address.');
