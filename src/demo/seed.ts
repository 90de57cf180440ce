import { readPhone } from '../core/phone/read';
import { guessZone } from '../core/phone/zone-guess';
import { EMPTY_DRAFT, type Draft } from '../core/plan/draft/draft';
import { localInstant } from '../core/zones';
import { localPlans } from '../server/broadcasts/planning/plan-thread';
import { press } from '../server/broadcasts/press/press';
import type { Db, Param } from '../server/db/db';
import { Bus } from '../server/desk/bus';
import { hashPassword } from '../server/http/passwords';
import { makeCorrection } from './correction';
import { seeded } from './chance';
import { makeHistory } from './history';
import { indexField } from '../server/people/groups/field-index';
import { fieldTypes, insertPeople, type StoredPerson } from '../server/address-book/person-store';
import { makeDependants } from './dependants';
import { CLASSES, LANDINGS, makePeople, type DemoPerson } from './people';
import { makeReplies } from './replies';
import { makeSegments } from './segments';
import { makeTemplates } from './templates';

/** The demo opens on Wed, Dec 2, 2026 at 3:50 PM Eastern. */
export const DEMO_START = Date.UTC(2026, 11, 2, 20, 50);
export const DEMO_EMAIL = 'ana@ottermere.example';
export const DEMO_PASSWORD = 'heron and kittiwake';
const ZONE = 'America/New_York';

/** Fills an empty database with Ottermere Ferry & Boathouse; does nothing when there is a workspace already. */
export async function seedOttermere(db: Db): Promise<void> {
  if ((await db.query(`SELECT 1 FROM workspace`)).rowCount > 0) return;
  const at = new Date(DEMO_START).toISOString();
  const long = new Date(DEMO_START - 200 * 86_400_000).toISOString();
  const chance = seeded(1884);
  const people = makePeople(chance, 2412, DEMO_START);
  const midnight = localInstant('2026-12-02', '00:00', ZONE).instant;
  await db.transaction(async (tx) => {
    await tx.query(
      `INSERT INTO workspace (id, name, zone, country, languages, help_wording, help_wordings, emergency_line, demo_clock) VALUES (1, 'Ottermere Ferry & Boathouse', $1, 'US', '{en,fr,es}', $2, $4::jsonb, '', $3::timestamptz)`,
      [
        ZONE,
        'Ottermere Ferry & Boathouse, the desk at Mill Quay. STOP to get no more texts.',
        at,
        JSON.stringify({ fr: 'Ottermere Ferry & Boathouse, le comptoir de Mill Quay. STOP pour ne plus recevoir de textos.' }),
      ],
    );
    const accounts: [string, string, string, string | null][] = [
      ['Ana Reyes', DEMO_EMAIL, 'manage', '+12075550100'],
      ['Ben Holm', 'ben@ottermere.example', 'write', null],
    ];
    for (const [name, email, role, own] of accounts) {
      await tx.query(
        `INSERT INTO account (name, email, role, password_hash, own_number, created_at) VALUES ($1, $2, $3, $4, $5, $6::timestamptz)`,
        [name, email, role, await hashPassword(DEMO_PASSWORD), own, long],
      );
    }
    await makeTemplates(tx, 1, long);
    const senders: [string, string, string, number][] = [
      ['Ferry desk', 'short', '72345', 20],
      ['Boathouse', 'long', '+12075550199', 1],
      ['OttermereFB', 'name', 'OttermereFB', 20],
    ];
    for (const [name, number] of [
      ['Pier phone', '+18025550171'],
      ['Mika at Mill Quay', '+16125550172'],
    ])
      await tx.query(`INSERT INTO tester (name, number, created_at) VALUES ($1, $2, $3::timestamptz)`, [name, number, long]);
    for (const [name, kind, address, rate] of senders) {
      await tx.query(
        `INSERT INTO sender (name, kind, address, parts_per_second, created_at) VALUES ($1, $2, $3, $4, $5::timestamptz)`,
        [name, kind, address, rate, long],
      );
    }
    await tx.query(
      `INSERT INTO rate (prefix, destination, price_micro) VALUES ('+1', 'United States, Canada', 7500), ('+44', 'United Kingdom', 31000)`,
    );
    await tx.query(
      `INSERT INTO field_def (slug, label, type, position, choices) VALUES ('home_landing', 'home landing', 'choice', 1, $1::text[]), ('pass_ends', 'pass ends', 'date', 2, '{}'), ('berth', 'berth', 'text', 3, '{}')`,
      [LANDINGS],
    );
    await tx.query(
      `INSERT INTO field_def (about, slug, label, type, position, choices) VALUES ('dependant', 'class', 'class', 'choice', 1, $1::text[])`,
      [CLASSES],
    );
    await insertPeople(tx, people.map(stored), await fieldTypes(tx), { at: long, importId: null });
    await tx.query(`SELECT setval('person_id_seq', (SELECT max(id) FROM person))`);
    await makeDependants(tx, people, long, DEMO_START);
    const names = [...new Set(people.flatMap((p) => p.lists))].sort();
    for (const name of names) await tx.query(`INSERT INTO list (name, created_at) VALUES ($1, $2::timestamptz)`, [name, long]);
    for (const name of [...new Set(people.flatMap((p) => p.tags))].sort())
      await tx.query(`INSERT INTO tag (name) VALUES ($1)`, [name]);
    for (const [table, column, of] of [
      ['list_member', 'list', 'lists'],
      ['person_tag', 'tag', 'tags'],
    ] as const) {
      const pairs = people.flatMap((p) => p[of].map((name) => [p.id, name] as const));
      await tx.query(
        `INSERT INTO ${table} (${column}_id, person_id) SELECT ${column}.id, p.id FROM unnest($1::bigint[], $2::text[]) AS p (id, name) JOIN ${column} ON ${column}.name = p.name`,
        [pairs.map(([id]) => id), pairs.map(([, name]) => name)],
      );
    }
    // consent: marketing granted by some, notices withdrawn by few; the register holds those who said stop
    const consents: Param[][] = [];
    for (const p of people) {
      if (p.number === null) continue;
      if (chance.chance(0.4))
        consents.push([
          p.id,
          p.number,
          'marketing',
          'granted',
          'web form',
          'pass renewal page',
          'I would like offers by text.',
          long,
        ]);
      if (chance.chance(0.005))
        consents.push([
          p.id,
          p.number,
          'service',
          'withdrawn',
          'at the desk',
          '',
          '',
          new Date(DEMO_START - chance.int(5, 150) * 86_400_000).toISOString(),
        ]);
    }
    await tx.copyIn('consent_event', ['person_id', 'number', 'purpose', 'act', 'how', 'evidence', 'wording', 'at'], [consents]);
    const numbers = [...new Set(people.flatMap((p) => (p.number?.startsWith('+1') ? [p.number] : [])))];
    const stopped = numbers.filter(() => chance.chance(0.035));
    const stops = stopped.map((number) => ({
      number,
      at: DEMO_START - chance.int(3, 190) * 86_400_000,
      words: chance.pick(['STOP', 'stop', 'Stop please', 'arrêt']),
    }));
    await tx.copyIn(
      'suppression',
      ['number', 'at', 'how', 'words'],
      [stops.map(({ number, at, words }) => [number, new Date(at).toISOString(), 'texted', words])],
    );
    await makeHistory(tx, chance, people, new Map(stops.map(({ number, at }) => [number, at])), DEMO_START, midnight);
    await makeReplies(tx, seeded(72345), people, DEMO_START);
    const waiting: [number, string][] = [
      [52, 'Is the 5:20 still running today?'],
      [31, 'can Leo come a day later'],
      [8, 'Please stop by the house with the freight, not the quay'],
    ];
    for (const [i, [minutes, body]] of waiting.entries()) {
      const person = people.filter(
        (p) =>
          p.lists.includes('Morning boat regulars') &&
          p.number?.startsWith('+1207') &&
          p.given !== '' &&
          !stopped.includes(p.number),
      )[i * 3];
      await tx.query(
        `INSERT INTO inbound (received_at, number, to_address, body, folded, kind, person_id, run_id, applied) VALUES ($1::timestamptz, $2, '72345', $3, lower($3), $4, $5, (SELECT max(run_id) FROM outbound WHERE number = $2 AND kind = 'run'), true)`,
        [new Date(DEMO_START - minutes * 60_000).toISOString(), person.number, body, i === 2 ? 'maybe_stop' : 'reply', person.id],
      );
    }
  });
  for (const table of ['person', 'list_member', 'person_tag', 'consent_event', 'outbound', 'outbound_part', 'run'])
    await db.exec(`VACUUM (ANALYZE) ${table}`);
  await indexField(db, 'pass_ends', 'date');
  await makeSegments(db, at);
  await scheduleSome(db);
  await db.transaction(async (tx) => {
    await makeCorrection(tx, DEMO_START);
    // read for some days only: each of its texts says so
    await tx.query(`UPDATE sender SET reply_days = 3 WHERE name = 'Boathouse'`);
  });
}

function stored(p: DemoPerson): StoredPerson {
  const read = p.number ? readPhone(p.number) : undefined;
  const known = read?.ok ? read : undefined;
  const guess = known ? guessZone(known.number) : undefined;
  // regulars have told us their zone at the desk; for others it is guessed from the number
  const told = p.lists.includes('Morning boat regulars') && guess !== undefined;
  return {
    id: p.id,
    given_name: p.given,
    family_name: p.family,
    reference: p.reference,
    number: p.number,
    number_country: known?.country ?? null,
    number_kind: known?.kind ?? null,
    kind_source: null,
    language: p.language,
    zone: guess ?? null,
    zone_guessed: guess !== undefined && !told,
    // a few of the crew are juniors themselves
    born: p.lists.includes('Crew and staff') && p.id % 7 === 0 ? `20${10 + (p.id % 3)}-0${1 + (p.id % 9)}-14` : null,
    quiet: null,
    fields: Object.fromEntries(
      Object.entries({ home_landing: p.landing, pass_ends: p.passEnds, berth: p.berth }).flatMap(([slug, value]) =>
        value === null ? [] : [[slug, value]],
      ),
    ),
  };
}

/** Broadcasts already agreed for later today and tomorrow, and one draft; through the same road as everyone's. */
async function scheduleSome(db: Db): Promise<void> {
  const list = async (name: string) => (await db.query<{ id: number }>(`SELECT id FROM list WHERE name = $1`, [name])).rows[0].id;
  const account = { id: (await db.query<{ id: number }>(`SELECT id FROM account ORDER BY id LIMIT 1`)).rows[0].id };
  const asked = { account: { ...account, role: 'manage' }, now: DEMO_START, at: new Date(DEMO_START).toISOString() };
  const drafts: [string, Draft][] = [
    [
      'Pike class: bring dry clothes',
      {
        ...EMPTY_DRAFT,
        sender_id: 1,
        to: [{ kind: 'list', id: await list('Parents, Pike') }],
        words:
          'Ottermere Boathouse: {dependants.given_name or "your sailor"} needs dry clothes for the Pike class on {send_date + 1 days as "EEE, MMM d"}, 4 PM.',
        when: { kind: 'at', date: '2026-12-02', time: '17:30' },
      },
    ],
    [
      "Members' evening, doors at eight",
      {
        ...EMPTY_DRAFT,
        sender_id: 1,
        to: [{ kind: 'list', id: await list('Berth holders') }],
        words:
          '{given_name or "Neighbor"}: members\' evening at the boathouse, doors at 8 PM. Bring a chair. Ottermere Boathouse',
        when: { kind: 'at', date: '2026-12-02', time: '19:00' },
      },
    ],
    [
      'Freight cut-off reminder',
      {
        ...EMPTY_DRAFT,
        sender_id: 1,
        to: [{ kind: 'list', id: await list('Freight customers') }],
        words: 'Ottermere Ferry: freight for the 4:30 PM Kittiwake must be at {home_landing or "the quay"} by 3:45 PM.',
        when: { kind: 'at', date: '2026-12-03', time: '12:15' },
      },
    ],
  ];
  const plans = localPlans(db);
  for (const [name, draft] of drafts) {
    const { rows } = await db.query<{ id: number }>(
      `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at) VALUES ($1, 'draft', $2::jsonb, $3, $4::timestamptz, $4::timestamptz) RETURNING id`,
      [name, JSON.stringify(draft), account.id, asked.at],
    );
    const { digest } = await plans.summary(draft, asked.now);
    const pressed = await press(
      { db, bus: new Bus(), plans, clock: { now: () => asked.now }, epoch: 0 },
      { broadcastId: rows[0].id, version: 1, digest, pressId: `demo-press-${rows[0].id}` },
      asked,
    );
    await pressed.stored;
  }
  const heron: Draft = {
    ...EMPTY_DRAFT,
    sender_id: 1,
    to: [
      { kind: 'list', id: await list('Morning boat regulars') },
      { kind: 'list', id: await list('Pass holders') },
    ],
    leave_out: [{ kind: 'list', id: await list('Crew and staff') }],
    words:
      '{given_name or "neighbor"}: the 7:10 AM Heron from {home_landing or "the quay"} is off {send_date + 1 days as "EEE, MMM d"}. Kittiwake leaves 7:40 AM – same dock. {link timetable}\nOttermere Ferry.',
    translations: {
      fr: '{given_name or "voisin"} : le Heron de 7 h 10 ({home_landing or "Mill Quay"}) ne part pas {send_date + 1 days as "EEE d MMMM"}. Kittiwake à 7 h 40, quai inchangé. {link timetable}\nOttermere Ferry.',
    },
    link: { name: 'timetable', address: 'https://example.org/ottermere/timetable' },
    when: { kind: 'at', date: '2026-12-02', time: '16:30' },
    no_use_after: { date: '2026-12-03', time: '07:00' },
  };
  await db.query(
    `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at, labels)
     VALUES ('Heron out of service Thursday', 'draft', $1::jsonb, $2, $3::timestamptz, $3::timestamptz, '["ferry"]')`,
    [JSON.stringify(heron), account.id, asked.at],
  );
}
