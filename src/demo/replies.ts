import type { Chance } from './chance';
import type { DemoPerson } from './people';
import type { Tx } from '../server/db/db';

const DAY = 86_400_000;

/** Keywords on Ottermere's posters with who signed up by them, and the harbor master, to whom questions about berths are mailed. */
export async function makeReplies(tx: Tx, chance: Chance, people: readonly DemoPerson[], now: number): Promise<void> {
  const at = (days: number) => new Date(now - days * DAY).toISOString();
  const keyword = async (k: {
    word: string;
    list: string;
    purpose: string;
    consent: string;
    confirms: string;
    asks?: string;
    from: number;
    ended?: number;
  }) =>
    (
      await tx.query<{ id: number }>(
        `INSERT INTO keyword (word, folded, sender_id, list_id, purpose, consent_wording, confirms, asks, asks_first, from_at, created_at, account_id, ended_at)
         VALUES ($1, lower($1), 1, (SELECT id FROM list WHERE name = $2), $3, $4, $5, $6, $6 <> '', $7::timestamptz, $7::timestamptz, 1, $8::timestamptz) RETURNING id`,
        [k.word, k.list, k.purpose, k.consent, k.confirms, k.asks ?? '', at(k.from), k.ended === undefined ? null : at(k.ended)],
      )
    ).rows[0].id;
  const ferry = await keyword({
    word: 'FERRY',
    list: 'Morning boat regulars',
    purpose: 'service',
    consent: 'Notices about the morning boats, as they come, mostly two or three a week.',
    confirms: 'Ottermere Ferry: you get notices about the morning boats. STOP ends them.',
    from: 160,
  });
  const freight = await keyword({
    word: 'FREIGHT',
    list: 'Freight customers',
    purpose: 'marketing',
    consent: 'Freight prices and offers, about once a month.',
    confirms: 'Ottermere Ferry: freight offers come about once a month. STOP ends them.',
    asks: 'Ottermere Ferry: reply YES to get our freight offers, about once a month.',
    from: 90,
  });
  await keyword({
    word: 'REGATTA',
    list: 'Crew and staff',
    purpose: 'service',
    consent: 'Notices of the regatta weekend.',
    confirms: 'Ottermere Ferry: you get the notices of the regatta. STOP ends them.',
    from: 120,
    ended: 80,
  });
  for (const [id, list, part, state] of [
    [ferry, 'Morning boat regulars', 0.12, 'signed_up'],
    [freight, 'Freight customers', 0.3, 'signed_up'],
    [freight, 'Crew and staff', 0.1, 'asked'],
  ] as const)
    for (const person of people.filter((p) => p.lists.includes(list) && p.number?.startsWith('+1') && chance.chance(part)))
      await tx.query(
        `INSERT INTO sign_up (keyword_id, number, person_id, inbound_id, at, state) VALUES ($1, $2, $3, 0, $4::timestamptz, $5)`,
        [id, person.number, person.id, at(chance.int(5, 85)), state],
      );
  await tx.query(
    `WITH made AS (INSERT INTO pass_on (what, broadcast_id, name, way, address, created_at, account_id)
     SELECT 'broadcast', id, 'Harbor master', 'mail', 'harbor@ottermere.example', created_at, 1 FROM broadcast WHERE name = 'Berth renewals' ORDER BY id LIMIT 1 RETURNING id, broadcast_id)
     INSERT INTO passed (pass_on_id, inbound_id, number, token, at, state, next_at)
     SELECT made.id, i.id, i.number, 'before-' || i.id, i.received_at, CASE WHEN i.id % 3 = 0 THEN 'sent' ELSE 'answered' END, i.received_at
     FROM made JOIN run ON run.broadcast_id = made.broadcast_id JOIN inbound i ON i.run_id = run.id WHERE length(i.body) > 20`,
  );
}
