/**
 * What ties an answer by text to what was passed on: a mark after a cross, as no answer has it by chance ("5:20 is late" and
 * "3 boats" are words).
 */
export function readMark(text: string): { mark: number | undefined; words: string } {
  const match = /^\s*#\s?(\d{1,6})(?!\d)[\s:.,)\]-]*/.exec(text);
  return match ? { mark: Number(match[1]), words: text.slice(match[0].length).trim() } : { mark: undefined, words: text.trim() };
}

/** An answer may still come for so long; until then its mark is nobody else's, ms. */
export const MARK_FOR = 90 * 86_400_000;

/**
 * The smallest mark that the same person was not given while an answer may still come. Marks are short, since they are typed by hand; they
 * are never two people's at a time.
 *
 * @param given those of the last `MARK_FOR`
 */
export function nextMark(given: Iterable<number>): number {
  const taken = new Set(given);
  let mark = 1;
  while (taken.has(mark)) mark += 1;
  return mark;
}

/** What whoever answered is told when it went: to whom, so that a mistake is seen at once. */
export function passedBackTo(who: string): string {
  return `Sent to ${who}.`;
}

const MOST_WORDS = 600;
/** How many of their words a text that passes them on holds; the rest is in Replies. */
export function passedWords(words: string): string {
  const points = [...words.trim()];
  return points.length <= MOST_WORDS
    ? words.trim()
    : `${points
        .slice(0, MOST_WORDS - 1)
        .join('')
        .trimEnd()}…`;
}

/** The text that passes on what somebody wrote, and how it is answered. */
export function passedText(who: string, words: string, mark: number): string {
  return `${who}: “${passedWords(words)}” To answer them begin with #${mark}`;
}

/** What is asked of whoever answers without saying whom, where several wait for it. */
export function whichOne(open: readonly { mark: number; who: string }[]): string {
  const [most, more] = [open.slice(0, 5), open.length - 5];
  const names = most.map(({ mark, who }) => `#${mark} for ${who}`).join(', ');
  return `Not passed on: whom does it answer? Begin with ${names}${more > 0 ? ` (${more} more in Replies)` : ''}.`;
}

/** Words that hold what was sent to the same number before come from a machine that hands on what it gets. */
export function isEcho(text: string, sent: readonly string[]): boolean {
  const plain = (words: string) => words.replace(/\s+/g, ' ').trim();
  const written = plain(text);
  return sent.some((each) => {
    const before = plain(each);
    // a short one may be repeated by a person: "yes" is no echo of "yes"
    return before.length >= 25 && written.includes(before);
  });
}
