import { REGULAR, type Past } from './past';

/** What belongs to its season, and was sent once or twice. */
const SEASON: Record<string, Omit<Past, 'daysAgo' | 'at'>> = {
  ice: {
    name: 'Ice on the quay',
    label: 'ferry',
    template: '{given_name or "neighbor"}: there is ice on the quay at {home_landing}. Come five minutes early. Ottermere Ferry',
    list: 'Morning boat regulars',
    words: (p) =>
      `${p.given || 'Neighbor'}: there is ice on the quay at ${p.landing}. Come five minutes early. Ottermere Ferry\nSTOP to opt out`,
  },
  opens: {
    name: 'Boathouse opens for the season',
    label: 'boathouse',
    template: '{given_name or "neighbor"}: the slip is open from Saturday, 9 AM. Berth {berth} is yours. Ottermere Boathouse',
    list: 'Berth holders',
    words: (p) =>
      `${p.given || 'Neighbor'}: the slip is open from Saturday, 9 AM. Berth ${p.berth ?? ''} is yours. Ottermere Boathouse\nSTOP to opt out`,
  },
  summer: {
    name: 'Summer timetable',
    label: 'ferry',
    template:
      '{given_name or "neighbor"}: the summer timetable starts Monday, with a boat at 9:40 PM. {link timetable} Ottermere Ferry',
    link: { name: 'timetable', address: 'https://example.org/ottermere/summer' },
    list: 'Pass holders',
    words: (p) =>
      `${p.given || 'Neighbor'}: the summer timetable starts Monday, with a boat at 9:40 PM. {link timetable} Ottermere Ferry\nSTOP to opt out`,
  },
  sails: {
    name: 'Regatta: who sails',
    label: 'regatta',
    template: '{given_name or "neighbor"}: do you sail in the regatta on July 18? Reply 1 yes, 2 no. Ottermere Boathouse',
    asks: true,
    list: 'Berth holders',
    words: (p) =>
      `${p.given || 'Neighbor'}: do you sail in the regatta on July 18? Reply 1 yes, 2 no. Ottermere Boathouse\nSTOP to opt out`,
  },
  start: {
    name: 'Regatta: start at eleven',
    label: 'regatta',
    template: 'Ottermere Boathouse: the regatta starts at 11 AM off Mill Quay. Skippers meet at 9:30 AM at the slip.',
    list: 'Berth holders',
    words: () =>
      'Ottermere Boathouse: the regatta starts at 11 AM off Mill Quay. Skippers meet at 9:30 AM at the slip.\nSTOP to opt out',
  },
  passes: {
    name: 'Passes: renew by August 31',
    label: 'ferry',
    template: '{given_name or "neighbor"}: summer passes end on August 31. Renew here: {link passes} Ottermere Ferry',
    link: { name: 'passes', address: 'https://example.org/ottermere/passes' },
    list: 'Pass holders',
    words: (p) =>
      `${p.given || 'Neighbor'}: summer passes end on August 31. Renew here: {link passes} Ottermere Ferry\nSTOP to opt out`,
  },
  roster: {
    name: 'Roster has changed',
    label: 'crew',
    template: '{given_name or "Crew"}: the roster of the week has changed. Look at Mill Quay before your boat. Ottermere Ferry',
    list: 'Crew and staff',
    words: (p) =>
      `${p.given || 'Crew'}: the roster of the week has changed. Look at Mill Quay before your boat. Ottermere Ferry\nSTOP to opt out`,
  },
};
const [FOG, FREIGHT, , PIKE, TADPOLES] = REGULAR;

/** The year before the last weeks, day by day and at its minute of the day: fog and ice in winter, classes and the regatta in summer. */
const SENT: readonly [day: string, at: string, what: Omit<Past, 'daysAgo' | 'at'>][] = [
  ['2025-12-08', '10:20', SEASON.roster],
  ['2025-12-11', '06:48', FOG],
  ['2025-12-17', '13:10', FREIGHT],
  ['2026-01-08', '17:02', SEASON.ice],
  ['2026-01-14', '13:05', FREIGHT],
  ['2026-01-19', '09:15', SEASON.roster],
  ['2026-02-11', '13:22', FREIGHT],
  ['2026-02-17', '16:40', SEASON.ice],
  ['2026-03-03', '08:31', TADPOLES],
  ['2026-03-11', '13:14', FREIGHT],
  ['2026-03-18', '08:04', FOG],
  ['2026-04-13', '11:05', SEASON.opens],
  ['2026-04-15', '13:01', FREIGHT],
  ['2026-04-27', '09:40', SEASON.roster],
  ['2026-05-13', '13:09', FREIGHT],
  ['2026-05-20', '14:12', PIKE],
  ['2026-05-28', '12:00', SEASON.summer],
  ['2026-06-10', '13:03', FREIGHT],
  ['2026-06-16', '08:20', TADPOLES],
  ['2026-06-23', '14:31', PIKE],
  ['2026-07-06', '18:05', SEASON.sails],
  ['2026-07-08', '13:12', FREIGHT],
  ['2026-07-14', '14:02', PIKE],
  ['2026-07-17', '17:30', SEASON.start],
  ['2026-07-27', '09:10', SEASON.roster],
  ['2026-08-04', '14:25', PIKE],
  ['2026-08-12', '13:07', FREIGHT],
  ['2026-08-17', '12:30', SEASON.passes],
  ['2026-08-18', '08:16', TADPOLES],
  ['2026-08-31', '10:02', SEASON.roster],
  ['2026-09-08', '14:08', PIKE],
  ['2026-09-09', '13:15', FREIGHT],
];

/** @param today as `YYYY-MM-DD`; none of it is as late as the weeks that are drawn by chance. */
export function yearBefore(today: string): Past[] {
  return SENT.map(([day, at, what]) => {
    const [hours, minutes] = at.split(':').map(Number);
    const daysAgo = Math.round((Date.parse(today) - Date.parse(day)) / 86_400_000);
    return { ...what, daysAgo, at: hours * 60 + minutes };
  });
}
