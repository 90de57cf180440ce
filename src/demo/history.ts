import { PUBLIC_ADDRESS } from '../server/setup/for-others';
import type { Tx } from '../server/db/db';
import { seeded, type Chance } from './chance';
import { REGULAR, type Past } from './past';
import { cameBefore } from './lived';
import { addPastRun, type Rows, type Sent } from './past-run';
import type { DemoPerson } from './people';
import { yearBefore } from './year';

/** What was sent on this very day: which, days ago, minutes after midnight. */
const TODAY: readonly [which: number, daysAgo: number, at: number][] = [
  [0, 0, 8 * 60 + 6],
  [4, 0, 9 * 60 + 30],
  [2, 0, 11 * 60],
  [1, 0, 13 * 60 + 15],
];

/** A year of what was sent, as the engine would have left it: texts, parts, money, answers. */
export async function makeHistory(
  tx: Tx,
  chance: Chance,
  people: readonly DemoPerson[],
  /** Who said stop, and when: nobody is texted after that. */
  stops: ReadonlyMap<string, number>,
  now: number,
  midnight: number,
): Promise<void> {
  const past: Past[] = TODAY.map(([which, daysAgo, at]) => ({ ...REGULAR[which], daysAgo, at }));
  for (let daysAgo = 1; daysAgo < 75; daysAgo += 1) {
    if (chance.chance(0.35))
      past.push({ ...REGULAR[daysAgo % 7 === 3 ? 5 : chance.int(0, 4)], daysAgo, at: 8 * 60 + chance.int(5, 600) });
  }
  past.sort((a, b) => b.daysAgo * 1440 - b.at - (a.daysAgo * 1440 - a.at));
  const { rows: named } = await tx.query<{ id: number; name: string }>(`SELECT id, name FROM list`);
  const { address } = (await tx.query<{ address: string }>(`SELECT ${PUBLIC_ADDRESS} AS address FROM workspace`)).rows[0];
  const lists = new Map(named.map(({ id, name }) => [name, id]));
  const top_up = { kind: 'top_up', run_id: null };
  const sent: Sent = {
    broadcast: [],
    run: [],
    outbound: [],
    outbound_part: [],
    balance_entry: [
      { at: new Date(midnight - 370 * 86_400_000).toISOString(), ...top_up, amount_micro: 150_000_000, note: 'bank transfer' },
      { at: new Date(midnight - 80 * 86_400_000).toISOString(), ...top_up, amount_micro: 600_000_000, note: 'opening balance' },
    ],
    inbound: [],
    link: [],
  };
  const world = { people, stops, lists, address, now, midnight };
  // the year before it is drawn by itself: whatever is added to it, the last weeks stay as they are
  const before = { ...world, here: cameBefore, chance: seeded(1866), clicks: seeded(1867) };
  for (const each of yearBefore(new Date(midnight).toISOString().slice(0, 10))) addPastRun(sent, each, before, false);
  const lately = { ...world, here: () => true, chance, clicks: seeded(20_261_202) };
  // one run in all these weeks ran into the carrier's filter
  const failed = past.find(({ name, daysAgo }) => name.startsWith('Freight') && daysAgo > 10 && daysAgo < 50);
  for (const each of past) addPastRun(sent, each, lately, each === failed);
  sent.inbound = sent.inbound.filter(({ received_at }) => String(received_at) < new Date(now).toISOString());
  for (const [table, rows] of Object.entries(sent)) await copyRows(tx, table, rows as Rows);
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

async function copyRows(tx: Tx, table: string, rows: Rows): Promise<void> {
  const columns = Object.keys(rows[0]);
  await tx.copyIn(table, columns, [rows.map((row) => columns.map((column) => row[column]))]);
}
