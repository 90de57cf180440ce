import fc from 'fast-check';
import { SaxesParser } from 'saxes';
import { describe, expect, test } from 'vitest';
import { parseXliff, readTranslation, XliffProblem } from './read';
import { writeXliff } from './write';

const SOURCE =
  '{given_name or "neighbor"}: the Heron & Kittiwake are off {send_date + 1 days as "EEE, MMM d"}. {{1} {link timetable}\nOttermere <Ferry>';
const of = (part: object = {}) => ({ id: 'broadcast-32', name: 'Heron "off"', from: 'en', to: 'fr', source: SOURCE, ...part });
/** What a translator's program does: each target from its source, words changed, codes kept. */
const translated = (xml: string, say: (words: string) => string = (words) => words.toUpperCase()) =>
  xml
    .replace(/\n\s*<target[^>]*>[^]*?<\/target>/g, '')
    .replace(/(<source xml:space="preserve">([^]*?)<\/source>)/g, (_all, source: string, inner: string) => {
      const words = inner.replace(/(<[^>]*>)|(&\w+;)|([^<&]+)/g, (piece, tag?: string, entity?: string) =>
        tag !== undefined || entity !== undefined ? piece : say(piece),
      );
      return `${source}<target xml:space="preserve">${words}</target>`;
    })
    .replaceAll('state="initial"', 'state="translated"');
const read = (xml: string, part: object = {}) => readTranslation(xml, { id: 'broadcast-32', source: SOURCE, to: 'fr', ...part });

test('out, translated by a script, in, out again: equal; fallback words are translated, placeholders are not', () => {
  const words = read(translated(writeXliff(of())));
  expect(words).toBe(
    '{given_name or "NEIGHBOR"}: THE HERON & KITTIWAKE ARE OFF {send_date + 1 days as "EEE, MMM d"}. {{1} {link timetable}\nOTTERMERE <FERRY>',
  );
  const again = writeXliff(of({ target: words }));
  expect(read(again)).toBe(words);
  expect(writeXliff(of({ target: read(again) }))).toBe(again);
});

test('what is not translated yet is nothing, and stays so', () => {
  expect(read(writeXliff(of()))).toBeUndefined();
});

describe('a changed file is refused with its place', () => {
  const good = translated(writeXliff(of()));
  const cases: [string, string, RegExp, string][] = [
    [
      'a placeholder is missing',
      good.replace(/(<target[^]*?)<ph id="p2"[^>]*>/, '$1'),
      /^\{send_date \+ 1 days as "EEE, MMM d"\} is missing/,
      'unit words, target, d2',
    ],
    [
      'one stands twice',
      good.replace(/<target xml:space="preserve">(<ph [^>]*>)/, '<target xml:space="preserve">$1$1'),
      /stands too often/,
      'unit words, target, d1',
    ],
    ['one of another text', good.replace(/(<target[^]*?)dataRef="d1"/, '$1dataRef="d9"'), /is missing/, 'unit words, target, d1'],
    ['another text', good.replaceAll('Kittiwake', 'Cormorant'), /translates other words/, 'source'],
    ['another broadcast', good.replace('broadcast-32', 'broadcast-33'), /belongs to other words/, 'file'],
    ['another language', good.replace('trgLang="fr"', 'trgLang="es"'), /in “es”, not in “fr”/, 'trgLang'],
    ['an older version', good.replace('version="2.0"', 'version="1.2"'), /version 1\.2 cannot be read/, 'xliff'],
    ['no XLIFF', '<html xmlns="http://www.w3.org/1999/xhtml"></html>', /no XLIFF/, 'xliff'],
    ['cut off', good.slice(0, good.length / 2), /damaged/, ''],
    [
      'an entity of its own',
      good.replace('<xliff', '<!DOCTYPE xliff [<!ENTITY a "b">]><xliff'),
      /declares a document type/,
      'file',
    ],
    [
      'a bomb',
      `<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>${good.slice(good.indexOf('<xliff'))}`,
      /declares a document type/,
      'file',
    ],
    ['nested without end', good.replace('<unit ', `${'<group>'.repeat(99)}<unit `), /nested without end|damaged/, ''],
    ['braces in fallback words', good.replace('NEIGHBOR', '{x}'), /cannot hold quotes, braces/, 'unit fallback-d1'],
    ['empty', '', /damaged|no XLIFF/, ''],
  ];
  test.each(cases)('%s', (_says, xml, message, place) => {
    const found = (() => {
      try {
        read(xml);
      } catch (error) {
        return error;
      }
    })();
    expect(found).toBeInstanceOf(XliffProblem);
    expect((found as XliffProblem).message).toMatch(message);
    if (place !== '') expect((found as XliffProblem).place).toBe(place);
  });
});

test('whatever the words are, they come back as they were; whatever the file is, there is an answer or one clear refusal', () => {
  const piece = fc.oneof(
    fc.constantFrom(
      '{given_name}',
      '{given_name or "x"}',
      '{link a}',
      '{renewal_date as "d MMM"}',
      '{{',
      '\n',
      '&',
      '<b>',
      ']]>',
      '"',
      "'",
      'é',
      '\u200b',
      '👍',
      ' ',
    ),
    fc.string({ maxLength: 6 }).map((words) => words.replace(/[{}\r]/g, '').toWellFormed()),
  );
  fc.assert(
    fc.property(fc.array(piece, { minLength: 1, maxLength: 12 }), (pieces) => {
      const source = pieces.join('').replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '');
      fc.pre(source.trim() !== '');
      const xml = writeXliff(of({ source }));
      // §4.3: every reference leads to data of its unit, and ids are there once
      validate(xml);
      const target = readTranslation(
        translated(xml, (words) => words),
        { id: 'broadcast-32', source, to: 'fr' },
      );
      expect(
        target === undefined ? '' : readTranslation(writeXliff(of({ source, target })), { id: 'broadcast-32', source, to: 'fr' }),
      ).toBe(target ?? '');
    }),
  );
  fc.assert(
    fc.property(fc.string(), fc.nat(2000), (noise, at) => {
      const good = translated(writeXliff(of()));
      try {
        read(good.slice(0, at) + noise + good.slice(at));
      } catch (error) {
        expect(error).toBeInstanceOf(XliffProblem);
      }
    }),
  );
});

/**
 * Rules of the core schema and its constraints (XLIFF 2.0, §4.2, §4.3, §4.7; from memory, since the schema cannot be fetched here):
 * what is within what, in which order, and which attributes there must be.
 */
function validate(xml: string): void {
  const within: Record<string, string[]> = {
    '': ['xliff'],
    xliff: ['file'],
    file: ['unit'],
    unit: ['notes', 'originalData', 'segment'],
    notes: ['note'],
    originalData: ['data'],
    segment: ['source', 'target'],
    source: ['ph'],
    target: ['ph'],
    note: [],
    data: [],
    ph: [],
  };
  const needs: Record<string, string[]> = {
    xliff: ['xmlns', 'version', 'srcLang'],
    file: ['id'],
    unit: ['id'],
    data: ['id'],
    ph: ['id', 'dataRef'],
  };
  const stack: { name: string; last: number; ids: Set<string> }[] = [{ name: '', last: -1, ids: new Set() }];
  let data = new Set<string>();
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ name, attributes }) => {
    const parent = stack[stack.length - 1];
    const at = within[parent.name].indexOf(name);
    expect([parent.name, name, at]).toEqual([parent.name, name, Math.max(at, parent.last, 0)]);
    parent.last = at;
    for (const each of needs[name] ?? []) expect(Object.keys(attributes)).toContain(each);
    const id = (attributes as Record<string, string>).id;
    if (id !== undefined) {
      expect(parent.ids.has(id)).toBe(false);
      parent.ids.add(id);
      expect(id).toMatch(/^[^\s]+$/); // NMTOKEN
    }
    if (name === 'unit') data = new Set();
    if (name === 'data') data.add(id);
    if (name === 'ph') expect(data.has((attributes as Record<string, string>).dataRef)).toBe(true);
    stack.push({ name, last: -1, ids: new Set() });
  });
  parser.on('closetag', () => stack.pop());
  parser.write(xml).close();
}

test('the core schema’s rules hold for what is written', () => {
  validate(writeXliff(of()));
  validate(writeXliff(of({ target: 'Le Heron' })));
  expect(parseXliff(writeXliff(of()))).toMatchObject({ from: 'en', to: 'fr', file: 'broadcast-32' });
});

test('tags nested without end are given up where they are too deep, and a tag with attributes without end, too', () => {
  const place = (xml: string) => {
    try {
      parseXliff(xml);
    } catch (error) {
      return error instanceof XliffProblem ? error.place : error;
    }
    return undefined;
  };
  const root = '<xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.0" srcLang="en">';
  expect(place(root + '<a>'.repeat(300_000))).toBe(`1:${root.length + 3 * 20}`);
  const many = Array.from({ length: 100_000 }, (_, i) => `a${i}=""`).join(' ');
  expect(Number(String(place(`${root}<a ${many}>`)).slice(2))).toBeLessThan(root.length + 500);
});
