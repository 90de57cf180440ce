import { SaxesParser } from 'saxes';
import { fieldSource, parseText } from '../merge/syntax';
import { placeholdersOf, type Placeholder } from './write';

const NAMESPACE = 'urn:oasis:names:tc:xliff:document:2.0';
const DEEPEST = 20;
/** Attributes of one tag; those of ours have a handful. */
const MOST_ATTRIBUTES = 60;

/** What is wrong with a file of a translator, and where. */
export class XliffProblem extends Error {
  constructor(
    message: string,
    readonly place: string,
  ) {
    super(message);
    this.name = 'XliffProblem';
  }
}

/** Words, or a placeholder by the id of its data. */
type Piece = string | { data: string };
interface Unit {
  source: Piece[];
  target: Piece[] | undefined;
}
export interface ReadXliff {
  from: string;
  to: string | undefined;
  file: string;
  units: Map<string, Unit>;
}

/**
 * The units of an XLIFF 2.0 file. Only its core is read; extensions are passed over (§4.8).
 * @throws XliffProblem for what is no XLIFF 2, is damaged, or declares a document type (entities of its own: a bomb)
 */
export function parseXliff(text: string): ReadXliff {
  const parser = new SaxesParser({ xmlns: true });
  const read: ReadXliff = { from: '', to: undefined, file: '', units: new Map() };
  let depth = 0;
  let attributes = 0;
  let unit: Unit | undefined;
  let into: Piece[] | undefined;
  let root = false;
  // thrown out of the parser, so that nothing after it is looked at: what is nested without end costs more with every tag
  const fail = (message: string, place: string): never => {
    throw new XliffProblem(message, place);
  };
  parser.on('error', (error) =>
    fail('The file is damaged: it is no well-formed XML.', /^(\d+:\d+)/.exec(error.message)?.[1] ?? 'file'),
  );
  parser.on('doctype', () => fail('The file declares a document type, which a translation never does.', 'file'));
  parser.on('opentag', (tag) => {
    depth += 1;
    if (depth > DEEPEST) fail('The file is damaged: its parts are nested without end.', `${parser.line}:${parser.column}`);
    if (tag.uri !== NAMESPACE) {
      if (depth === 1) fail('This is no XLIFF 2.0 file.', 'xliff');
      return;
    }
    const of = (name: string) => tag.attributes[name]?.value;
    switch (tag.local) {
      case 'xliff':
        root = true;
        if (!/^2\.\d$/.test(of('version') ?? ''))
          fail(`XLIFF of version ${of('version') ?? 'unknown'} cannot be read; 2.0 can.`, 'xliff');
        read.from = of('srcLang') ?? '';
        read.to = of('trgLang');
        break;
      case 'file':
        read.file ||= of('id') ?? '';
        break;
      case 'unit':
        unit = { source: [], target: undefined };
        read.units.set(of('id') ?? '', unit);
        break;
      case 'source':
        into = unit?.source;
        break;
      case 'target':
        if (unit) into = unit.target ??= [];
        break;
      case 'ph':
        into?.push({ data: of('dataRef') ?? '' });
        break;
      case 'pc':
      case 'sc':
      case 'ec':
        if (into) fail(`“${tag.local}” is a code that these words do not have.`, 'target');
    }
  });
  parser.on('closetag', (tag) => {
    depth -= 1;
    if (tag.uri === NAMESPACE && (tag.local === 'source' || tag.local === 'target')) into = undefined;
    if (tag.uri === NAMESPACE && tag.local === 'unit') unit = undefined;
  });
  const words = (said: string) => into?.push(said);
  parser.on('text', words);
  parser.on('cdata', words);
  parser.on('attribute', () => {
    attributes += 1;
    if (attributes > MOST_ATTRIBUTES)
      fail('The file is damaged: a part has more to it than any.', `${parser.line}:${parser.column}`);
  });
  parser.on('opentagstart', () => (attributes = 0));
  parser.write(text).close();
  if (!root) throw new XliffProblem('This is no XLIFF 2.0 file.', 'xliff');
  return read;
}

const shown = (data: string) => `{${data.replace(/^\{|\}$/g, '')}}`;

/**
 * The translation in a file, as words of ours. Every placeholder of the source has to be in it, as often, and no other.
 * @param expected id of the file that was given out, its words, and the language it is to be in
 * @throws XliffProblem with the place of what is wrong
 */
export function readTranslation(xml: string, expected: { id: string; source: string; to: string }): string | undefined {
  const read = parseXliff(xml);
  if (read.file !== expected.id) throw new XliffProblem('This file belongs to other words.', 'file');
  if (read.to !== undefined && read.to !== expected.to)
    throw new XliffProblem(`This file is in “${read.to}”, not in “${expected.to}”.`, 'trgLang');
  const unit = read.units.get('words');
  if (!unit) throw new XliffProblem('There are no words in this file.', 'unit words');
  const placeholders = placeholdersOf(expected.source);
  if (join(unit.source, placeholders, undefined) !== plainOf(expected.source))
    throw new XliffProblem('It translates other words: those of this broadcast have been changed since.', 'source');
  if (!unit.target || unit.target.every((piece) => typeof piece === 'string' && piece.trim() === '')) return undefined;
  refuseChanged(unit, placeholders);
  const fallbacks = new Map<string, string>();
  for (const { id, name, fallback } of placeholders) {
    if (!fallback) continue;
    const said = read.units
      .get(`fallback-${id}`)
      ?.target?.map((piece) => (typeof piece === 'string' ? piece : ''))
      .join('')
      .trim();
    if (said && /["{}\n]/.test(said))
      throw new XliffProblem(`The words instead of “${name}” cannot hold quotes, braces or line ends.`, `unit fallback-${id}`);
    if (said) fallbacks.set(id, said);
  }
  return join(unit.target, placeholders, fallbacks);
}

function refuseChanged(unit: Unit, placeholders: readonly Placeholder[]): void {
  const counted = (pieces: readonly Piece[]) => {
    const counts = new Map<string, number>();
    for (const piece of pieces) if (typeof piece !== 'string') counts.set(piece.data, (counts.get(piece.data) ?? 0) + 1);
    return counts;
  };
  const wanted = counted(unit.source);
  const got = counted(unit.target ?? []);
  for (const [id, n] of wanted) {
    const of = placeholders.find((each) => each.id === id);
    const has = got.get(id) ?? 0;
    if (has !== n)
      throw new XliffProblem(
        `${shown(of?.data ?? id)} ${has < n ? 'is missing in' : 'stands too often in'} the translation.`,
        `unit words, target, ${id}`,
      );
  }
  for (const id of got.keys())
    if (!wanted.has(id))
      throw new XliffProblem(
        `The translation has a placeholder “${id}” that the words do not have.`,
        `unit words, target, ${id}`,
      );
}

/** Pieces as words of ours: literal braces doubled, placeholders as they were, with their own fallback words where there are some. */
function join(
  pieces: readonly Piece[],
  placeholders: readonly Placeholder[],
  fallbacks: ReadonlyMap<string, string> | undefined,
): string {
  return pieces
    .map((piece) => {
      if (typeof piece === 'string') return piece.replaceAll('{', '{{');
      const of = placeholders.find(({ id }) => id === piece.data);
      if (!of) return `{{${piece.data}}`;
      const said = fallbacks?.get(of.id);
      const [node] = parseText(of.data).nodes;
      return said === undefined || node?.kind !== 'field' ? of.data : fieldSource({ ...node, fallback: said });
    })
    .join('');
}

/** A text as its pieces give it back. */
const plainOf = (source: string) =>
  parseText(source)
    .nodes.map((node) => (node.kind === 'words' ? node.text.replaceAll('{', '{{') : source.slice(node.from, node.to)))
    .join('');
