import { formatDay, patternProblem } from './date-pattern';
import { movedDay, moveWords } from './moved-day';
import type { FieldNode, LinkNode, Node } from './syntax';

/** What a placeholder says to whoever reads it: what is filled in, and what else there is to know of it. */
export interface ChipWords {
  name: string;
  /** ` or neighbor`, `: Thu, Dec 3`, or nothing. */
  extra: string;
  /** Its name is one that is filled in. */
  known: boolean;
}

/**
 * A placeholder as it is shown everywhere, large or small: by the label of its field, never by braces.
 *
 * @param known labels by slug; a link stands there as `link NAME`
 * @param day where dates are to read as they will: a day (`YYYY-MM-DD`) that stands for the one that is filled in, and the language;
 * without it a date is only named
 */
export function chipWords(
  node: FieldNode | LinkNode,
  known: ReadonlyMap<string, string>,
  day?: { today: string; language: string },
): ChipWords {
  const slug = node.kind === 'link' ? `link ${node.name}` : node.name;
  const label = known.get(slug) ?? slug.replaceAll('_', ' ');
  if (node.kind === 'link') return { name: label, extra: '', known: known.has(slug) };
  const moved = node.move ? `${'by' in node.move && node.move.by > 0 ? ' ' : ', '}${moveWords(node.move)}` : '';
  const extra = node.fallback ? ` or ${node.fallback}` : node.pattern && day ? `: ${dateRead(node, node.pattern, day)}` : '';
  return { name: label + moved, extra, known: known.has(slug) };
}

/** A date as it will read: a pattern says nothing to anyone. */
function dateRead(node: FieldNode, pattern: string, { today, language }: { today: string; language: string }): string {
  if (patternProblem(pattern) !== undefined) return pattern;
  return formatDay(node.move ? movedDay(today, node.move) : today, pattern, language);
}

/** Words in one line, as lists have them: every run of white space is one space. */
export const onOneLine = (nodes: readonly Node[]): Node[] =>
  nodes.map((node) => (node.kind === 'words' ? { ...node, text: node.text.replace(/\s+/g, ' ') } : node));
