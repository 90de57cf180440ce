/**
 * How long a line that nobody speaks on is kept, ms: longer than any browser or proxy in front keeps one (a minute, as a rule: common
 * practice). Whoever asks must be the one who gives it up: a server that shuts a line while a question is on its way loses that question
 * (RFC 9112, 9.3.1 and 9.5).
 */
export const IDLE_LINES_MS = 75_000;

/** @param server of HTTP, before or while it listens */
export function keepIdleLines<S extends { keepAliveTimeout: number }>(server: S): S {
  server.keepAliveTimeout = IDLE_LINES_MS;
  return server;
}
