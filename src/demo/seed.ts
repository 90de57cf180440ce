import { localInstant } from '../core/zones';
import { indexField } from '../server/people/groups/field-index';
import type { Db, Tx } from '../server/db/db';
import { makeAddressBook, makeConsents } from './address-book';
import { seeded } from './chance';
import { makeCorrection } from './correction';
import { makeHistory } from './history';
import { makeLived } from './lived';
import { makePeople, type DemoPerson } from './people';
import { makeReplies } from './replies';
import { scheduleSome } from './schedule';
import { makeSegments } from './segments';
import { makeTemplates } from './templates';
import { makeSetup, makeWorkspace } from './workspace';

/** The demo opens on Wed, Dec 2, 2026 at 3:50 PM Eastern. */
export const DEMO_START = Date.UTC(2026, 11, 2, 20, 50);
const ZONE = 'America/New_York';

/** Fills an empty database with Ottermere Ferry & Boathouse; does nothing when there is a workspace already. */
export async function seedOttermere(db: Db): Promise<void> {
  if ((await db.query(`SELECT 1 FROM workspace`)).rowCount > 0) return;
  const at = new Date(DEMO_START).toISOString();
  const long = new Date(DEMO_START - 380 * 86_400_000).toISOString();
  const chance = seeded(1884);
  const people = makePeople(chance, 2412, DEMO_START);
  const midnight = localInstant('2026-12-02', '00:00', ZONE).instant;
  await db.transaction(async (tx) => {
    await makeWorkspace(tx, ZONE, at, long);
    await makeTemplates(tx, 1, long);
    await makeSetup(tx, long);
    await makeAddressBook(tx, people, long, DEMO_START);
    const stops = await makeConsents(tx, chance, people, long, DEMO_START);
    await makeHistory(tx, chance, people, stops, DEMO_START, midnight);
    await makeReplies(tx, seeded(72345), people, DEMO_START);
    await makeWaiting(tx, people, stops);
    await makeLived(tx, seeded(1912), DEMO_START);
  });
  for (const table of ['person', 'list_member', 'person_tag', 'consent_event', 'outbound', 'outbound_part', 'run'])
    await db.exec(`VACUUM (ANALYZE) ${table}`);
  await indexField(db, 'pass_ends', 'date');
  await makeSegments(db, at);
  await scheduleSome(db, DEMO_START);
  await db.transaction(async (tx) => {
    await makeCorrection(tx, DEMO_START);
    // read for some days only: each of its texts says so
    await tx.query(`UPDATE sender SET reply_days = 3 WHERE name = 'Boathouse'`);
  });
}

/** What was answered lately and waits for somebody at the desk. */
async function makeWaiting(tx: Tx, people: readonly DemoPerson[], stops: ReadonlyMap<string, number>): Promise<void> {
  const waiting: [number, string][] = [
    [52, 'Is the 5:20 still running today?'],
    [31, 'can Leo come a day later'],
    [8, 'Please stop by the house with the freight, not the quay'],
  ];
  for (const [i, [minutes, body]] of waiting.entries()) {
    const person = people.filter(
      (p) => p.lists.includes('Morning boat regulars') && p.number?.startsWith('+1207') && p.given !== '' && !stops.has(p.number),
    )[i * 3];
    await tx.query(
      `INSERT INTO inbound (received_at, number, to_address, body, folded, kind, person_id, run_id, applied) VALUES ($1::timestamptz, $2, '72345', $3, lower($3), $4, $5, (SELECT max(run_id) FROM outbound WHERE number = $2 AND kind = 'run'), true)`,
      [new Date(DEMO_START - minutes * 60_000).toISOString(), person.number, body, i === 2 ? 'maybe_stop' : 'reply', person.id],
    );
  }
}
