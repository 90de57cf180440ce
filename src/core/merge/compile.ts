import { DEFAULT_PATTERN, formatDay, patternProblem } from './date-pattern';
import { movedDay } from './moved-day';
import { isWriterField } from './writer-fields';
import { parseText, type FieldNode, type SyntaxProblem } from './syntax';

export type FieldType = 'text' | 'number' | 'date' | 'choice' | 'yes_no';

/** What can be merged: slug → type. */
export type FieldTypes = ReadonlyMap<string, FieldType>;

/** Names the last day on which replies are read; there only where the sender has such a day. */
export const REPLY_UNTIL = 'reply_until';

/** Built-in fields of every person and broadcast. */
export const BUILT_IN: readonly { slug: string; label: string; type: FieldType }[] = [
  { slug: 'given_name', label: 'given name', type: 'text' },
  { slug: 'family_name', label: 'family name', type: 'text' },
  { slug: 'reference', label: 'own reference', type: 'text' },
  { slug: 'opt_out_link', label: 'opt-out link', type: 'text' },
  { slug: 'code', label: 'one-time code', type: 'text' },
  { slug: 'send_date', label: 'date it is sent', type: 'date' },
  { slug: REPLY_UNTIL, label: 'last day for replies', type: 'date' },
  { slug: 'sender_name', label: 'sender', type: 'text' },
  { slug: 'workspace_name', label: 'our name', type: 'text' },
];

/** One recipient's values. Missing is undefined or ''. Dates are `YYYY-MM-DD`. */
export type Values = (name: string) => string | undefined;

export interface Rendered {
  text: string;
  /** Names of fields whose fallback words were used. */
  fell: string[];
  /** Names of fields that were missing and had no fallback. */
  missing: string[];
}

export interface CompiledText {
  problems: SyntaxProblem[];
  fields: string[];
  links: string[];
  /** True when the words depend on the day of sending. */
  dated: boolean;
  render(values: Values, language: string): Rendered;
}

/**
 * Compiles a text once, to be rendered for many. Unknown fields and links, and patterns on what is no date, are problems
 * with their place. `links` are the names that have an address.
 */
export function compileText(source: string, known: FieldTypes, links: ReadonlySet<string> = new Set()): CompiledText {
  const { nodes, problems } = parseText(source);
  for (const node of nodes) {
    if (node.kind === 'link' && !links.has(node.name))
      problems.push({ from: node.from, to: node.to, message: `The link “${node.name}” has no address yet.` });
    if (node.kind !== 'field') continue;
    const type = known.get(node.name);
    if (type === undefined)
      problems.push({
        from: node.from,
        to: node.to,
        unknown: node.name,
        message: isWriterField(node.name)
          ? `What stands for “${node.name}” is not said in your account. Say it there, or write it here.`
          : node.name === REPLY_UNTIL
            ? 'The sender reads replies without an end: there is no last day for them. Take it out, or set one in Setup.'
            : `There is no field “${node.name}”.`,
      });
    else if (node.name === REPLY_UNTIL && node.move !== undefined)
      problems.push({
        from: node.from,
        to: node.to,
        message: 'The last day for replies is set with the sender: it cannot be moved here.',
      });
    else if ((node.pattern !== undefined || node.move !== undefined) && type !== 'date') {
      problems.push({ from: node.from, to: node.to, message: `“${node.name}” is not a date.` });
    } else if (node.pattern !== undefined) {
      const wrong = patternProblem(node.pattern);
      if (wrong) problems.push({ from: node.from, to: node.to, message: wrong });
    }
  }
  problems.sort((a, b) => a.from - b.from);
  const fields = [...new Set(nodes.flatMap((node) => (node.kind === 'field' ? [node.name] : [])))];
  return {
    problems,
    fields,
    links: [...new Set(nodes.flatMap((node) => (node.kind === 'link' ? [node.name] : [])))],
    dated: fields.includes('send_date') || fields.includes(REPLY_UNTIL),
    render(values, language) {
      let text = '';
      const fell: string[] = [];
      const missing: string[] = [];
      for (const node of nodes) {
        if (node.kind === 'words') text += node.text;
        else if (node.kind === 'link') text += values(`link ${node.name}`) ?? '';
        else {
          const value = fieldValue(node, values(node.name), known.get(node.name), language);
          if (value !== undefined) text += value;
          else if (node.fallback !== undefined) {
            text += node.fallback;
            fell.push(node.name);
          } else missing.push(node.name);
        }
      }
      return { text, fell, missing };
    },
  };
}

function fieldValue(node: FieldNode, raw: string | undefined, type: FieldType | undefined, language: string): string | undefined {
  const value = raw?.trim();
  if (!value) return undefined;
  if (type === 'date' && /^\d{4}-\d{2}-\d{2}$/.test(value)) {
    return formatDay(node.move ? movedDay(value, node.move) : value, node.pattern ?? DEFAULT_PATTERN, language);
  }
  // a value is only ever words: it is never looked at for placeholders, and control characters do not travel
  return value.replace(/[\u0000-\u0009\u000b-\u001f\u007f]/g, ' ');
}
