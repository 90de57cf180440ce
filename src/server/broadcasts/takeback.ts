/** Seconds between the press and the first text of a broadcast that goes now. */
export const TAKEBACK_SECONDS = 8;
