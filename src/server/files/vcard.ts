import ICAL from 'ical.js';
import { cardLines, type CardLine } from './card-lines';
import { guessEncoding, textOf } from './charset';
import { NO_ROWS, RowBatches, UnreadableFile, type Encoding, type NumberedRow, type OpenTable } from './table';

/** The columns a card becomes; headings that the bench matches by itself. */
export const CARD_HEADINGS = [
  'Given name',
  'Family name',
  'Mobile',
  'Other numbers',
  'Organization',
  'Born',
  'Language',
  'Time zone',
  'Tags',
  'Note',
];

const LONGEST_CARD = 4 << 20;

/**
 * vCard 2.1, 3.0 (RFC 2426) and 4.0 (RFC 6350), card by card: one broken card does not spoil the file. The text number
 * is the one marked as a cell, else the preferred, else the first.
 */
export async function openVcard(path: string, encoding?: Encoding): Promise<OpenTable> {
  const read = encoding ?? (await guessEncoding(path));
  const notes: string[] = [];
  return {
    format: 'vcard',
    encoding: read,
    delimiter: undefined,
    sheets: [],
    sheet: undefined,
    notes,
    rows: () => rowsOf(textOf(path, read), notes),
  };
}

async function* rowsOf(source: AsyncIterable<string>, notes: string[]): AsyncGenerator<NumberedRow[]> {
  const batches = new RowBatches();
  batches.add(0, CARD_HEADINGS);
  let no = 0;
  let broken = 0;
  let split = 0;
  let card: string[] | undefined;
  let length = 0;
  let rest = '';
  const finish = (whole: boolean): NumberedRow[] | undefined => {
    no += 1;
    const lines = card ?? [];
    card = undefined;
    try {
      if (!whole) throw new Error('cut off');
      const read = cardOf(lines);
      if (read.split) split += 1;
      return batches.add(no, read.cells);
    } catch {
      broken += 1;
      const first = lines.find((line) => /^(FN|N)[:;]/i.test(line))?.replace(/^[^:]*:/, '') ?? '';
      return batches.add(no, ['', '', '', '', '', '', '', '', '', `card ${no} cannot be read: ${first.slice(0, 80)}`]);
    }
  };
  const line = (text: string): NumberedRow[] | undefined => {
    if (/^BEGIN:VCARD\s*$/i.test(text)) {
      // a card that begins within another was cut off
      const before = card ? finish(false) : undefined;
      card = [];
      length = 0;
      return before;
    }
    if (/^END:VCARD\s*$/i.test(text)) return card ? finish(true) : undefined;
    length += text.length;
    if (length > LONGEST_CARD) throw new UnreadableFile(`Card ${no + 1} does not end.`, `card ${no + 1}`);
    card?.push(text);
    return undefined;
  };
  for await (const piece of source) {
    const lines = (rest + piece).split('\n');
    rest = lines.pop() ?? '';
    if (rest.length > LONGEST_CARD) throw new UnreadableFile(`Card ${no + 1} does not end.`, `card ${no + 1}`);
    for (const each of lines) {
      const full = line(each);
      if (full) yield full;
    }
  }
  const full = line(rest);
  if (full) yield full;
  if (card) finish(false);
  const left = batches.take();
  notes.push(...batches.remarks());
  if (no === 0) throw new UnreadableFile(NO_ROWS);
  if (left.length > 0) yield left;
  if (broken > 0)
    notes.push(
      `${broken === 1 ? 'One card' : `${broken} cards`} could not be read and ${broken === 1 ? 'is' : 'are'} among the rejected rows.`,
    );
  if (split > 0)
    notes.push(
      `${split === 1 ? 'One name' : `${split} names`} stood only as a whole; the last word was taken as the family name.`,
    );
}

type Property = { name: string; parameters: Record<string, string>; value: string | string[] };

function cardOf(lines: readonly string[]): { cells: string[]; split: boolean } {
  const properties = propertiesOf(lines);
  const first = (name: string) => properties.find((each) => each.name === name);
  const text = (name: string) => [first(name)?.value ?? ''].flat().join(' ').trim();
  const name = [first('n')?.value ?? []].flat();
  let [family = '', given = ''] = name;
  let split = false;
  if (family.trim() === '' && given.trim() === '') {
    const whole = text('fn').split(/\s+/).filter(Boolean);
    split = whole.length > 1;
    family = whole.length > 1 ? (whole.pop() ?? '') : '';
    given = whole.join(' ');
  }
  const phones = properties
    .filter((each) => each.name === 'tel')
    .map((each) => ({
      number: numberOf([each.value].flat().join('')),
      cell: /\b(cell|mobile|text|iphone)\b/i.test(each.parameters.type ?? ''),
      fax: /\b(fax|pager)\b/i.test(each.parameters.type ?? ''),
      preferred: each.parameters.pref !== undefined || /\bpref\b/i.test(each.parameters.type ?? ''),
    }))
    .filter((each) => each.number.trim() !== '');
  // a fax or a pager takes no texts, also when there is nothing else
  const chosen =
    phones.find((each) => each.cell) ?? phones.find((each) => each.preferred && !each.fax) ?? phones.find((each) => !each.fax);
  return {
    split,
    cells: [
      given.trim(),
      family.trim(),
      chosen?.number ?? '',
      phones
        .filter((each) => each !== chosen)
        .map((each) => each.number)
        .join(' / '),
      [first('org')?.value ?? ''].flat().filter(Boolean).join(', '),
      text('bday')
        .replace(/^(\d{4})(\d{2})(\d{2})$/, '$1-$2-$3')
        .replace(/T.*$/, ''),
      text('lang'),
      text('tz'),
      properties
        .filter((each) => each.name === 'categories')
        .flatMap((each) => each.value)
        .join(', '),
      text('note'),
    ],
  };
}

/** A number, also as a `tel:` URI; its extension (RFC 3966 §5.3) is kept, since the number alone is a switchboard. */
function numberOf(value: string): string {
  const [number, ...parameters] = value.replace(/^tel:/i, '').split(';');
  const extension = parameters.find((each) => /^ext=/i.test(each))?.slice(4);
  return decodeURIComponentSafe(number) + (extension ? ` ext. ${extension}` : '');
}

function decodeURIComponentSafe(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** Properties of one card: version 2.1's quoted-printable and bare types first, then the library's own reading. */
function propertiesOf(lines: readonly string[]): Property[] {
  const source = ['BEGIN:VCARD', ...cardLines(lines).map(modern), 'END:VCARD'].join('\r\n');
  const parsed = ICAL.parse(source) as unknown as [string, [string, Record<string, string | string[]>, string, ...unknown[]][]];
  return parsed[1].map(([name, parameters, , ...values]) => ({
    // grouped properties are written item1.TEL
    name: name.replace(/^[^.]+\./, '').toLowerCase(),
    parameters: Object.fromEntries(
      Object.entries(parameters).map(([key, value]) => [key.toLowerCase(), [value].flat().join(' ')]),
    ),
    value: values.flat(2).map((value) => (typeof value === 'string' ? value : String(value ?? ''))),
  }));
}

/** A property in today's writing: what was quoted-printable is plain, and a bare parameter is a type. */
function modern({ head, value }: CardLine): string {
  const [name, ...parameters] = head.split(';');
  let charset = 'utf-8';
  let quoted = false;
  const kept: string[] = [];
  for (const parameter of parameters) {
    const [key, setting] = parameter.split('=', 2);
    if (/^charset$/i.test(key)) charset = setting ?? charset;
    else if (/^quoted-printable$/i.test(setting ?? key)) quoted = true;
    else if (setting === undefined) kept.push(`TYPE=${key}`);
    else kept.push(parameter);
  }
  const plain = quoted ? quotedPrintable(value, charset).replace(/\r?\n/g, '\\n') : value;
  return `${[name, ...kept].join(';')}:${plain}`;
}

/** Quoted-printable (RFC 2045 §6.7) in a named character set. */
function quotedPrintable(text: string, charset: string): string {
  const bytes = Buffer.from(
    text
      .replace(/[^\x00-\x7f]+/g, (letters) =>
        [...Buffer.from(letters, 'utf8')].map((byte) => `=${byte.toString(16).padStart(2, '0')}`).join(''),
      )
      .replace(/=([0-9A-Fa-f]{2})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16))),
    'latin1',
  );
  try {
    return new TextDecoder(charset).decode(bytes);
  } catch {
    return new TextDecoder().decode(bytes);
  }
}
