import { parseCookie } from 'cookie';
import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import type { Limit } from '../../core/api/endpoint';
import { Problem } from './problem';

const KEYS: Record<Limit['by'], (request: Request) => string> = {
  // of IPv6 the network counts, since everyone there has more addresses than could ever be counted (RFC 6177)
  origin: (request) => ipKeyGenerator(request.ip ?? '', 56),
  address: (request) => addressIn(request.body),
  // the session alone: whatever else stands in the header is anybody's to change
  session: (request) => parseCookie(request.get('cookie') ?? '').bell_session ?? ipKeyGenerator(request.ip ?? '', 56),
};

/** The e-mail address of a body as it counts: however it is written, it is one. */
export function addressOf(email: string): string {
  return email.normalize('NFKC').trim().toLowerCase();
}

function addressIn(body: unknown): string {
  const { email } = (body ?? {}) as { email?: unknown };
  return typeof email === 'string' ? addressOf(email) : '';
}

/** The limit as a step before a route's own work. */
export function limited({ most, seconds, by, refusedOnly = false }: Limit): RequestHandler {
  return rateLimit({
    windowMs: seconds * 1000,
    limit: most,
    keyGenerator: KEYS[by],
    skipSuccessfulRequests: refusedOnly,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_request, _response, next) =>
      next(
        new Problem(429, 'too-many-tries', `Too many ${refusedOnly ? 'wrong tries' : 'requests'}.`, {
          act: seconds >= 120 ? `Wait ${seconds / 60} minutes.` : 'Wait a minute.',
        }),
      ),
  });
}
