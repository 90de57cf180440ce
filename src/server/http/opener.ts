import { isbot } from 'isbot';

/**
 * Who opens a page, as far as they tell: somebody who only looks (HEAD), a machine that calls itself one or fetches ahead of anybody's
 * wish, or else a person. A machine that calls itself a phone cannot be told from one.
 */
export function openerOf(request: {
  method: string;
  headers: Record<string, string | string[] | undefined>;
}): 'looks' | 'machine' | 'person' {
  if (request.method === 'HEAD') return 'looks';
  const said = (name: string) => String(request.headers[name] ?? '');
  // https://developer.mozilla.org/docs/Web/HTTP/Reference/Headers/Sec-Purpose, and what came before it
  if (['sec-purpose', 'purpose', 'x-moz', 'x-purpose'].some((name) => /prefetch|prerender|preview/i.test(said(name))))
    return 'machine';
  const agent = said('user-agent');
  return agent === '' || isbot(agent) ? 'machine' : 'person';
}
