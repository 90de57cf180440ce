/** True for a complete address of a page (WHATWG URL): only then can a link lead anywhere. */
export function isWebAddress(text: string): boolean {
  return /^https?:\/\/\S+$/i.test(text) && URL.canParse(text) && new URL(text).hostname !== '';
}
