import { parseText, type FieldNode } from './syntax';

/** Whoever takes up a template; what is not known of them is ''. */
export interface WriterValues {
  name: string;
  /** As it is to stand in the text. */
  number: string;
  /** Landing, desk, class: where they work. */
  place: string;
}

/** Fields of the one who writes. They stand in templates only: taking one up puts the writer's own in their place. */
export const WRITER_FIELDS = [
  { slug: 'writer_name', label: 'who writes', of: 'name' },
  { slug: 'writer_number', label: 'number of who writes', of: 'number' },
  { slug: 'writer_place', label: 'landing or desk of who writes', of: 'place' },
] as const;

const OF = new Map<string, keyof WriterValues>(WRITER_FIELDS.map(({ slug, of }) => [slug, of]));

export const isWriterField = (name: string): boolean => OF.has(name);

/**
 * The words with the writer's own values in the place of their fields: the value, else the fallback words, else the field stays
 * and is said to be missing. What stands in a value means nothing else: its braces are literal ones.
 */
export function fillWriter(source: string, writer: WriterValues): { words: string; missing: string[] } {
  const missing: string[] = [];
  let words = '';
  let from = 0;
  for (const node of parseText(source).nodes) {
    const of = node.kind === 'field' ? OF.get(node.name) : undefined;
    if (of === undefined) continue;
    const field = node as FieldNode;
    const value = writer[of].trim() || field.fallback;
    if (value === undefined || value === '') {
      missing.push(field.name);
      continue;
    }
    words += source.slice(from, field.from) + value.replaceAll('{', '{{');
    from = field.to;
  }
  return { words: words + source.slice(from), missing };
}
