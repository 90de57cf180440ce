import type { Chance } from './chance';

/** The people of Ottermere: invented names, numbers only from ranges reserved for fiction. */

const GIVEN: Record<string, readonly string[]> = {
  en: 'Marisol Henrik Dao Rosalind Tobias Xiomara Edda Kofi Adaeze Bartolo Calla Desta Emil Fenna Gwil Hana Idris Juno Kestrel Lior Mabel Nadia Orla Priya Quentin Rufus Saskia Tamsin Ulla Viggo Wren Yusuf Zelda Alaric Bronwen Cosima Dorian Elspeth Faisal Greta Hollis Ingrid Jasper Keziah Leander Mirela Nils Ottoline Perrin Rowan Sunniva Thora Ursula Vikram Winona Ximena Yara Zephyr Maximiliano Anneliese'.split(
    ' ',
  ),
  fr: 'Inès Léonie Élodie Gaëtan Maëlle Océane Théo Zoé Anaïs Benoît Chloé Étienne Françoise Hélène Joël Noémie René Solène Aurélie Cédric'.split(
    ' ',
  ),
  es: 'Ximena Íñigo Lucía Tomás Begoña Álvaro Nuria Martín Belén Andrés Rocío Julián Inés Óscar Elena Rubén'.split(' '),
};
const FAMILY: Record<string, readonly string[]> = {
  en: 'Okafor Aalto Whitfield Abara Lindqvist Bell Marchetti Strand Lindgren Finch Ito Moreau Castellanos Achebe Sørensen Petrov Valko Featherstonehaugh Ashdown Brackenridge Colquhoun Dunmore Eastlake Fairweather Greenhalgh Hathersage Inglewood Jessop Kilbride Larkspur Millbrook Northcott Oakhanger Penhallow Quillfeather Ravensworth Saltmarsh Thistlewood Underhay Vandermeer Wetherby Yarrow Zimmerli Holm Dale Voss Brandt Mori Nakata Osei Mensah Haddad Farouk Kaur Rao Ngata'.split(
    ' ',
  ),
  fr: 'Tremblay Garneau Bouchard Lévesque Pelletier Gagnon Côté Desrosiers Thibault Charbonneau Fréchette Beaulieu Lacroix Rochefort'.split(
    ' ',
  ),
  es: 'Castellanos Ibáñez Quiñones Rebollo Saavedra Montalvo Cárdenas Peñalver Zamorano Echeverría Villalobos Navarrete'.split(
    ' ',
  ),
};
export const LANDINGS = ['North Landing', 'Mill Quay', 'Pine Point', 'Upper Saltmarsh Landing'] as const;
const SHARES = [0.42, 0.3, 0.2, 0.08];
export const CLASSES = ['Tadpoles', 'Otters', 'Pike'] as const;
const JUNIORS = 'Noor Sami Ana Leo Mika Pia Bo Ida Finn Lou Ravi Tess Nils Ada Oz Uma Kit Mae Sol Jo'.split(' ');

/** Area codes with the zone they suggest; the lake towns lie where Eastern meets Central time. */
const LAKE = ['207', '231', '906', '715', '218', '603', '802'];
const FAR = [
  '514',
  '312',
  '414',
  '612',
  '617',
  '212',
  '303',
  '206',
  '415',
  '437',
  '608',
  '920',
  '989',
  '810',
  '315',
  '518',
  '413',
  '508',
];

export interface DemoPerson {
  id: number;
  given: string;
  family: string;
  number: string | null;
  language: 'en' | 'fr' | 'es';
  reference: string;
  landing: string;
  passEnds: string | null;
  berth: string | null;
  junior: string | null;
  juniorClass: string | null;
  tags: string[];
  lists: string[];
}

const date = (from: number, days: number) => new Date(from + days * 86_400_000).toISOString().slice(0, 10);

/** About 2,400 people with what they are to the ferry and the boathouse. */
export function makePeople(chance: Chance, count: number, today: number): DemoPerson[] {
  const free: string[] = [];
  for (const area of LAKE) for (let n = 101; n < 200; n += 1) free.push(`+1${area}5550${n}`);
  for (const area of FAR) for (let n = 101; n < 200; n += 1) free.push(`+1${area}5550${n}`);
  // a deterministic shuffle, so that neighbors in the list do not have neighboring numbers
  for (let i = free.length - 1; i > 0; i -= 1) {
    const j = chance.int(0, i);
    [free[i], free[j]] = [free[j], free[i]];
  }
  const people: DemoPerson[] = [];
  let fixed = 0;
  for (let id = 1; id <= count; id += 1) {
    const roll = chance.next();
    const language = roll < 0.8 ? 'en' : roll < 0.94 ? 'fr' : 'es';
    const kind = chance.next();
    let number: string | null = free[id - 1] ?? null;
    if (kind < 0.018) number = null;
    else if (kind < 0.036) number = `+44207946${String((fixed += 1)).padStart(4, '0')}`;
    else if (number === null || (kind < 0.05 && people.length > 20)) number = people[chance.int(0, people.length - 1)].number;
    const spot = chance.next();
    let sum = 0;
    const landing = LANDINGS[SHARES.findIndex((share) => (sum += share) > spot)] ?? LANDINGS[0];
    const passHolder = chance.chance(0.55);
    const lists = passHolder ? ['Pass holders'] : [];
    if (passHolder && landing !== 'Pine Point' && chance.chance(0.6)) lists.push('Morning boat regulars');
    const berth = chance.chance(0.16) ? `${chance.pick(['A', 'B', 'C', 'D'])}-${chance.int(1, 60)}` : null;
    if (berth) lists.push('Berth holders');
    if (chance.chance(0.028)) lists.push('Freight customers');
    if (chance.chance(0.013)) lists.push('Crew and staff');
    let junior: string | null = null;
    let juniorClass: string | null = null;
    if (chance.chance(0.06)) {
      junior = chance.pick(JUNIORS);
      juniorClass = chance.pick(CLASSES);
      lists.push(`Parents, ${juniorClass}`);
    }
    const tags: string[] = [];
    if (chance.chance(0.058)) tags.push('bicycle');
    if (chance.chance(0.036)) tags.push('dog aboard');
    if (chance.chance(0.006)) tags.push('wheelchair');
    if (number?.startsWith('+44') || FAR.some((area) => number?.startsWith(`+1${area}`) && chance.chance(0.15)))
      tags.push('summer resident');
    people.push({
      id,
      // some are known by number only, so the fallback words have someone to serve
      given: chance.chance(0.04) ? '' : chance.pick(GIVEN[language]),
      family: chance.chance(0.03) ? '' : chance.pick(FAMILY[language]),
      number,
      language,
      reference: `OF-${10_000 + id * 7}`,
      landing,
      passEnds: passHolder ? date(today, chance.int(-20, 300)) : null,
      berth,
      junior,
      juniorClass,
      tags,
      lists,
    });
  }
  return people;
}
