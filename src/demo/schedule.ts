import { EMPTY_DRAFT, type Draft } from '../core/plan/draft/draft';
import { localPlans } from '../server/broadcasts/planning/plan-thread';
import { press } from '../server/broadcasts/press/press';
import { pressAlone } from '../server/broadcasts/press/press-alone';
import type { Db } from '../server/db/db';

/** Broadcasts already agreed for later today and tomorrow, and one draft; through the same road as everyone's. */
export async function scheduleSome(db: Db, now: number): Promise<void> {
  const list = async (name: string) => (await db.query<{ id: number }>(`SELECT id FROM list WHERE name = $1`, [name])).rows[0].id;
  const account = { id: (await db.query<{ id: number }>(`SELECT id FROM account ORDER BY id LIMIT 1`)).rows[0].id };
  const asked = { account: { ...account, role: 'manage' }, now: now, at: new Date(now).toISOString() };
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
  // time stands still while the data is made
  const clock = { now: () => asked.now, sleep: () => new Promise<void>(() => undefined) };
  const presser = pressAlone(db, clock, plans, (error) => {
    throw error;
  });
  const agree = async (name: string, draft: Draft) => {
    const { rows } = await db.query<{ id: number }>(
      `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at) VALUES ($1, 'draft', $2::jsonb, $3, $4::timestamptz, $4::timestamptz) RETURNING id`,
      [name, JSON.stringify(draft), account.id, asked.at],
    );
    const { digest } = await plans.summary(draft, asked.now);
    const pressed = await press(
      presser,
      { broadcastId: rows[0].id, version: 1, digest, pressId: `demo-press-${rows[0].id}` },
      asked,
    );
    if ((await pressed.stored) !== 'stored') throw new Error(`“${name}” could not be stored.`);
  };
  for (const [name, draft] of drafts) await agree(name, draft);
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
  // again and again; last, so that nothing else of Ottermere moves
  await agree('Roster of the week', {
    ...EMPTY_DRAFT,
    sender_id: 1,
    to: [{ kind: 'list', id: await list('Crew and staff') }],
    words:
      '{given_name or "Crew"}: the roster of the week hangs at Mill Quay. Tell the desk by noon what does not suit you. Ottermere Ferry',
    when: { kind: 'at', date: '2026-12-07', time: '09:00', repeats: { every: 'week', n: 1, days: [1] } },
  });
}
