/**
 * A subset of Unicode LDML date patterns (UTS #35, part 4): d dd, M MM MMM MMMM, y yy yyyy, EEE EEEE, quoted
 * literals and punctuation. Names of months and days come from Intl in the recipient's language.
 */
const TOKEN = /'([^']*)'|d{1,2}|M{1,4}|y{1,4}|E{3,4}|[A-Za-z]+|[^A-Za-z']+/g;

/** What is wrong with a pattern, or undefined. */
export function patternProblem(pattern: string): string | undefined {
  if (pattern.trim() === '') return 'The date pattern is empty.';
  for (const [token, literal] of pattern.matchAll(TOKEN)) {
    if (literal === undefined && /^[A-Za-z]+$/.test(token) && !/^(d{1,2}|M{1,4}|y|yy|yyyy|E{3,4})$/.test(token)) {
      return `“${token}” is not a date pattern we know (d, dd, M, MM, MMM, MMMM, yy, yyyy, EEE, EEEE).`;
    }
  }
  return undefined;
}

const names = new Map<string, readonly string[]>();
/** The names of the twelve months, or of the days from Sunday: asked of Intl once, since a text may name a day for everybody many times. */
function namesOf(language: string, of: { month: 'short' | 'long' } | { weekday: 'short' | 'long' }): readonly string[] {
  const key = `${language} ${JSON.stringify(of)}`;
  let known = names.get(key);
  if (!known) {
    const format = new Intl.DateTimeFormat(language, { timeZone: 'UTC', ...of });
    // January 4, 2026 is a Sunday
    known =
      'month' in of
        ? Array.from({ length: 12 }, (_, month) => format.format(Date.UTC(2026, month, 1)))
        : Array.from({ length: 7 }, (_, day) => format.format(Date.UTC(2026, 0, 4 + day)));
    names.set(key, known);
  }
  return known;
}

/** Writes a calendar day (`YYYY-MM-DD`) by a pattern. */
export function formatDay(day: string, pattern: string, language: string): string {
  const [year, month, date] = day.split('-').map(Number);
  const at = new Date(Date.UTC(year, month - 1, date));
  const monthNamed = (how: 'short' | 'long') => namesOf(language, { month: how })[at.getUTCMonth()];
  const dayNamed = (how: 'short' | 'long') => namesOf(language, { weekday: how })[at.getUTCDay()];
  return pattern.replace(TOKEN, (token, literal?: string) => {
    if (literal !== undefined) return literal;
    switch (token) {
      case 'd':
        return String(date);
      case 'dd':
        return String(date).padStart(2, '0');
      case 'M':
        return String(month);
      case 'MM':
        return String(month).padStart(2, '0');
      case 'MMM':
        return monthNamed('short');
      case 'MMMM':
        return monthNamed('long');
      case 'yy':
        return String(year % 100).padStart(2, '0');
      case 'y':
      case 'yyyy':
        return String(year);
      case 'EEE':
        return dayNamed('short');
      case 'EEEE':
        return dayNamed('long');
      default:
        return token;
    }
  });
}

/** The pattern used when a text gives none. */
export const DEFAULT_PATTERN = 'MMM d';
