import { parseCookie } from 'cookie';
import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import type { Limit } from '../../core/api/endpoint';
import { DEVICE_COOKIE, type Devices } from './devices';
import { Problem } from './problem';

// of IPv6 the network counts, since everyone there has more addresses than could ever be counted (RFC 6177)
const originOf = (request: Request) => ipKeyGenerator(request.ip ?? '', 56);
const cookies = (request: Request) => parseCookie(request.get('cookie') ?? '');

/** For whom a request counts; nobody, where the limit does not mean it. */
const KEYS: Record<Limit['by'], (request: Request, devices: Devices) => string | undefined> = {
  origin: originOf,
  // the session alone: whatever else stands in the header is anybody's to change
  session: (request) => cookies(request).bell_session ?? originOf(request),
  'stranger’s origin': (request, devices) => (deviceOf(request, devices) ? undefined : originOf(request)),
  'stranger’s address': (request, devices) => (deviceOf(request, devices) ? undefined : addressIn(request.body)),
  'stranger’s address and origin': (request, devices) =>
    deviceOf(request, devices) ? undefined : `${addressIn(request.body)} ${originOf(request)}`,
  device: (request, devices) => deviceOf(request, devices),
};

/** The e-mail address of a body as it counts: however it is written, it is one. */
export function addressOf(email: string): string {
  return email.normalize('NFKC').trim().toLowerCase();
}

function addressIn(body: unknown): string {
  const { email } = (body ?? {}) as { email?: unknown };
  return typeof email === 'string' ? addressOf(email) : '';
}

/** The device, where it has signed in to the account that is asked for before. */
const deviceOf = (request: Request, devices: Devices) => devices.known(cookies(request)[DEVICE_COOKIE], addressIn(request.body));

/** The limit as a step before a route's own work. */
export function limited({ most, seconds, by, refusedOnly = false }: Limit, devices: Devices): RequestHandler {
  return rateLimit({
    windowMs: seconds * 1000,
    limit: most,
    keyGenerator: (request) => KEYS[by](request, devices) ?? '',
    skip: (request) => KEYS[by](request, devices) === undefined,
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
