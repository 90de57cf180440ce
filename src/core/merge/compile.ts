import { DEFAULT_PATTERN, formatDay, patternProblem } from './date-pattern';
import { movedDay, moveSource } from './moved-day';
import { measure, weightOf } from '../text/measure';
import { isWriterField } from './writer-fields';
import { parseText, type FieldNode, type Node, type SyntaxProblem } from './syntax';

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

/**
 * So many characters of a text are written, and no more: it is far too long to be sent by then (ten parts are 1,530), and what a long
 * value that is put in a hundred times would come to for everybody has no end.
 */
export const MOST_WRITTEN = 8000;
/** So many days of a text are kept as they are written; beyond it they are written anew. */
const MOST_DAYS = 50_000;

/** One recipient's values. Missing is undefined or ''. Dates are `YYYY-MM-DD`. */
export type Values = (name: string) => string | undefined;

export interface Rendered {
  text: string;
  /** `weightOf` the text. */
  weight: number;
  /** It ends with white space, or is empty. */
  openEnd: boolean;
  /** Names of fields whose fallback words were used. */
  fell: readonly string[];
  /** Names of fields that were missing and had no fallback. */
  missing: readonly string[];
}
const NONE: readonly string[] = [];

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
  const days = new Map<string, string>();
  /** Of everybody's days there are few: each is moved and written once for each place that shows it so. */
  const writtenDay = ({ move, pattern = DEFAULT_PATTERN }: FieldNode, day: string, language: string): string => {
    const key = `${day}${language}${moveSource(move)} ${pattern}`;
    let written = days.get(key);
    if (written === undefined) {
      if (days.size >= MOST_DAYS) days.clear();
      days.set(key, (written = formatDay(move ? movedDay(day, move) : day, pattern, language)));
    }
    return written;
  };
  const dates = new Set([...known].flatMap(([name, type]) => (type === 'date' ? [name] : [])));
  const fieldValue = (node: FieldNode, raw: string | undefined, language: string): string | undefined => {
    const value = raw?.trim();
    if (!value) return undefined;
    if (dates.has(node.name) && /^\d{4}-\d{2}-\d{2}$/.test(value)) return writtenDay(node, value, language);
    // a value is only ever words: it is never looked at for placeholders, and control characters do not travel
    return travels(value) ? value : value.slice(0, MOST_WRITTEN).replace(/[\u0000-\u0009\u000b-\u001f\u007f]/g, ' ');
  };
  // what is the same for everybody is weighed once
  const pieces = nodes.map((node, at) => ({ node, words: node.kind === 'words' ? weightOf(node.text) : 0, at }));
  const fallbacks = new Map<string, { piece: string; weighs: number }>();
  /** What stands in for a value: made and weighed once for each place and language. */
  const fallbackOf = (words: string, at: number, language: string) => {
    const key = `${at} ${language}`;
    let known = fallbacks.get(key);
    if (!known) {
      const piece = beginsSentence(nodes, at) ? capital(words, language) : words;
      fallbacks.set(key, (known = { piece, weighs: weightOf(piece) }));
    }
    return known;
  };
  const fields = [...new Set(nodes.flatMap((node) => (node.kind === 'field' ? [node.name] : [])))];
  return {
    problems,
    fields,
    links: [...new Set(nodes.flatMap((node) => (node.kind === 'link' ? [node.name] : [])))],
    dated: fields.includes('send_date') || fields.includes(REPLY_UNTIL),
    render(values, language) {
      let text = '';
      let weight = 0;
      let last = '';
      let fell = NONE;
      let missing = NONE;
      for (const { node, words, at } of pieces) {
        if (text.length > MOST_WRITTEN) break;
        let piece: string | undefined;
        let weighs = words;
        if (node.kind === 'words') piece = node.text;
        else if (node.kind === 'link') {
          piece = values(`link ${node.name}`) ?? '';
          weighs = weightOf(piece);
        } else {
          piece = fieldValue(node, values(node.name), language);
          if (piece !== undefined) weighs = weightOf(piece);
          else if (node.fallback !== undefined) {
            ({ piece, weighs } = fallbackOf(node.fallback, at, language));
            fell = [...fell, node.name];
          } else {
            missing = [...missing, node.name];
            continue;
          }
        }
        text += piece;
        weight += weighs;
        if (piece !== '') last = piece;
      }
      return { text, weight, openEnd: last.trimEnd().length !== last.length || last === '', fell, missing };
    },
  };
}

/** The end of a sentence, of a line, or what opens one in Spanish; after a single letter a stop ends a short form (7 a.m.). */
const SENTENCE_ENDS = /(?:(?:(?<=[\p{L}\p{N}”"’)]{2})\.|[!?…])["”’)]?\s+|\n\s*|[¿¡]\s*)$/u;

/** Whether a placeholder stands where a sentence begins: first of all, or after the end of another. */
function beginsSentence(nodes: readonly Node[], at: number): boolean {
  if (at === 0) return true;
  const before = nodes[at - 1];
  if (before.kind !== 'words') return false;
  return (at === 1 && before.text.trim() === '') || SENTENCE_ENDS.test(before.text);
}

/**
 * Words that stand in for what is missing, with the capital that a sentence begins with; one that is written with capitals of its own stays
 * as it is, and so does one whose capital alone would need extended characters, and so more parts.
 */
function capital(words: string, language: string): string {
  const [first = ''] = words;
  const large = first.toLocaleUpperCase(language);
  if (/\p{Lu}/u.test(words) || (measure(first).alphabet === 'gsm7' && measure(large).alphabet !== 'gsm7')) return words;
  return large + words.slice(first.length);
}

/** Nearly every value is written as it is: without control characters but line feeds, and short. */
function travels(value: string): boolean {
  if (value.length > MOST_WRITTEN) return false;
  for (let i = 0; i < value.length; i += 1) {
    const unit = value.charCodeAt(i);
    if ((unit < 0x20 && unit !== 0x0a) || unit === 0x7f) return false;
  }
  return true;
}
