/** What a card says of a person. */
export interface CardPerson {
  given_name: string;
  family_name: string;
  number: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  born: string | null;
  tags: readonly string[];
}

/** People as vCards, version 4.0 (RFC 6350): text escaped by §3.4, lines folded by §3.2. */
export function writeVcards(people: readonly CardPerson[]): string {
  return people.map(card).join('');
}

function card(p: CardPerson): string {
  const whole = `${p.given_name} ${p.family_name}`.trim() || (p.number ?? 'no name');
  const lines = [
    'BEGIN:VCARD',
    'VERSION:4.0',
    `FN:${escaped(whole)}`,
    `N:${escaped(p.family_name)};${escaped(p.given_name)};;;`,
    ...(p.number ? [`TEL;VALUE=uri;TYPE=cell:tel:${p.number}`] : []),
    ...(p.language ? [`LANG:${escaped(p.language)}`] : []),
    ...(p.zone && !p.zone_guessed ? [`TZ:${escaped(p.zone)}`] : []),
    ...(p.born ? [`BDAY:${p.born.replaceAll('-', '')}`] : []),
    ...(p.tags.length > 0 ? [`CATEGORIES:${p.tags.map(escaped).join(',')}`] : []),
    'END:VCARD',
  ];
  return lines.map((line) => `${folded(line)}\r\n`).join('');
}

function escaped(text: string): string {
  return text.replace(/[\\;,]/g, (c) => `\\${c}`).replace(/\r\n?|\n/g, '\\n');
}

/** At most 75 octets a line, never within a character. */
function folded(line: string): string {
  let out = '';
  let octets = 0;
  for (const character of line) {
    const size = Buffer.byteLength(character);
    if (octets + size > 75) {
      out += '\r\n ';
      octets = 1;
    }
    out += character;
    octets += size;
  }
  return out;
}
