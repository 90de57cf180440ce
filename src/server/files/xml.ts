import { SaxesParser } from 'saxes';
import { UnreadableFile } from './table';

export interface XmlEvents {
  open(name: string, attributes: Record<string, string>): void;
  close(name: string): void;
  text(text: string): void;
}

/** Elements within one another; workbooks have about ten. */
const DEEPEST = 100;

/** Local names only: workbooks differ in the prefixes they use. */
const local = (name: string) => {
  const at = name.indexOf(':');
  return at < 0 ? name : name.slice(at + 1);
};

/** Most elements have no prefixed attribute; those are passed on as they are, since a sheet has a million of them. */
function localNames(attributes: Record<string, string>): Record<string, string> {
  for (const name in attributes)
    if (name.includes(':')) return Object.fromEntries(Object.entries(attributes).map(([each, value]) => [local(each), value]));
  return attributes;
}

/**
 * Goes over a stream of XML and calls `events` with local names; after each piece of input whatever `drain` returns is
 * passed on. Entities are those of XML itself: a document type that declares others is refused by being malformed.
 */
export async function* readXml<T>(source: AsyncIterable<Buffer>, events: XmlEvents, drain: () => T[]): AsyncGenerator<T> {
  const parser = new SaxesParser({ position: false });
  let wrong: Error | undefined;
  parser.on('error', (error) => (wrong ??= error));
  let depth = 0;
  parser.on('opentag', (tag) => {
    depth += 1;
    // a parser keeps every open element: of a hundred thousand within one another it would never come to an end
    if (depth > DEEPEST) throw new UnreadableFile('The workbook is damaged: its parts are nested without end.');
    events.open(local(tag.name), localNames(tag.attributes as Record<string, string>));
  });
  parser.on('closetag', (tag) => {
    depth -= 1;
    events.close(local(tag.name));
  });
  parser.on('text', (text) => events.text(text));
  parser.on('cdata', (text) => events.text(text));
  parser.on('doctype', () => (wrong ??= new Error('a document type')));
  const decoder = new TextDecoder();
  for await (const chunk of source) {
    parser.write(decoder.decode(chunk, { stream: true }));
    if (wrong) throw damaged();
    for (const each of drain()) yield each;
  }
  parser.write(decoder.decode());
  parser.close();
  if (wrong) throw damaged();
  for (const each of drain()) yield each;
}

/** The same to the end, for small parts. */
export async function readAllXml(source: AsyncIterable<Buffer>, events: XmlEvents): Promise<void> {
  for await (const nothing of readXml(source, events, () => [])) void nothing;
}

function damaged(): UnreadableFile {
  return new UnreadableFile('The workbook is damaged: a part of it is not readable. Save it again and choose it.');
}
