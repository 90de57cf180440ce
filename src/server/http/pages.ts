import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Express, Response } from 'express';
import expressStaticGzip from 'express-static-gzip';
import helmet from 'helmet';

/** Headers that mean something on a page only, not on the scripts, fonts and styles it loads. */
const PAGE_HEADERS = [
  'Content-Security-Policy',
  'Cross-Origin-Opener-Policy',
  'Origin-Agent-Cluster',
  'Referrer-Policy',
  'X-DNS-Prefetch-Control',
  'X-Download-Options',
  'X-Frame-Options',
  'X-Permitted-Cross-Domain-Policies',
  'X-XSS-Protection',
];

/** Strict headers on every answer, with a nonce of its own for what a page runs and how it looks (CSP Level 3, §2.3). */
export function strictHeaders(server: Express): void {
  server.use((_request, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    next();
  });
  server.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'none'"],
          'script-src': ["'self'", (_request, response) => `'nonce-${(response as Response).locals.nonce as string}'`],
          'style-src': ["'self'", (_request, response) => `'nonce-${(response as Response).locals.nonce as string}'`],
          'img-src': ["'self'", 'data:'],
          'font-src': ["'self'"],
          'connect-src': ["'self'"],
          'manifest-src': ["'self'"],
          'worker-src': ["'self'"],
          'base-uri': ["'none'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
        },
      },
      strictTransportSecurity: false, // the server speaks plain HTTP behind whatever speaks TLS
      crossOriginEmbedderPolicy: false,
    }),
  );
}

/** The built web app: its assets, and its page at every other address. */
export function servePages(server: Express, webFolder: string): void {
  const page = readFileSync(join(webFolder, 'index.html'), 'utf8');
  // written small once, when they are built
  server.use(
    '/assets',
    expressStaticGzip(join(webFolder, 'assets'), {
      enableBrotli: true,
      orderPreference: ['br'],
      serveStatic: {
        immutable: true,
        maxAge: '1y',
        fallthrough: false,
        // what is said of pages weighs more than many a script does
        setHeaders: (response) => PAGE_HEADERS.forEach((header) => response.removeHeader(header)),
      },
    }),
  );
  server.get(/.*/, (_request, response) => {
    response.setHeader('Cache-Control', 'no-store');
    response.type('html').send(page.replaceAll('__NONCE__', response.locals.nonce as string));
  });
}
