/** A property of a card: its name with its parameters, and its value, each as written. */
export interface CardLine {
  head: string;
  value: string;
}

/** What a row is made of; pictures, keys and sounds are of megabytes, and nobody looks at them. */
const READ = new Set(['version', 'n', 'fn', 'tel', 'org', 'bday', 'lang', 'tz', 'categories', 'note']);
/** More than any program writes of each; what goes beyond is no card. */
const LONGEST_HEAD = 2000;
const MOST_READ = 1000;
/** So much of a value is read, characters as written: six of them may be one of a cell, which holds 32,767. */
const LONGEST_VALUE = 200_000;

/**
 * The properties of a card that a row is made of, unfolded (RFC 6350 §3.2, and the soft line breaks of RFC 2045 §6.7 in version 2.1).
 * Each line is looked at once, however long or many they are. What stands within another component (BEGIN:X … END:X) is that one's.
 *
 * @throws Error when it is no card that any program wrote
 */
export function cardLines(lines: readonly string[]): CardLine[] {
  const found: CardLine[] = [];
  let depth = 0;
  let head = '';
  /** Undefined while the name and its parameters have not ended. */
  let value: string[] | undefined;
  let length = 0;
  const end = () => {
    const name = /^(?:[^.;]*\.)?([^.;]*)/.exec(head)?.[1].toLowerCase() ?? '';
    const whole = value?.join('') ?? '';
    if (name === 'begin') depth += 1;
    else if (name === 'end') depth -= 1;
    else if (depth === 0 && value && READ.has(name)) found.push({ head, value: whole });
    if (!value || depth < 0 || found.length > MOST_READ) throw new Error('no card');
    [head, value, length] = ['', undefined, 0];
  };
  const add = (text: string) => {
    if (value === undefined) {
      const colon = text.indexOf(':');
      head += colon < 0 ? text : text.slice(0, colon);
      if (head.length > LONGEST_HEAD) throw new Error('no card');
      if (colon < 0) return;
      value = [];
      text = text.slice(colon + 1);
    }
    if (length < LONGEST_VALUE) value.push(text.slice(0, LONGEST_VALUE - length));
    length += text.length;
  };
  let soft = false;
  for (const line of lines) {
    if (line === '' && !soft) continue;
    if (!soft && /^[ \t]/.test(line)) add(line.slice(1));
    else {
      if (!soft && head !== '') end();
      soft = softly(line, soft || /;(?:ENCODING=)?QUOTED-PRINTABLE/i.test(line.slice(0, LONGEST_HEAD).split(':')[0]));
      add(soft ? line.slice(0, -1) : line);
    }
  }
  if (head !== '') end();
  if (depth !== 0) throw new Error('no card');
  return found;
}

/** A line of quoted-printable that goes on in the next. */
const softly = (line: string, quoted: boolean) => quoted && line.endsWith('=');
