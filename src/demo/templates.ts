import type { Tx } from '../server/db/db';
import { insertPrepared } from '../server/templates/template-queries';

type Kept = Omit<Parameters<typeof insertPrepared>[1], 'account' | 'at'>;

const TIMETABLE = [{ name: 'timetable', address: 'https://example.org/ottermere/timetable' }];
const TEXTS: Kept[] = [
  {
    kind: 'template',
    folder: 'Ferry',
    name: 'A boat is late',
    words: {
      en: '{given_name or "neighbor"}: the 7:10 AM Heron from {home_landing or "the quay"} leaves 30 minutes late. {link timetable}\n{writer_name}, Ottermere Ferry, {writer_place or "Mill Quay"}',
      fr: '{given_name or "voisin"} : le Heron de 7 h 10 ({home_landing or "Mill Quay"}) part 30 minutes plus tard. {link timetable}\n{writer_name}, Ottermere Ferry',
    },
    links: TIMETABLE,
  },
  {
    kind: 'template',
    folder: 'Ferry',
    name: 'A boat is off',
    words: {
      en: '{given_name or "neighbor"}: the 7:10 AM Heron is off {send_date + 1 days as "EEE, MMM d"}. Kittiwake leaves 7:40 AM, same dock. {link timetable}\nOttermere Ferry',
      es: '{given_name or "vecino"}: el Heron de las 7:10 no sale el {send_date + 1 days as "d MMM"}. Kittiwake sale a las 7:40, mismo muelle. {link timetable}\nOttermere Ferry',
    },
    links: TIMETABLE,
  },
  {
    kind: 'template',
    folder: 'Boathouse',
    name: 'Class moves indoors',
    words: {
      en: 'Ottermere Boathouse: too much wind, {dependants.given_name or "your sailor"} and the class meet indoors today. Questions: {writer_number or "reply here"}',
    },
    links: [],
  },
  {
    kind: 'template',
    folder: 'Boathouse',
    name: 'Berth renews',
    words: {
      en: '{given_name or "neighbor"}: berth {berth} renews on Jan 15. Pay at the desk or reply here. Ottermere Boathouse',
    },
    links: [],
  },
  {
    kind: 'piece',
    folder: '',
    name: 'desk hours',
    words: {
      en: 'The desk at Mill Quay is open 7 AM to 6 PM.',
      fr: 'Le guichet de Mill Quay est ouvert de 7 h a 18 h.',
    },
    links: [],
  },
  {
    kind: 'answer',
    folder: '',
    name: 'bikes',
    words: {
      en: '{given_name or "Hello"}, bikes travel free on the Heron and the Kittiwake, as long as there is room on deck.',
      fr: '{given_name or "Bonjour"}, les cycles voyagent sans frais sur le Heron et le Kittiwake, selon la place sur le pont.',
    },
    links: [],
  },
  {
    kind: 'answer',
    folder: '',
    name: 'next boat',
    words: {
      en: 'The next boat from {home_landing or "Mill Quay"} is on the board at every landing, and on 1 207 555 0100.',
    },
    links: [],
  },
  { kind: 'piece', folder: '', name: 'reply for the desk', words: { en: 'Reply here and the desk answers.' }, links: [] },
];

/** What the desk has kept to write again. */
export async function makeTemplates(tx: Tx, account: number, at: string): Promise<void> {
  for (const text of TEXTS) await insertPrepared(tx, { ...text, account, at });
}
