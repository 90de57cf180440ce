import { escaped, htmlPage } from '../http/plain-page';
import type { OptOutLink } from './link-queries';
import { PAGE_WORDS } from './opt-out-words';

/** Enough of a number for its holder to know it, and for nobody else: whoever opens a forwarded link learns no number. */
const shown = (number: string) => `••• ${number.slice(-4)}`;

/**
 * The page of an opt-out link: what is asked and one press, or that it is done, with its way back. Opening it changes nothing, since
 * scanners open links. Nothing said of what for means everything.
 *
 * @param nonce of the response: no other style is allowed
 */
export function optOutPage(of: OptOutLink & { path: string }, nonce: string): string {
  const language = of.language in PAGE_WORDS ? of.language : 'en';
  const words = PAGE_WORDS[language];
  const filled = (text: string) => escaped(text.replace('{name}', of.name).replace('{number}', shown(of.number)));
  const press = (path: string, says: string) =>
    `<form method="post" action="${escaped(path)}"><button type="submit">${escaped(says)}</button></form>`;
  const back = press(`${of.path}/back`, words.back);
  const stop = press(of.path, words.press);
  const body = of.done
    ? `<h1>${filled(words.done)}</h1>${of.by_link ? back : ''}`
    : of.less === 'done'
      ? `<h1>${filled(words.lessDone)}</h1>${stop}${back}`
      : `<h1>${filled(words.ask)}</h1>${stop}${of.less === 'can be' ? press(`${of.path}/marketing`, words.less) : ''}<p>${escaped(of.test ? words.test : words.note)}</p>`;
  return htmlPage({ language, title: of.name, body }, nonce);
}
