/** How long the line waits for what, ms, and how much it takes at once. What differs with a desk or a test is in LINE_SETTINGS (effects). */
export const FAILED_AGAIN = 500;
export const RECEIPTS_WAIT = 80;
export const ANSWERS_WAIT = 30;
export const RECEIPTS_MOST = 400;
export const SLOW_DOWN = [500, 1000, 2000, 4000, 8000, 15_000, 30_000, 60_000];
export const CIRCUIT_AFTER = 3;
/** So much of the window is free before it is filled again. */
export const REFILL = 0.8;
/** Of more leased texts than this it is asked so far apart, ms, whether they may still go; each is asked as it goes, whatever was asked before. */
export const SIFTED_AT_ONCE = 100;
export const SIFT_APART = 1000;
/** Shares of so many senders are held at once. */
export const MOST_SENDERS = 5;
/** An intent is carried out within this time or not at all, ms. */
export const WRITE_WITHIN = 4000;
