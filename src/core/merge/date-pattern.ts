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

const formatters = new Map<string, Intl.DateTimeFormat>();
/** Making a formatter costs more than a thousand uses of one. */
function formatter(language: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${language}|${options.month ?? ''}|${options.weekday ?? ''}`;
  let known = formatters.get(key);
  if (!known) formatters.set(key, (known = new Intl.DateTimeFormat(language, { timeZone: 'UTC', ...options })));
  return known;
}

/** Writes a calendar day (`YYYY-MM-DD`) by a pattern. */
export function formatDay(day: string, pattern: string, language: string): string {
  const [year, month, date] = day.split('-').map(Number);
  const at = new Date(Date.UTC(year, month - 1, date));
  const named = (options: Intl.DateTimeFormatOptions) => formatter(language, options).format(at);
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
        return named({ month: 'short' });
      case 'MMMM':
        return named({ month: 'long' });
      case 'yy':
        return String(year % 100).padStart(2, '0');
      case 'y':
      case 'yyyy':
        return String(year);
      case 'EEE':
        return named({ weekday: 'short' });
      case 'EEEE':
        return named({ weekday: 'long' });
      default:
        return token;
    }
  });
}

/** The pattern used when a text gives none. */
export const DEFAULT_PATTERN = 'MMM d';
