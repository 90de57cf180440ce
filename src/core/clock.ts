/**
 * Time as it is handed to everything that needs it. Nothing in the product reads the wall clock itself,
 * so that the demo and the tests can run on a clock of their own.
 */
export interface Clock {
  /** Milliseconds since 1970-01-01T00:00:00Z. */
  now(): number;
  /** Resolves after `ms` of this clock's time, or at once when the signal is aborted or the clock is moved past it. */
  sleep(ms: number, signal?: AbortSignal): Promise<void>;
}

/** An instant of the clock as ISO 8601 in UTC with milliseconds, the form used in the API and the database. */
export function iso(ms: number): string {
  // one moment is written many times over: a window's, a posting's
  if (ms !== latest.ms) latest = { ms, text: new Date(ms).toISOString() };
  return latest.text;
}

let latest = { ms: 0, text: '1970-01-01T00:00:00.000Z' };
