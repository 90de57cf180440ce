const FIRST = 500;
const MOST = 300_000;

/** Wait before a part is tried again, ms: doubled with each attempt, at most five minutes. */
export function backoff(attempts: number): number {
  return Math.min(MOST, FIRST * 2 ** Math.min(20, Math.max(0, attempts - 1)));
}
