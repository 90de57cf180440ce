import { randomBytes } from 'node:crypto';
import { createWriteStream, existsSync } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { parseCookie } from 'cookie';
import compression from 'compression';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { mayDo } from '../../core/api/roles';
import { iso } from '../../core/clock';
import type { App } from '../app-context';
import { refuseBoundless } from './bounded';
import { checksOf, refuseBroken } from './checked';
import { limited } from './limits';
import { LiveStreams } from './live';
import type { Db } from '../db/db';
import { DbError, diskTrouble, isAway, isPassing } from '../db/db-error';
import { openerOf } from './opener';
import { Refusal } from '../../core/api/refusal';
import { Problem, problemOf } from './problem';
import { Download, Page, type Account, type Asked, type Route, type Upload } from './route';
import { servePages, strictHeaders } from './pages';
import { plainPage } from './plain-page';

/** What is served: routes, who a cookie is, and the built web app where there is one. */
export interface Served {
  routes: readonly Route[];
  accountOf: AccountOf;
  webFolder: string | undefined;
}
type AccountOf = (db: Db, token: string | undefined, at: string) => Promise<Account | undefined>;

/** The whole HTTP side: strict headers, same-origin writes only, roles checked for every route, problems as RFC 9457. */
export function httpApp(app: App, { routes, accountOf, webFolder }: Served): Express {
  const server = express();
  server.disable('x-powered-by');
  server.set('query parser', 'simple');
  // behind something that speaks TLS, cookies are secure and addresses are those of people, as far as it is trusted
  server.set('trust proxy', app.trustProxy ?? false);
  const streams = new LiveStreams();
  strictHeaders(server);
  // events go out one by one, and files are mostly packed already or long
  server.use(
    compression({
      level: 3,
      filter: (_request, response) =>
        /^(application\/(problem\+)?json|text\/html)/.test(String(response.getHeader('content-type'))),
    }),
  );
  server.use('/api', (request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    if (request.method === 'GET' || request.method === 'HEAD') return next();
    // same-origin writes only: browsers say where a request comes from
    const site = request.get('sec-fetch-site');
    const origin = request.get('origin');
    const foreign =
      (site !== undefined && site !== 'same-origin' && site !== 'none') ||
      (origin !== undefined && hostOf(origin) !== request.get('host'));
    return foreign ? next(new Problem(403, 'foreign', 'This request came from another site.', {})) : next();
  });

  server.get('/api/live', (request, response, next) => {
    const at = iso(app.clock.now());
    const token = cookieOf(request);
    const good = async () => (await accountOf(app.db, token, iso(app.clock.now()))) !== undefined;
    accountOf(app.db, token, at)
      .then((account) => {
        if (!account || token === undefined) throw new Problem(401, 'sign-in-needed', 'Sign in first.', {});
        // a browser that comes back says what it heard last (HTML Living Standard, §9.2.4); a page that comes first, what it was told with its session
        const since = request.get('last-event-id') ?? request.query.since;
        streams.begin(app, token, response, good, typeof since === 'string' && since !== '' ? since : undefined);
      })
      .catch(next);
  });

  for (const each of routes) {
    const parsers =
      each.upload !== undefined || each.method === 'get'
        ? []
        : [express.json({ limit: '256kb', verify: (_request, _response, bytes) => refuseBoundless(bytes) })];
    server[each.method](
      each.path,
      ...parsers,
      ...(each.limits ?? []).map((limit) => limited(limit, app.devices)),
      (request, response, next) => {
        serve(app, accountOf, each, request, response)
          .then(() => each.path === '/api/sign-out' && streams.end(cookieOf(request) ?? ''))
          .catch(next);
      },
    );
  }

  server.use('/api', (_request, _response, next) =>
    next(new Problem(404, 'no-such-route', 'There is nothing at this address.', {})),
  );
  if (webFolder && existsSync(join(webFolder, 'index.html'))) servePages(server, webFolder);
  server.use((error: unknown, request: Request, response: Response, next: NextFunction) => {
    void next; // four parameters make this an error handler
    const problem = asProblem(error);
    if (problem.status >= 500) app.log.error({ err: error, path: request.path }, 'request failed');
    if (response.headersSent) return response.end();
    // who follows a link from a text has a browser, and no use for JSON
    if (/^\/[lo]\//.test(request.path) && request.accepts(['json', 'html']) === 'html')
      return response
        .status(problem.status)
        .type('html')
        .send(plainPage(problem.title, String(response.locals.nonce)));
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  });
  return server;
}

function cookieOf(request: Request): string | undefined {
  return parseCookie(request.get('cookie') ?? '').bell_session;
}

/** The host of an Origin; of `null` and of what is no address there is none (RFC 6454, §7). */
function hostOf(origin: string): string | undefined {
  return URL.canParse(origin) ? new URL(origin).host : undefined;
}

async function serve(app: App, accountOf: AccountOf, each: Route, request: Request, response: Response): Promise<void> {
  const now = app.clock.now();
  const at = iso(now);
  const token = cookieOf(request);
  const account = await accountOf(app.db, token, at);
  if (each.role !== 'anyone') {
    if (!account) throw new Problem(401, 'sign-in-needed', 'Sign in first.', {});
    if (!mayDo(account.role, each.role))
      throw new Problem(403, 'role', `Your role is “${account.role}”; this needs “${each.role}”.`, {});
  }
  const checks = checksOf(each);
  refuseBroken(request.params);
  const query = checks.query()(request.query);
  if (each.upload === undefined) checks.body()(request.body);
  const upload = each.upload !== undefined ? await receive(request, app.imports.uploads, each.upload) : undefined;
  const asked: Asked = {
    params: request.params as Record<string, string>,
    query,
    body: request.body as unknown,
    upload,
    account,
    now,
    at,
    token,
    opener: openerOf(request),
    cookie: (name, value, maxAge) =>
      response.cookie(name, value, { httpOnly: true, sameSite: 'lax', path: '/', maxAge, secure: request.secure }),
  };
  const answer = await each.handle(app, asked as Asked<never, never>).finally(() => upload && rm(upload.path, { force: true }));
  if (answer instanceof Download) {
    response.setHeader('Content-Disposition', `attachment; filename="${answer.name.replace(/[^\w.-]+/g, '-')}"`);
    response.type(answer.type);
    const { body } = answer;
    if (typeof body === 'string') response.send(body);
    else if (body instanceof Uint8Array) response.send(Buffer.from(body));
    // when it breaks off, the connection does: a file that looks whole and is not would be worse
    else await pipeline(Readable.from(body), response);
  } else if (answer instanceof Page) {
    response.setHeader('Cache-Control', 'no-store');
    response.type('html').send(answer.html(String(response.locals.nonce)));
  } else if (answer instanceof URL) response.redirect(302, answer.href);
  else {
    if (app.checkAnswers) checks.answer()(answer);
    for (const topic of each.changes) app.bus.changed(topic);
    response.json(answer ?? {});
  }
}

/** Streams a body to a file. One that breaks off, or grows beyond `most` bytes, leaves nothing behind. */
async function receive(request: Request, folder: string, most: number): Promise<Upload> {
  await mkdir(folder, { recursive: true });
  const path = join(folder, `incoming-${randomBytes(12).toString('hex')}`);
  let size = 0;
  const counted = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      size += chunk.length;
      done(size > most ? tooLarge(most) : null, chunk);
    },
  });
  try {
    // on disk before anybody is told that it is there
    await pipeline(request, counted, createWriteStream(path, { flush: true }));
    return { path, size };
  } catch (error) {
    await rm(path, { force: true });
    request.resume();
    if (error instanceof Problem) throw error;
    throw new Problem(400, 'upload', 'The upload broke off. Nothing was kept.', { act: 'Choose the file again.' });
  }
}

function tooLarge(most: number): Problem {
  return new Problem(413, 'too-large', `The file is larger than this server takes (${most >> 20} MB). Nothing was kept.`, {
    act: 'Split it, or leave out columns you do not need.',
  });
}

function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof Refusal) return problemOf(error);
  const disk = diskTrouble(error);
  if (disk)
    return new Problem(503, 'disk', disk.title, {
      kept: 'What was saved before is still there; this was not saved.',
      act: `${disk.act}; it is tried again by itself.`,
    });
  if (isAway(error))
    return new Problem(503, 'away', 'The database cannot be reached just now.', {
      kept: 'What was saved before is still there.',
      act: 'It is tried again by itself; try once more in a moment.',
    });
  if (isPassing(error))
    return new Problem(409, 'busy', 'Others were at the same place at the same moment. Nothing was changed.', {
      act: 'Try once more.',
    });
  // what the database says of a value (a number beyond its column, no such date) is about the request (SQLSTATE class 22)
  if (error instanceof DbError && error.code?.startsWith('22'))
    return new Problem(400, 'request', 'A value in the request is larger than it can be, or is none.', {});
  const status = (error as { status?: number }).status ?? 500;
  if (status === 413) return new Problem(413, 'too-large', 'The request is larger than this server takes. Nothing was kept.', {});
  if (status === 415) return new Problem(415, 'encoding', 'The request is written in a way that this server does not read.', {});
  if (status === 404) return new Problem(404, 'no-such-file', 'There is nothing at this address.', {});
  if (status >= 400 && status < 500) return new Problem(status, 'request', 'The request could not be read.', {});
  return new Problem(500, 'trouble', 'Something went wrong on our side. What was saved before is still there.', {
    act: 'Try once more.',
  });
}
