const names = new Map<string, string>();

/** A language by its English name: `fr` → "French" (Unicode CLDR, through Intl). The code itself where there is none. */
export function languageName(code: string): string {
  const known = names.get(code);
  if (known !== undefined) return known;
  let name = code;
  try {
    name = new Intl.DisplayNames(['en'], { type: 'language' }).of(code) ?? code;
  } catch {
    // not a language tag: it stands as it is
  }
  names.set(code, name);
  return name;
}

/** Languages offered in the setup (ISO 639-1); the page of an opt-out link speaks each of them, and others can be typed. */
export const OFFERED_LANGUAGES = ['en', 'fr', 'es', 'de', 'it', 'pt', 'nl', 'pl', 'sv', 'da', 'no', 'fi'] as const;
