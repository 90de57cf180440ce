/**
 * How a day is written in a language, as a pattern of ours: its parts in the order, and with what stands between them, that the Unicode CLDR
 * has for it (asked of Intl, ECMA-402): `EEE, MMM d` in English, `EEE d MMM` in French, `EEE, d 'de' MMM` in Portuguese.
 */
export function dayPattern(language: string, withWeekday = true): string {
  const format = new Intl.DateTimeFormat(language, {
    timeZone: 'UTC',
    day: 'numeric',
    month: 'short',
    ...(withWeekday ? { weekday: 'short' as const } : {}),
  });
  const parts = format.formatToParts(Date.UTC(2026, 11, 2)).map(({ type, value }) => {
    if (type === 'weekday') return 'EEE';
    if (type === 'month') return /^\d/.test(value) ? 'M' : 'MMM';
    if (type === 'day') return 'd';
    // words between them stand for themselves
    return value.replace(/[\u00a0\u202f]/g, ' ').replace(/[^\s\p{P}]+/gu, (words) => `'${words}'`);
  });
  return parts.join('').trim();
}

/** What stands where a given name is missing, by language: a greeting that fits everybody. From memory; each can be written over. */
const GREETING: Readonly<Record<string, string>> = {
  ...{
    en: 'neighbor',
    fr: 'bonjour',
    es: 'hola',
    de: 'hallo',
    it: 'ciao',
    pt: 'oi',
    nl: 'hallo',
    pl: 'witam',
    sv: 'hej',
    da: 'hej',
  },
  ...{ no: 'hei', fi: 'hei' },
};
export const greetingIn = (language: string): string => GREETING[language] ?? GREETING.en;
