/** A token in an address that answers come to: `reply+token@…`; letters and figures that are not taken for each other. */
const TOKEN = '[0-9A-Za-z_-]{12,32}';

/** The mail that an answer belongs to: by the address it was sent to, else by what it refers to (RFC 5322 §3.6.4). */
export function tokenOf(recipients: readonly string[], references: readonly string[]): string | undefined {
  for (const address of recipients) {
    const match = new RegExp(`\\+(${TOKEN})@`).exec(address);
    if (match) return match[1];
  }
  for (const id of [...references].reverse()) {
    const match = new RegExp(`^<?passed\\.(${TOKEN})@`).exec(id.trim());
    if (match) return match[1];
  }
  return undefined;
}

/**
 * Whether no person wrote a mail: automatic answers say so (RFC 3834 §5), lists and bulk by header (RFC 2919, RFC 2076), and what
 * reports a failure comes from nobody (RFC 5321 §4.5.5, RFC 3464). Headers by their name in small letters.
 */
export function mailByItself(from: string, headers: ReadonlyMap<string, string>): 'failed' | 'automatic' | undefined {
  const of = (name: string) => (headers.get(name) ?? '').trim().toLowerCase();
  if (from === '' || /^(?:mailer-daemon|postmaster)@/i.test(from) || of('content-type').startsWith('multipart/report'))
    return 'failed';
  const submitted = of('auto-submitted');
  if (submitted !== '' && !submitted.startsWith('no')) return 'automatic';
  if (/^(?:bulk|list|junk|auto_reply)$/.test(of('precedence'))) return 'automatic';
  if (headers.has('list-id') || headers.has('x-autoreply') || headers.has('x-autorespond')) return 'automatic';
  return undefined;
}

/** The line that mail programs write over what they quote, in the languages offered; from memory of common practice. */
const OVER =
  /^(?:on\b.{3,120}\bwrote\s*:|le\b.{3,120}\ba [ée]crit\s*:|el\b.{3,120}\bescribi[óo]\s*:|-{2,}\s*(?:original message|message d.origine|mensaje original|forwarded message)\s*-{2,}|from\s*:\s.+|de\s*:\s.+@.+)$/i;
const SIGNATURE = /^(?:--\s?|__+|sent from my .*|envoy[ée] de mon .*|enviado desde mi .*|get outlook for .*)$/i;

/** So much of a mail is read, characters; no answer that fits a text is longer. */
const MOST_READ = 64_000;

/**
 * The words of an answer without what it quotes and without its signature: up to the line over a quotation, or to the first quoted
 * line after which nothing of one's own comes. What is answered between quoted lines is kept, without the lines.
 */
export function withoutQuoted(text: string): string {
  const lines = text.slice(0, MOST_READ).replace(/\r\n?/g, '\n').split('\n');
  let end = lines.length;
  for (const [i, line] of lines.entries()) {
    // the line over a quotation is often broken in two
    const over =
      OVER.test(line.trim()) ||
      (/^(?:on|le|el)\b/i.test(line.trim()) && OVER.test(`${line.trim()} ${(lines[i + 1] ?? '').trim()}`));
    if (SIGNATURE.test(line.trim()) || (over && quotes(line, lines.slice(i + 1)))) {
      end = i;
      break;
    }
  }
  return lines
    .slice(0, end)
    .filter((line) => !line.startsWith('>') && !OVER.test(line.trim()))
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
}

/** Whether what follows such a line is a quotation, with nothing of one's own after it. */
function quotes(line: string, after: readonly string[]): boolean {
  const rest = after.filter((next) => next.trim() !== '');
  const begins =
    rest.length === 0 || rest.some((next) => next.startsWith('>')) || /^(?:-{2,}|from\s*:|de\s*:)/i.test(line.trim());
  return begins && !answersBetween(after);
}

/** Something of one's own after quoted lines: it was answered point by point. */
function answersBetween(lines: readonly string[]): boolean {
  const first = lines.findIndex((line) => line.startsWith('>'));
  if (first < 0) return false;
  return lines.slice(first).some((line) => line.trim() !== '' && !line.startsWith('>') && !SIGNATURE.test(line.trim()));
}

/** An address that can stand in an envelope and in a header: one, without line ends, spaces or signs that begin another (RFC 5321 §4.1.2). */
export function isMailAddress(address: string): boolean {
  return (
    address.length <= 254 &&
    /^[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[A-Za-z0-9](?:[A-Za-z0-9-]*[A-Za-z0-9])?(?:\.[A-Za-z0-9](?:[A-Za-z0-9-]*[A-Za-z0-9])?)+$/.test(
      address,
    )
  );
}
