import { measure } from '../../text/measure';
import { oneLine } from '../../text/tidy';

/** The most characters of a code; more would be a text. */
export const LONGEST_CODE = 60;

/** So many are brought in at once; more are several files. */
export const MOST_CODES = 200_000;

/** Codes of a file or pasted: one a line, the first cell of each. */
export interface ReadCodes {
  codes: string[];
  /** Lines that name one again. */
  twice: number;
  blank: number;
  /** Lines that hold none, with why; the first hundred. */
  wrong: { line: number; why: string }[];
  /** The first line is a heading, as it stands there. */
  heading: string | undefined;
  /** It holds more than may be brought in at once; nothing after that was read. */
  more: boolean;
}

export function readCodes(text: string): ReadCodes {
  const seen = new Set<string>();
  const read: ReadCodes = { codes: [], twice: 0, blank: 0, wrong: [], heading: undefined, more: false };
  let i = -1;
  for (const line of linesOf(text)) {
    i += 1;
    const code = oneLine(firstCell(line));
    if (i === 0 && /^(the )?(one-time )?codes?$|^vouchers?$|^coupons?$/i.test(code)) {
      read.heading = code;
      continue;
    }
    if (code === '') read.blank += 1;
    else if (code.length > LONGEST_CODE) {
      if (read.wrong.length < 100) read.wrong.push({ line: i + 1, why: `longer than ${LONGEST_CODE} characters` });
    } else if (seen.has(code)) read.twice += 1;
    else if (seen.size >= MOST_CODES) {
      read.more = true;
      break;
    } else {
      seen.add(code);
      read.codes.push(code);
    }
  }
  // what ends the last line is no line of its own
  if (read.blank > 0 && /[\r\n]$/.test(text)) read.blank -= 1;
  return read;
}

/** One line after the other: of eight megabytes of line ends no list of four million is made. */
function* linesOf(text: string): Generator<string> {
  const ends = /\r\n|\r|\n/g;
  let from = 0;
  for (let end = ends.exec(text); end; end = ends.exec(text)) {
    yield text.slice(from, end.index);
    from = ends.lastIndex;
  }
  yield text.slice(from);
}

/** A cell may be quoted (RFC 4180); whatever follows it is another column. */
function firstCell(line: string): string {
  const quoted = /^\s*"((?:[^"]|"")*)"/.exec(line);
  return quoted ? quoted[1].replaceAll('""', '"') : line.split(/[,;\t]/)[0];
}

/** What stands for a code while none is reserved: of the same shape and length, so that it measures the same and is none. */
export function dummyCode(code: string): string {
  return code
    .replace(/\d/g, '0')
    .replace(/\p{Lu}/gu, plainOr('X'))
    .replace(/\p{Ll}/gu, plainOr('x'));
}

/** A letter that needs extended characters stands for itself: it is what costs. */
const plainOr = (stand: string) => (letter: string) => (measure(letter).alphabet === 'gsm7' ? stand : letter);

/** Of codes that may be given, the one that measures most. */
export function longestCode(codes: readonly string[]): string | undefined {
  let longest: string | undefined;
  let most = -1;
  for (const code of codes) {
    const { alphabet, units } = measure(code);
    const weight = (alphabet === 'ucs2' ? 1_000_000 : 0) + units;
    if (weight > most) [longest, most] = [code, weight];
  }
  return longest;
}

/** The codes of a plan: how many there are, what stands for one, and those that are reserved for it, in the order in which they are given. */
export interface PlanCodes {
  list: number;
  name: string;
  /** Those that this broadcast may have: free, or reserved for it. */
  free: number;
  dummy: string;
  reserved: readonly string[];
}
