import { parseText, type FieldNode, type Node } from '../merge/syntax';

/** Words to be translated, and what there is of the translation. */
export interface Translatable {
  /** Of the file: what it belongs to, e.g. `broadcast-32`. */
  id: string;
  /** Its name, for the translator. */
  name: string;
  /** ISO 639-1. */
  from: string;
  to: string;
  source: string;
  target?: string;
  /** A placeholder's name in words, by its slug. */
  say?: (slug: string) => string;
}

/** A stretch of a text that is translated as one: its nodes, with placeholders numbered as they stand in the source. */
export interface Placeholder {
  id: string;
  /** As it stands in the text. */
  data: string;
  name: string;
  fallback: string | undefined;
}

const escapes: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', '\r': '&#13;' };
/** Characters that XML 1.0 knows no way to write (§2.2) do not travel in a text either. */
const xml = (text: string) =>
  text
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .replace(/[&<>"\r]/g, (character) => escapes[character]);

/** Placeholders of a text, each once, in their order; the same one twice is one piece of data. */
export function placeholdersOf(source: string): Placeholder[] {
  const found = new Map<string, Placeholder>();
  for (const node of parseText(source).nodes) {
    if (node.kind === 'words') continue;
    const data = source.slice(node.from, node.to);
    if (!found.has(data))
      found.set(data, {
        id: `d${found.size + 1}`,
        data,
        name: node.kind === 'link' ? `link ${node.name}` : node.name,
        fallback: node.kind === 'field' ? node.fallback : undefined,
      });
  }
  return [...found.values()];
}

/** The key of a placeholder whatever its fallback words are: those are translated, it is not. */
export const bareOf = (node: Exclude<Node, { kind: 'words' }>): string =>
  node.kind === 'link'
    ? `link ${node.name}`
    : JSON.stringify([node.name, node.move ?? null, node.pattern ?? null, (node as FieldNode).fallback !== undefined]);

function inline(text: string, placeholders: readonly Placeholder[], say: (slug: string) => string, prefix: string): string {
  const byBare = new Map<string, Placeholder>();
  for (const each of placeholders) {
    const [node] = parseText(each.data).nodes;
    if (node && node.kind !== 'words') byBare.set(bareOf(node), each);
  }
  let n = 0;
  return parseText(text)
    .nodes.map((node) => {
      if (node.kind === 'words') return xml(node.text);
      const of = byBare.get(bareOf(node));
      if (!of) return xml(text.slice(node.from, node.to));
      n += 1;
      return `<ph id="${prefix}${n}" dataRef="${of.id}" canCopy="no" canDelete="no" disp="${xml(say(of.name))}"/>`;
    })
    .join('');
}

/**
 * XLIFF 2.0 (OASIS, core module): the words are one unit with their placeholders as protected codes (§4.7.2) whose data stand
 * beside them, and each placeholder's fallback words a unit of their own, since they are words, too.
 */
export function writeXliff(text: Translatable): string {
  const say = text.say ?? ((slug) => slug.replaceAll('_', ' '));
  const placeholders = placeholdersOf(text.source);
  const fallbacks = placeholders.filter(({ fallback }) => fallback !== undefined && fallback !== '');
  const targets = new Map<string, string>();
  for (const node of parseText(text.target ?? '').nodes)
    if (node.kind === 'field' && node.fallback !== undefined) targets.set(bareOf(node), node.fallback);
  const state = (done: boolean) => (done ? ' state="translated"' : ' state="initial"');
  const segment = (source: string, target: string | undefined) =>
    `      <segment${state(target !== undefined)}>\n        <source xml:space="preserve">${source}</source>\n${
      target === undefined ? '' : `        <target xml:space="preserve">${target}</target>\n`
    }      </segment>\n`;
  const done = text.target !== undefined && text.target.trim() !== '';
  const units = [
    `    <unit id="words">\n      <notes>\n        <note>${xml(text.name || 'no name')}</note>\n      </notes>\n${
      placeholders.length === 0
        ? ''
        : `      <originalData>\n${placeholders.map(({ id, data }) => `        <data id="${id}">${xml(data)}</data>`).join('\n')}\n      </originalData>\n`
    }${segment(
      inline(text.source, placeholders, say, 'p'),
      done ? inline(text.target ?? '', placeholders, say, 'p') : undefined,
    )}    </unit>`,
    ...fallbacks.map(({ id, name, fallback = '', data }) => {
      const [node] = parseText(data).nodes;
      const target = node && node.kind !== 'words' ? targets.get(bareOf(node)) : undefined;
      return `    <unit id="fallback-${id}">\n      <notes>\n        <note>${xml(`instead of ${say(name)}, where it is not known`)}</note>\n      </notes>\n${segment(xml(fallback), target === undefined ? undefined : xml(target))}    </unit>`;
    }),
  ];
  return `<?xml version="1.0" encoding="UTF-8"?>
<xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.0" srcLang="${text.from}" trgLang="${text.to}">
  <file id="${xml(text.id)}">
${units.join('\n')}
  </file>
</xliff>
`;
}
