import { moveSource, readMove, type Move } from './moved-day';

/**
 * Merge fields: `{given_name}`, `{given_name or "neighbor"}`, `{renewal_date as "d MMMM"}`,
 * `{send_date + 7 days as "EEE, MMM d"}`, `{renewal_date - 2 weeks}`, `{send_date next friday}`, `{link timetable}`, `{{` for a
 * literal brace.
 */
export interface FieldNode {
  kind: 'field';
  /** Slug, e.g. `given_name`. */
  name: string;
  fallback?: string;
  /** Date pattern, see date-pattern.ts. */
  pattern?: string;
  /** For dates that move. */
  move?: Move;
  /** Position of the placeholder in the source, UTF-16 units, end exclusive. */
  from: number;
  to: number;
}
export interface LinkNode {
  kind: 'link';
  name: string;
  from: number;
  to: number;
}
export interface WordsNode {
  kind: 'words';
  text: string;
  from: number;
  to: number;
}
export type Node = WordsNode | FieldNode | LinkNode;

export interface SyntaxProblem {
  from: number;
  to: number;
  /** One sentence. */
  message: string;
  /** The name of a field that there is none of. */
  unknown?: string;
}

const PLACEHOLDER =
  /^\{\s*(?:link\s+(?<link>[a-z][a-z0-9_]*)|(?<name>[a-z][a-z0-9_.]*)(?:\s*(?<sign>[+-])\s*(?<count>\d{1,3})\s+(?<unit>day|week|month)s?|\s+next\s+(?<weekday>monday|tuesday|wednesday|thursday|friday|saturday|sunday))?(?:\s+as\s+"(?<pattern>[^"{}\n]*)")?(?:\s+or\s+"(?<fallback>[^"{}\n]*)")?)\s*\}/;

/**
 * Source text to nodes, with every place that does not read as a placeholder. A text with problems must be fixed:
 * braces never reach a phone by accident.
 */
export function parseText(source: string): { nodes: Node[]; problems: SyntaxProblem[] } {
  const nodes: Node[] = [];
  const problems: SyntaxProblem[] = [];
  let words = '';
  let wordsFrom = 0;
  const flush = (to: number) => {
    if (words !== '') nodes.push({ kind: 'words', text: words, from: wordsFrom, to });
    words = '';
  };
  for (let at = 0; at < source.length;) {
    const character = source[at];
    if (character === '{' && source[at + 1] === '{') {
      if (words === '') wordsFrom = at;
      words += '{';
      at += 2;
    } else if (character === '{') {
      const match = PLACEHOLDER.exec(source.slice(at));
      if (match?.groups) {
        flush(at);
        const { link, name, pattern, fallback } = match.groups;
        const place = { from: at, to: at + match[0].length };
        nodes.push(
          link !== undefined
            ? { kind: 'link', name: link, ...place }
            : { kind: 'field', name, fallback, pattern, move: readMove(match.groups), ...place },
        );
        at += match[0].length;
        wordsFrom = at;
      } else {
        const close = source.indexOf('}', at);
        const next = source.indexOf('{', at + 1);
        const to = close >= 0 && (next < 0 || close < next) ? close + 1 : at + 1;
        problems.push({
          from: at,
          to,
          message:
            to > at + 1
              ? `“${source.slice(at, to)}” is not a placeholder we can read. Write {{ for a brace.`
              : 'A { without its }. Write {{ for a brace.',
        });
        if (words === '') wordsFrom = at;
        words += source.slice(at, to);
        at = to;
      }
    } else {
      if (words === '') wordsFrom = at;
      words += character;
      at += 1;
    }
  }
  flush(source.length);
  return { nodes, problems };
}

/** What may stand in a fallback or a pattern: no quotes, braces or line ends. */
const SAFE = /["{}\n]/g;

/** A field as it stands in a text; read again it is the same field. What a fallback cannot hold is left out of it. */
export function fieldSource({
  name,
  move,
  pattern,
  fallback,
}: Pick<FieldNode, 'name' | 'move' | 'pattern' | 'fallback'>): string {
  const as = pattern === undefined || pattern.trim() === '' ? '' : ` as "${pattern.replace(SAFE, '')}"`;
  const or = fallback === undefined ? '' : ` or "${fallback.replace(SAFE, '')}"`;
  return `{${name}${moveSource(move)}${as}${or}}`;
}
