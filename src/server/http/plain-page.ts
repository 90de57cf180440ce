const escaped = (text: string) => text.replace(/[&<>"]/g, (character) => `&#${character.charCodeAt(0)};`);

/**
 * A page for whoever follows a link on a phone and has no account: a sentence, readable at any size and by night. No script.
 *
 * @param nonce of the response, since the content security policy allows no other style
 */
export function plainPage(sentence: string, nonce: string): string {
  return `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${escaped(sentence)}</title>
<style nonce="${escaped(nonce)}">:root{color-scheme:light dark}body{font:1.15rem/1.5 sans-serif;max-width:30rem;margin:18vh auto;padding:0 1.25rem}</style>
<main><p>${escaped(sentence)}</p></main></html>
`;
}
