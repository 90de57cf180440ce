import { parseText } from '../merge/syntax';
import { forcing, plainFor, withoutPicture } from '../text/plain-replacements';
import { WORDING_RULES, type WordingRule } from './rules';

/** The words with one thing said otherwise. */
export interface Proposal {
  /** All the words as they would be. */
  words: string;
  why: WordingRule['why'] | 'plain characters' | 'picture' | 'spaces' | 'all of them';
  /** What is said now, and what instead; the first place where it stands. */
  was: string;
  becomes: string;
}

const MOST = 12;

/** Everything by rule that makes these words shorter, plainer or cheaper, one thing at a time; then all of it together. */
export function proposalsFor(source: string, language: string): Proposal[] {
  const found: Proposal[] = [];
  const offer = (why: Proposal['why'], change: (words: string) => string, show?: { was: string; becomes: string }) => {
    const words = why === 'picture' ? inWords(source, change).trim() : inWords(source, change);
    if (words === source || !keepsWhatCounts(source, words) || words.trim() === '') return;
    const { was, becomes } = show ?? difference(source, words);
    found.push({ words, why, was, becomes });
  };
  offer('spaces', tidySpaces, { was: 'spaces nobody sees', becomes: 'none' });
  const odd = forcing(source).filter(({ replacement }) => replacement !== undefined);
  for (const { character, replacement = '' } of odd)
    offer('plain characters', (words) => words.replaceAll(character, replacement), {
      was: character,
      becomes: replacement === '' ? 'nothing' : replacement,
    });
  const pictures = forcing(source).filter(({ picture }) => picture);
  for (const { character } of pictures)
    offer('picture', (words) => withoutPicture(words, character), { was: character, becomes: 'nothing' });
  for (const { find, put, why } of WORDING_RULES[language] ?? []) offer(why, (words) => replaced(words, find, put));
  const each = found.slice(0, MOST);
  if (each.length < 2) return each;
  const all = inWords(source, (words) => {
    let next = tidySpaces(words);
    for (const { character } of pictures) next = withoutPicture(next, character);
    for (const { character } of odd) next = next.replaceAll(character, plainFor(character) ?? character);
    for (const { find, put } of WORDING_RULES[language] ?? []) next = replaced(next, find, put);
    return next;
  });
  return keepsWhatCounts(source, all)
    ? [...each, { words: all, why: 'all of them', was: 'all of these', becomes: 'at once' }]
    : each;
}

/** Changes what is words, and leaves placeholders, literal braces and addresses as they stand. */
function inWords(source: string, change: (words: string) => string): string {
  return parseText(source)
    .nodes.map((node) =>
      node.kind === 'words'
        ? source
            .slice(node.from, node.to)
            .split(ADDRESS)
            .map((piece, i) => (i % 2 === 1 ? piece : change(piece)))
            .join('')
        : source.slice(node.from, node.to),
    )
    .join('');
}

/** With its capture, so that splitting keeps it. */
const ADDRESS = /((?:https?:\/\/|www\.)\S+|\S+@\S+\.\S+|\b[\w-]+(?:\.[\w-]+)+\/\S*)/i;

/** In the case of what stood there: at a sentence's beginning the next word takes over its capital. */
function replaced(words: string, find: RegExp, put: string): string {
  let next = '';
  let from = 0;
  for (const match of words.matchAll(find)) {
    const at = match.index;
    const after = at + match[0].length;
    const capital = /^\p{Lu}/u.test(match[0]);
    next += words.slice(from, at);
    if (put !== '') next += capital && /^\p{Ll}/u.test(put) ? put[0].toUpperCase() + put.slice(1) : put;
    from = after;
    if (put === '' && capital && after < words.length) {
      next += words[after].toUpperCase();
      from = after + 1;
    }
  }
  return next + words.slice(from);
}

const tidySpaces = (words: string) =>
  words
    .replace(/[ \u00a0]{2,}/g, ' ')
    .replace(/ +([,.;:!?])(?=\s|$)/g, '$1')
    .replace(/[ \t]+\n/g, '\n')
    .replace(/\n{3,}/g, '\n\n');

/**
 * Numbers, dates, times, addresses, placeholders and names are the same ones in the same order. A name is a word with a capital that
 * stands anywhere but at the beginning of a sentence.
 */
export function keepsWhatCounts(before: string, after: string): boolean {
  return JSON.stringify(whatCounts(before)) === JSON.stringify(whatCounts(after));
}

export function whatCounts(source: string): { placeholders: string[]; numbers: string[]; names: string[]; addresses: string[] } {
  const { nodes } = parseText(source);
  const words = nodes.map((node) => (node.kind === 'words' ? node.text : '\u{fffc}')).join('');
  return {
    placeholders: nodes.flatMap((node) => (node.kind === 'words' ? [] : [source.slice(node.from, node.to)])),
    addresses: words.match(new RegExp(ADDRESS.source, 'gi')) ?? [],
    numbers: words.match(/[\p{N}]+(?:[.,:/-][\p{N}]+)*/gu) ?? [],
    names: [...words.matchAll(/(?<=[\p{L}\p{N},;'’)\u{fffc}-] )\p{Lu}[\p{L}'’-]*/gu)]
      .map(([name]) => name.normalize('NFKD').replace(/\p{M}/gu, ''))
      .filter((name) => !TRADE.has(name)),
  };
}

/** Abbreviations that a rule puts in are no names. */
const TRADE = new Set(['ASAP', 'FYI', 'RDV']);

/** Where two texts differ, with a word around it. */
function difference(before: string, after: string): { was: string; becomes: string } {
  let start = 0;
  while (start < before.length && before[start] === after[start]) start += 1;
  let end = 0;
  while (end < before.length - start && end < after.length - start && before.at(-1 - end) === after.at(-1 - end)) end += 1;
  const wordStart = Math.max(0, before.lastIndexOf(' ', start - 1) + 1);
  const cut = (text: string) => {
    const to = text.indexOf(' ', Math.max(text.length - end, wordStart));
    const piece = text.slice(wordStart, to < 0 ? text.length : to).trim();
    return piece.length > 60 ? `${piece.slice(0, 59)}…` : piece;
  };
  return { was: cut(before), becomes: cut(after) };
}
