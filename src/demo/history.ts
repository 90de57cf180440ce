import { measure } from '../core/text/measure';
import { EMPTY_DRAFT, type Draft } from '../core/plan/draft/draft';
import { fold } from '../core/text/fold';
import type { Param, Tx } from '../server/db/db';
import { seeded, type Chance } from './chance';
import type { DemoPerson } from './people';

/** A few months of what was sent, as the engine would have left it: texts, parts, money, answers. */

interface Past {
  name: string;
  label: string;
  /** As it was written. */
  template: string;
  list: string;
  words: (person: DemoPerson) => string;
  /** It asks a question with choices. */
  asks?: boolean;
  /** There is a link in it. */
  link?: boolean;
  daysAgo: number;
  /** Minutes after midnight Eastern. */
  at: number;
}

const REGULAR: Omit<Past, 'daysAgo' | 'at'>[] = [
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
    link: true,
    list: 'Pass holders',
    words: (p) =>
      `${p.given || 'Neighbor'}: the winter timetable starts Monday. First boat is the 7:10 AM Heron. {link timetable} Ottermere Ferry\nSTOP to opt out`,
  },
];
const ANSWERS = [
  'ok thx',
  'merci!',
  'Thank you',
  'does the bike rack fit on the Kittiwake?',
  'see you there',
  '👍',
  'is the later boat running?',
  'got it',
];
const CHOICES = [
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
const PRICE = 7500;
const TIMETABLE = 'https://example.org/ottermere/winter';
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';
/** A token for an old link: of the alphabet and length of a real one, and the same on every machine. */
function linkToken(n: number): string {
  const own = seeded(n * 7919);
  return Array.from({ length: 12 }, () => own.pick([...LETTERS])).join('');
}
const SENDER = 1;

export async function makeHistory(
  tx: Tx,
  chance: Chance,
  people: readonly DemoPerson[],
  /** Who said stop, and when: nobody is texted after that. */
  stops: ReadonlyMap<string, number>,
  now: number,
  midnight: number,
): Promise<void> {
  const past: Past[] = [];
  const today: [number, number, number][] = [
    [0, 0, 8 * 60 + 6],
    [4, 0, 9 * 60 + 30],
    [2, 0, 11 * 60],
    [1, 0, 13 * 60 + 15],
  ];
  for (const [which, daysAgo, at] of today) past.push({ ...REGULAR[which], daysAgo, at });
  for (let daysAgo = 1; daysAgo < 75; daysAgo += 1) {
    if (chance.chance(0.35))
      past.push({ ...REGULAR[daysAgo % 7 === 3 ? 5 : chance.int(0, 4)], daysAgo, at: 8 * 60 + chance.int(5, 600) });
  }
  past.sort((a, b) => b.daysAgo * 1440 - b.at - (a.daysAgo * 1440 - a.at));
  const { rows: named } = await tx.query<{ id: number; name: string }>(`SELECT id, name FROM list`);
  const lists = new Map(named.map(({ id, name }) => [name, id]));
  let runId = 0;
  let outboundId = 0;
  let partId = 0;
  const runs: Param[][] = [];
  const broadcasts: Param[][] = [];
  const texts: Param[][] = [];
  const parts: Param[][] = [];
  const money: Param[][] = [[new Date(midnight - 80 * 86_400_000).toISOString(), 'top_up', 600_000_000, null, 'opening balance']];
  const inbound: Param[][] = [];
  const links: Param[][] = [];
  // of their own, so that the rest of Ottermere stays as it is
  const clicks = seeded(20_261_202);
  const failed = past.find(({ name, daysAgo }) => name.startsWith('Freight') && daysAgo > 10 && daysAgo < 50);
  const address = (await tx.query<{ address: string }>(`SELECT public_address AS address FROM workspace`)).rows[0].address;
  for (const each of past) {
    runId += 1;
    const due = midnight - each.daysAgo * 86_400_000 + each.at * 60_000;
    const audience = new Map(
      people
        .filter((p) => p.lists.includes(each.list) && p.number?.startsWith('+1') && !((stops.get(p.number) ?? Infinity) < due))
        .map((p) => [p.number ?? '', p]),
    );
    const refusing = each === failed;
    let spent = 0;
    let count = 0;
    let all = 0;
    let last = due;
    for (const [number, person] of audience) {
      const token = each.link ? linkToken(outboundId + 1) : '';
      const body = each.words(person).replace('{link timetable}', `${address}/l/${token}`);
      const { alphabet, parts: n } = measure(body);
      outboundId += 1;
      const handed = due + Math.floor(count / 40) * 1000;
      last = handed;
      const roll = chance.next();
      // one run in all these weeks ran into the carrier's filter
      const filtered = refusing && Number(number.slice(-1)) < 6;
      const bad = filtered || number.endsWith('37') || roll < 0.008;
      const state = bad ? 'not_delivered' : roll < 0.011 ? 'expired' : 'delivered';
      const final = state === 'expired' ? handed + 86_400_000 : handed + 900 + Math.floor(chance.next() ** 3 * 28_000);
      const reason = filtered
        ? 'refused by the carrier'
        : bad
          ? 'number does not exist'
          : state === 'expired'
            ? 'the phone was off too long'
            : null;
      const finalText = final > now ? null : new Date(final).toISOString();
      const shown = state === 'expired' && finalText === null ? 'with_carrier' : state;
      texts.push([
        outboundId,
        runId,
        'run',
        person.id,
        number,
        SENDER,
        body,
        alphabet,
        n,
        n * PRICE,
        new Date(handed).toISOString(),
        new Date(due + 43_200_000).toISOString(),
        shown,
        shown === 'with_carrier' ? null : reason,
        new Date(handed).toISOString(),
        finalText,
        n,
      ]);
      for (let part = 1; part <= n; part += 1) {
        partId += 1;
        parts.push([
          outboundId,
          part,
          number,
          shown,
          (partId % 65_535) + 1,
          `h${partId}`,
          reason,
          new Date(handed).toISOString(),
          new Date(handed + 60).toISOString(),
          finalText,
        ]);
      }
      count += 1;
      all += n;
      spent += n * PRICE;
      if (each.link) {
        // some follow it within the day, a few phones look before anyone does
        const follows = state === 'delivered' && clicks.chance(0.21);
        const clicked = handed + 60_000 + Math.floor(clicks.next() ** 2 * 36_000_000);
        const looked = clicks.chance(0.04);
        links.push([
          token,
          runId,
          outboundId,
          number,
          TIMETABLE,
          'timetable',
          follows && clicked < now ? new Date(clicked).toISOString() : null,
          follows && clicked < now ? clicks.int(1, 3) : 0,
          looked ? new Date(handed + 4000).toISOString() : null,
        ]);
      }
      if (each.asks && state === 'delivered' && clicks.chance(0.42)) {
        const at = new Date(handed + 90_000 + Math.floor(clicks.next() ** 2 * 14_000_000)).toISOString();
        const drawn = clicks.pick(CHOICES);
        const said = drawn.length > 20 && clicks.chance(0.75) ? '1' : drawn;
        inbound.push([at, number, '72345', said, fold(said), 'reply', person.id, runId, at, true]);
      } else if (state === 'delivered' && chance.chance(0.012)) {
        const at = handed + chance.int(60, 5400) * 1000;
        const said = chance.pick(ANSWERS);
        inbound.push([
          new Date(at).toISOString(),
          number,
          '72345',
          said,
          fold(said),
          'reply',
          person.id,
          runId,
          new Date(at + chance.int(2, 90) * 60_000).toISOString(),
          true,
        ]);
      }
    }
    const at = new Date(due).toISOString();
    const draft = JSON.stringify({
      ...EMPTY_DRAFT,
      to: [{ kind: 'list', id: lists.get(each.list) ?? 0 }],
      words: each.template,
      sender_id: SENDER,
      ...(each.link ? { links: [{ name: 'timetable', address: TIMETABLE }] } : {}),
    } satisfies Draft);
    broadcasts.push([
      runId,
      each.name,
      'ended',
      draft,
      1,
      new Date(due - 900_000).toISOString(),
      at,
      JSON.stringify([each.label]),
    ]);
    const end = new Date(Math.min(now, last + 30_000)).toISOString();
    runs.push([
      runId,
      runId,
      'finished',
      `past-${runId}`,
      '',
      JSON.stringify({ words: each.template }),
      each.name,
      SENDER,
      'service',
      count,
      all,
      spent,
      at,
      at,
      new Date(last).toISOString(),
      new Date(due + 43_200_000).toISOString(),
      new Date(due - 60_000).toISOString(),
      1,
      at,
      end,
    ]);
    money.push([end, 'spend', -spent, runId, '']);
  }
  await tx.copyIn(
    'broadcast',
    ['id', 'name', 'state', 'draft', 'account_id', 'created_at', 'updated_at', 'labels'],
    [broadcasts],
  );
  await tx.copyIn(
    'run',
    [
      'id',
      'broadcast_id',
      'state',
      'press_id',
      'digest',
      'plan',
      'name',
      'sender_id',
      'purpose',
      'people',
      'parts',
      'cost_micro',
      'takeback_until',
      'due_at',
      'last_due_at',
      'not_after',
      'pressed_at',
      'account_id',
      'started_at',
      'ended_at',
    ],
    [runs],
  );
  await tx.copyIn(
    'outbound',
    [
      'id',
      'run_id',
      'kind',
      'person_id',
      'number',
      'sender_id',
      'body',
      'alphabet',
      'parts',
      'cost_micro',
      'due_at',
      'not_after',
      'state',
      'reason',
      'handed_at',
      'final_at',
      'billed',
    ],
    [texts],
  );
  await tx.copyIn(
    'outbound_part',
    ['outbound_id', 'part_no', 'number', 'state', 'reference', 'message_id', 'reason', 'written_at', 'accepted_at', 'final_at'],
    [parts],
  );
  await tx.copyIn('balance_entry', ['at', 'kind', 'amount_micro', 'run_id', 'note'], [money]);
  await tx.copyIn(
    'inbound',
    ['received_at', 'number', 'to_address', 'body', 'folded', 'kind', 'person_id', 'run_id', 'done_at', 'applied'],
    [inbound.filter((row) => String(row[0]) < new Date(now).toISOString())],
  );
  await tx.copyIn(
    'link',
    ['token', 'run_id', 'outbound_id', 'number', 'address', 'name', 'clicked_at', 'opens', 'machine_at'],
    [links],
  );
  // whoever said stop said it to the last text they got
  await tx.query(
    `INSERT INTO inbound (received_at, number, to_address, body, folded, kind, person_id, run_id, done_at, applied)
     SELECT o.handed_at + make_interval(secs => 60 + o.id % 3000), o.number, '72345', o.words, lower(o.words), 'stop', o.person_id, o.run_id, o.handed_at + make_interval(secs => 60 + o.id % 3000), true
     FROM (SELECT DISTINCT ON (s.number) s.words, o.* FROM suppression s JOIN outbound o ON o.number = s.number AND o.kind = 'run' AND o.state = 'delivered'
           WHERE o.handed_at < $1::timestamptz ORDER BY s.number, o.id DESC) AS o`,
    [new Date(now - 3_600_000).toISOString()],
  );
  await tx.query(
    `UPDATE suppression SET at = inbound.received_at FROM inbound WHERE inbound.number = suppression.number AND inbound.kind = 'stop'`,
  );
  for (const table of ['broadcast', 'run', 'outbound'])
    await tx.query(`SELECT setval('${table}_id_seq', (SELECT max(id) FROM ${table}))`);
}
