import { parseText } from './syntax';

const MOST_WORDS = 6;
const MOST = 48;

/** A name for a broadcast from its first words: without placeholders, addresses and what stands around them. '' when there are none. */
export function nameFrom(source: string): string {
  // a placeholder that does not read, or is still being typed, names nothing
  const read = parseText(source).problems.reduceRight(
    (text, { from, to }) => text.slice(0, from) + text.slice(to).replace(to > from + 1 ? '' : /^\S*/, ''),
    source,
  );
  const plain = parseText(read)
    .nodes.map((node) => (node.kind === 'words' ? node.text : ' … '))
    .join('')
    // punctuation after what is gone belongs to the word before it
    .replace(/\s*…\s*(?=[,;:.!?])/g, '')
    .replace(/([,;:.!?])[,;:]+/g, '$1');
  const words: string[] = [];
  for (const word of plain.split(/\s+/)) {
    if (words.length >= MOST_WORDS || words.join(' ').length + word.length > MOST) break;
    // what greets somebody, or leads somewhere, names nothing
    if (word === '' || word.startsWith('…') || /^https?:/.test(word) || (words.length === 0 && !/\p{L}{3,}/u.test(word)))
      continue;
    words.push(word);
    if (/[.!?]$/.test(word)) break;
  }
  return words
    .join(' ')
    .replace(/[\s,;:.!?–—-]+$/u, '')
    .trim();
}
