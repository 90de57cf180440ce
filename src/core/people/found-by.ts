import { fold } from '../text/fold';

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
