import type { DemoPerson } from './people';

/** Something that was sent again and again. */
export interface Past {
  name: string;
  label: string;
  /** As it was written. */
  template: string;
  list: string;
  words: (person: DemoPerson) => string;
  /** It asks a question with choices. */
  asks?: boolean;
  /** The link that is in it. */
  link?: { name: string; address: string };
  daysAgo: number;
  /** Minutes after midnight Eastern. */
  at: number;
}

export const REGULAR: Omit<Past, 'daysAgo' | 'at'>[] = [
  {
    name: 'Fog: first boat 30 minutes late',
    label: 'ferry',
    template: '{given_name or "neighbor"}: fog on the lake. The 7:10 AM Heron leaves {home_landing} at 7:40 AM. Ottermere Ferry',
    list: 'Morning boat regulars',
    words: (p) =>
      `${p.given || 'Neighbor'}: fog on the lake. The 7:10 AM Heron leaves ${p.landing} at 7:40 AM. Ottermere Ferry\nSTOP to opt out`,
  },
  {
    name: 'Freight cut-off reminder',
    label: 'freight',
    template: 'Ottermere Ferry: freight for the 4:30 PM Kittiwake must be at {home_landing} by 3:45 PM.',
    list: 'Freight customers',
    words: (p) => `Ottermere Ferry: freight for the 4:30 PM Kittiwake must be at ${p.landing} by 3:45 PM.\nSTOP to opt out`,
  },
  {
    name: 'Berth renewals',
    label: 'boathouse',
    template:
      '{given_name or "neighbor"}: berth {berth} renews on Jan 15. Do you keep it? Reply 1 yes, 2 no. Ottermere Boathouse',
    asks: true,
    list: 'Berth holders',
    words: (p) =>
      `${p.given || 'Neighbor'}: berth ${p.berth ?? ''} renews on Jan 15. Do you keep it? Reply 1 yes, 2 no. Ottermere Boathouse\nSTOP to opt out`,
  },
  {
    name: 'Pike class: wind',
    label: 'juniors',
    template:
      'Ottermere Boathouse: too much wind, {dependants.given_name or "your sailor"} and the Pike class meet indoors today.',
    list: 'Parents, Pike',
    words: (p) =>
      `Ottermere Boathouse: too much wind, ${p.junior ?? 'your sailor'}'s Pike class meets indoors today.\nSTOP to opt out`,
  },
  {
    name: 'Tadpoles: pool closed',
    label: 'juniors',
    template: 'Ottermere Boathouse: the pool is closed. The Tadpoles class is moved to Friday, 3 PM.',
    list: 'Parents, Tadpoles',
    words: (p) =>
      `Ottermere Boathouse: the pool is closed. ${p.junior ?? 'Your child'}'s Tadpoles class is moved to Friday, 3 PM.\nSTOP to opt out`,
  },
  {
    name: 'Winter timetable',
    label: 'ferry',
    template:
      '{given_name or "neighbor"}: the winter timetable starts Monday. First boat is the 7:10 AM Heron. {link timetable} Ottermere Ferry',
    link: { name: 'timetable', address: 'https://example.org/ottermere/winter' },
    list: 'Pass holders',
    words: (p) =>
      `${p.given || 'Neighbor'}: the winter timetable starts Monday. First boat is the 7:10 AM Heron. {link timetable} Ottermere Ferry\nSTOP to opt out`,
  },
];
export const ANSWERS = [
  'ok thx',
  'merci!',
  'Thank you',
  'does the bike rack fit on the Kittiwake?',
  'see you there',
  '👍',
  'is the later boat running?',
  'got it',
];
/** What comes back to a question with two choices. */
export const CHOICES = [
  '1',
  '1',
  '1',
  'yes',
  'Yes!',
  '1.',
  'yes please',
  '1 thanks',
  'oui',
  '2',
  'no',
  '2 sorry',
  'Yes or maybe 2, ask me in January',
];
