import { lookup as resolve } from 'node:dns';
import { request as askHttp, type IncomingMessage } from 'node:http';
import { request as askHttps } from 'node:https';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';

/** Whether somebody answers at an address; `unknown` where that could not be found out from here. */
export interface Reached {
  answers: 'yes' | 'no' | 'unknown';
  /** In words, for a sentence: "it answers that there is nothing (404)". */
  why: string;
}

/** From the first question to the first answer, ms: a page that drips its headers does not hold it open. */
const WAIT = 6000;
/** Not a host that everyone has: what leads into this network is no address for a text, and nobody's business to ask from here. */
const isPublic = (ip: string) => ipaddr.isValid(ip) && ipaddr.process(ip).range() === 'unicast';

class NotPublic extends Error {}

/**
 * Asks a page's address once, without following where it leads on to and without reading it. Only http and https; only hosts of the
 * public internet, decided on the very address that is connected to (a name may resolve differently the second time).
 *
 * @param own hosts with their port that are this server's own and may be asked wherever they are
 * @param wait for each question, ms
 */
export async function reach(address: string, own: readonly string[] = [], wait = WAIT): Promise<Reached> {
  let url: URL;
  try {
    url = new URL(address);
  } catch {
    return { answers: 'no', why: 'it is no complete address' };
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') return { answers: 'no', why: 'it is no address of a page' };
  const mayBeAnywhere = own.includes(url.host);
  const literal = url.hostname.replace(/^\[|\]$/g, '');
  if (!mayBeAnywhere && ipaddr.isValid(literal) && !isPublic(literal)) return PRIVATE;
  try {
    const looked = await ask(url, 'HEAD', mayBeAnywhere, wait);
    // some pages know no HEAD, or answer it otherwise than they do a visitor
    return said(looked < 400 ? looked : await ask(url, 'GET', mayBeAnywhere, wait));
  } catch (error) {
    return error instanceof NotPublic ? PRIVATE : trouble(error);
  }
}

const PRIVATE: Reached = { answers: 'no', why: 'it leads into a private network, where no phone gets' };

function ask(url: URL, method: 'HEAD' | 'GET', mayBeAnywhere: boolean, wait: number): Promise<number> {
  const publicOnly: LookupFunction = (host, options, done) =>
    resolve(host, { ...options, all: true }, (error, found) => {
      const fit = error ? [] : found.filter((each) => isPublic(each.address));
      if (error) done(error, '', 4);
      else if (fit.length === 0) done(new NotPublic(), '', 4);
      else if (options.all) done(null, fit);
      else done(null, fit[0].address, fit[0].family);
    });
  return new Promise((answered, failed) => {
    const asking = (url.protocol === 'https:' ? askHttps : askHttp)(
      url,
      {
        method,
        agent: false,
        headers: { 'user-agent': 'YellowBell-link-check/1 (bot)', accept: 'text/html,*/*' },
        ...(mayBeAnywhere ? {} : { lookup: publicOnly }),
      },
      (response: IncomingMessage) => {
        answered(response.statusCode ?? 0);
        response.destroy();
      },
    );
    const timer = setTimeout(() => asking.destroy(Object.assign(new Error('no answer'), { code: 'ETIMEDOUT' })), wait);
    asking.on('error', failed);
    asking.on('close', () => clearTimeout(timer));
    asking.end();
  });
}

function said(status: number): Reached {
  if (status < 400) return { answers: 'yes', why: `it answers (${status})` };
  if (status === 404 || status === 410) return { answers: 'no', why: `it answers that there is nothing (${status})` };
  if (status >= 500) return { answers: 'no', why: `it answers that it is in trouble (${status})` };
  return { answers: 'unknown', why: `it does not tell a stranger (${status})` };
}

function trouble(error: unknown): Reached {
  const code = (error as { code?: string }).code ?? '';
  if (code === 'ECONNREFUSED') return { answers: 'no', why: 'nobody answers there' };
  if (code === 'ETIMEDOUT') return { answers: 'no', why: `it did not answer within ${WAIT / 1000} seconds` };
  if (/CERT|SIGNED|TLS|SSL/.test(code))
    return { answers: 'no', why: 'its certificate is not valid, and browsers will warn of it' };
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN')
    return { answers: 'unknown', why: 'its name cannot be looked up from this server' };
  return { answers: 'unknown', why: 'this server cannot get there' };
}
