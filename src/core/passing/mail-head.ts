/** The headers of a mail, by their name in small letters, unfolded (RFC 5322 §2.2); of one that stands twice, the later. */
export interface MailHead {
  headers: ReadonlyMap<string, string>;
  /** What it refers to and what it answers (§3.6.4), in this order. */
  references: readonly string[];
}

/** Headers longer than this are nobody's who answers, octets. */
export const LONGEST_HEAD = 64_000;
/** References that are looked at: the last ones name what is answered. */
const MOST_REFERENCES = 50;

/** Where the headers end in what has come so far: behind the empty line; undefined while it has not come. */
export function endOfHead(text: string): number | undefined {
  if (/^\r?\n/.test(text)) return 0;
  const found = /\r?\n\r?\n/.exec(text);
  return found ? found.index + found[0].length : undefined;
}

/** Reads the headers alone, whatever the mail goes on to hold. @param text its octets as Latin-1 */
export function readHead(text: string): MailHead {
  const headers = new Map<string, string>();
  for (const line of text.replace(/\r?\n[ \t]+/g, ' ').split(/\r?\n/)) {
    const colon = line.indexOf(':');
    if (colon > 0) headers.set(line.slice(0, colon).trim().toLowerCase(), line.slice(colon + 1).trim());
  }
  const ids = (name: string) => (headers.get(name) ?? '').match(/<[^<>\s]{1,300}>/g) ?? [];
  return { headers, references: [...ids('references').slice(-MOST_REFERENCES), ...ids('in-reply-to').slice(0, 1)] };
}
