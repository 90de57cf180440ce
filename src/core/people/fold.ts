/** Text folded for finding and sorting: case, accents and width do not matter. Done here, so that SQL and core agree. */
export function fold(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[øœæßłđ]/g, (c) => ({ ø: 'o', œ: 'oe', æ: 'ae', ß: 'ss', ł: 'l', đ: 'd' })[c] ?? c)
    .replace(/\s+/g, ' ')
    .trim();
}

/** What a person is found by: names, digits of the number, own reference. */
export function searchText(person: {
  given_name: string;
  family_name: string;
  number?: string | null;
  reference?: string | null;
}): string {
  return [fold(`${person.given_name} ${person.family_name}`), person.number ?? '', fold(person.reference ?? '')]
    .filter((each) => each !== '')
    .join(' | ');
}

/** Family name first, then given name; people without a name last. */
export function sortName(person: { given_name: string; family_name: string }): string {
  const folded = fold(`${person.family_name} ${person.given_name}`);
  return folded === '' ? '\u{10ffff}' : folded;
}
