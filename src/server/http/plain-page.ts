export const escaped = (text: string): string => text.replace(/[&<>"]/g, (character) => `&#${character.charCodeAt(0)};`);

const STYLE =
  ':root{color-scheme:light dark}body{font:1.15rem/1.5 sans-serif;max-width:30rem;margin:18vh auto;padding:0 1.25rem}h1{font-size:1.35rem;line-height:1.35}button{font:inherit;font-weight:700;padding:.8rem 1.4rem;border:2px solid;border-radius:.4rem;cursor:pointer}';

/**
 * A page for whoever follows a link on a phone and has no account: readable at any size and by night. No script.
 *
 * @param nonce of the response, since the content security policy allows no other style
 */
export function htmlPage(page: { language: string; title: string; body: string }, nonce: string): string {
  return `<!doctype html>
<html lang="${escaped(page.language)}"><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex"><title>${escaped(page.title)}</title>
<style nonce="${escaped(nonce)}">${STYLE}</style>
<main>${page.body}</main></html>
`;
}

/** One sentence as a page. */
export function plainPage(sentence: string, nonce: string): string {
  return htmlPage({ language: 'en', title: sentence, body: `<p>${escaped(sentence)}</p>` }, nonce);
}
