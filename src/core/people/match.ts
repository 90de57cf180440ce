import { readPhone } from '../phone/read';
import { findDamage } from '../phone/repair';
import { fold } from './fold';
import { slugOf, type Target } from './targets';

/** Headings people really write, folded; English, French and Spanish. */
const HEADINGS: [Target, RegExp][] = [
  ['calling_code', /^(country code|calling code|dial(ing)? code|prefix|indicatif|prefijo)$/],
  ['number', /(mobile|cell|phone|tel(ephone)?\b|portable|movil|text number|sms|number to text)/],
  ['given_name', /^(first|first name|given|given name|forename|prenom|nombre|name first)$/],
  ['family_name', /^(last|last name|surname|family|family name|nom|nom de famille|apellido|apellidos)$/],
  ['full_name', /^(name|full name|contact|person|parent|guardian|nom complet|nombre completo)$/],
  ['reference', /^(id|ref|reference|member (no|number|id)|pass (no|number)|account|customer (no|id|number)|no)\.?$/],
  ['language', /^(lang|language|langue|idioma)\.?$/],
  ['zone', /^(tz|time ?zone|zone|fuseau)$/],
  ['consent', /(consent|ok to text|opt ?in|may text|permission|accord)/],
  ['tags', /^(tag|tags|labels?|etiquettes?)$/],
];

/** True when a cell looks like a phone number, whole or damaged. */
export function looksLikePhone(cell: string, country: string): boolean {
  if (cell.replace(/\D/g, '').length < 6) return false;
  const damage = findDamage(cell);
  if (damage) return damage.kind !== 'date';
  return readPhone(cell, { country }).ok;
}

/**
 * A first match, to be looked at by a person: by heading, and for the number by what the cells hold.
 * `sample` is the first rows under the headings. Fields already known by slug are matched to themselves;
 * anything else is not brought in until someone says so.
 */
export function guessMatch(
  headings: readonly string[],
  sample: readonly (readonly string[])[],
  known: ReadonlySet<string>,
  country: string,
): Target[] {
  const taken = new Set<Target>();
  const match = headings.map((heading): Target => {
    const folded = fold(heading);
    const found = HEADINGS.find(([target, pattern]) => !taken.has(target) && pattern.test(folded))?.[0];
    if (found) {
      taken.add(found);
      return found;
    }
    const slug = slugOf(heading);
    return known.has(slug) ? `field:${slug}` : 'skip';
  });
  const share = (column: number) => {
    const cells = sample.map((row) => row[column] ?? '').filter((cell) => cell.trim() !== '');
    return cells.length === 0 ? 0 : cells.filter((cell) => looksLikePhone(cell, country)).length / cells.length;
  };
  const named = match.indexOf('number');
  if (named < 0 || share(named) < 0.3) {
    let best = -1;
    for (let column = 0; column < headings.length; column += 1)
      if (share(column) > 0.5 && (best < 0 || share(column) > share(best))) best = column;
    if (best >= 0) {
      if (named >= 0) match[named] = 'skip';
      match[best] = 'number';
    }
  }
  return match;
}

/**
 * Where the headings are: the first row that has words and no phone number, among the first ten; -1 when the file
 * starts with people at once.
 */
export function guessHeadingRow(rows: readonly (readonly string[])[], country: string): number {
  for (let at = 0; at < Math.min(10, rows.length); at += 1) {
    const filled = rows[at].filter((cell) => cell.trim() !== '');
    if (filled.some((cell) => looksLikePhone(cell, country))) return -1;
    const wide =
      filled.length >=
      Math.min(2, Math.max(...rows.slice(at, at + 5).map((row) => row.filter((cell) => cell.trim() !== '').length)));
    if (filled.length > 0 && wide && filled.every((cell) => cell.length < 60)) return at;
  }
  return -1;
}
