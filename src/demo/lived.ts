import type { ImportCounts } from '../core/api/people/imports';
import type { ImportSettings } from '../core/api/people/import-settings';
import { measure } from '../core/text/measure';
import { fold } from '../core/text/fold';
import type { Tx } from '../server/db/db';
import type { Chance } from './chance';

const DAY = 86_400_000;
const PRICE = 7500;

/**
 * What else a year leaves at a desk: files that were brought in, one of them undone, people who came one after the other, codes that
 * were given, an evening that failed and was looked at, tests, and who did what.
 */
export async function makeLived(tx: Tx, chance: Chance, now: number): Promise<void> {
  const ago = (days: number, hour = 10) =>
    new Date(now - days * DAY + (hour - 16) * 3_600_000 + chance.int(0, 50) * 60_000).toISOString();
  await makeImports(tx, ago);
  await makeComing(tx, now);
  await makeCodes(tx, chance, ago);
  await makeFailedEvening(tx);
  await makeTests(tx, ago);
  await makeRecord(tx, ago);
}

type Ago = (days: number, hour?: number) => string;

const HEADINGS = ['Given name', 'Family name', 'Mobile', 'Landing', 'Pass until'];
const IMPORTS: readonly [file: string, state: 'done' | 'undone', days: number, counts: Record<string, number>][] = [
  ['pass-holders-2026.csv', 'done', 378, { new: 1338, rejected: 21, twice: 14 }],
  ['berths-spring.xlsx', 'done', 240, { new: 204, changed: 158, unchanged: 3 }],
  ['regatta-guests.csv', 'undone', 96, { new: 212, twice: 6, rejected: 2 }],
  ['juniors-autumn.xlsx', 'done', 88, { new: 61, changed: 72, unchanged: 38 }],
];

const NOTHING_COUNTED: ImportCounts = {
  ...{ new: 0, changed: 0, unchanged: 0, twice: 0, rejected: 0, set_aside: 0, waiting: 0 },
  ...{ fixes: [], reasons: [], blanks: [], opted_out: 0, consent_no: 0, consent_both: 0 },
  ...{ reference_conflicts: 0, conflict_examples: [], other_names: 0, other_name_examples: [] },
  ...{ fixed_lines: 0, ambiguous_days: 0, dependants: 0, second_contacts: 0, missing: 0, stops: [] },
};
const SETTINGS: ImportSettings = {
  ...{ heading_row: 0, first_row: 1, last_row: null, new_fields: {}, country: 'US', day_first: false },
  match: ['given_name', 'family_name', 'number', 'field:home_landing', 'field:pass_ends'],
  ...{ fixes: [], fixed_rows: [], two_numbers: 'first', already: 'fill_blanks', shared_number: 'by_name', landlines: 'keep' },
  ...{ list: '', missing: 'keep', tags: [], consent_purpose: 'service', consent_all: null },
};

/** Their rows have gone after their days; what was done stays. */
async function makeImports(tx: Tx, ago: Ago): Promise<void> {
  for (const [file, state, days, counts] of IMPORTS) {
    const rows = Object.values(counts).reduce((sum, n) => sum + n, 0);
    await tx.query(
      `INSERT INTO import (file_name, state, facts, settings, counts, row_count, wrote, account_id, created_at, decided_at, done_at, undone_at)
       VALUES ($1, $2, $3::jsonb, $9::jsonb, $4::jsonb, $5, $6, 1, $7::timestamptz, $7::timestamptz, $7::timestamptz, $8::timestamptz)`,
      [
        file,
        state,
        JSON.stringify({ headings: HEADINGS, notes: [], last: rows }),
        JSON.stringify({ ...NOTHING_COUNTED, ...counts }),
        rows,
        (counts.new ?? 0) + (counts.changed ?? 0),
        ago(days),
        state === 'undone' ? ago(days, 11) : null,
        JSON.stringify(SETTINGS),
      ],
    );
  }
}

/** Most were brought in together; one after the other others have come since. */
export const cameBefore = ({ id }: { id: number }, daysAgo: number): boolean => id % 11 !== 0 || (id * 37) % 190 > daysAgo;

async function makeComing(tx: Tx, now: number): Promise<void> {
  await tx.query(
    `UPDATE person SET created_at = $1::timestamptz - make_interval(days => (id * 37 % 190)::int, mins => (id * 13 % 600)::int) WHERE id % 11 = 0`,
    [new Date(now - 3_600_000).toISOString()],
  );
}

/** Codes for a guest's crossing, and who has got one. */
async function makeCodes(tx: Tx, chance: Chance, ago: Ago): Promise<void> {
  const name = 'Guest crossings, winter';
  const { rows } = await tx.query<{ id: number }>(
    `INSERT INTO code_list (name, folded, account_id, created_at) VALUES ($1, $2, 1, $3::timestamptz) RETURNING id`,
    [name, fold(name), ago(40)],
  );
  const codes = Array.from({ length: 60 }, (_, i) => `OT${chance.int(1000, 9999)}-${i + 10}`);
  await tx.query(`INSERT INTO code (list_id, code) SELECT $1, unnest($2::text[])`, [rows[0].id, codes]);
  await tx.query(
    `UPDATE code SET number = p.number, person_id = p.id, taken_at = $2::timestamptz + make_interval(mins => p.nth::int * 9)
     FROM (SELECT id, number, row_number() OVER (ORDER BY id) AS nth FROM person WHERE number IS NOT NULL ORDER BY id LIMIT 14) AS p
     WHERE code.list_id = $1 AND code.code = ($3::text[])[p.nth]`,
    [rows[0].id, ago(33), codes],
  );
}

/** The carrier's filter turned most of a run away: it stood on Today, and was looked at. */
async function makeFailedEvening(tx: Tx): Promise<void> {
  await tx.query(
    `INSERT INTO alarm (run_id, kind, words, at, seen_at, seen_by)
     SELECT run_id, 'failures', failed || ' of ' || all_of || ' not delivered; usually 2 of 100.', last + interval '2 minutes', last + interval '19 minutes', 1
     FROM (SELECT run_id, count(*) FILTER (WHERE reason = 'refused by the carrier') AS failed, count(*) AS all_of, max(handed_at) AS last
           FROM outbound WHERE kind = 'run' GROUP BY run_id) AS r WHERE failed * 3 > all_of`,
  );
}

/** Texts to oneself before something went to many. */
async function makeTests(tx: Tx, ago: Ago): Promise<void> {
  for (const [days, words] of [
    [24, 'Winter timetable: first boat is the 7:10 AM Heron.\nSTOP to opt out'],
    [18, 'Mabel: berth C-59 renews on Jan 15. Do you keep it? Reply 1 yes, 2 no. Ottermere Boathouse\nSTOP to opt out'],
    [3, 'Winter timetable: the 7:10 AM Heron again.\nSTOP to opt out'],
  ] as const) {
    const { alphabet, parts } = measure(words);
    await tx.query(
      `INSERT INTO outbound (kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, handed_at, final_at, billed, account_id)
       VALUES ('test', '+12075550100', 1, $1, $2, $3::smallint, $3::int * ${PRICE}, $4::timestamptz, $4::timestamptz + interval '1 hour', 'delivered', $4::timestamptz, $4::timestamptz + interval '4 seconds', $3::smallint, 1)`,
      [words, alphabet, parts, ago(days, 9)],
    );
  }
}

/** Who did what over the months: what the record would hold of it. */
async function makeRecord(tx: Tx, ago: Ago): Promise<void> {
  const entries: (readonly [days: number, by: number, act: string, subject: string, detail?: object])[] = [
    [380, 1, 'changed the settings', ''],
    [380, 1, 'added a sender', 'Ferry desk'],
    [379, 1, 'added a sender', 'Boathouse'],
    [378, 1, 'brought in people', IMPORTS[0][0], { import: 1 }],
    [369, 1, 'added to the balance', '', { amount_micro: 150_000_000 }],
    [240, 1, 'brought in people', IMPORTS[1][0], { import: 2 }],
    [150, 1, 'invited someone', 'write'],
    [140, 2, 'changed a person', '12'],
    [121, 2, 'made a segment', 'Pass holders, North Landing'],
    [96, 2, 'brought in people', IMPORTS[2][0], { import: 3 }],
    [96, 1, 'undid an import', IMPORTS[2][0], { import: 3 }],
    [88, 1, 'brought in people', IMPORTS[3][0], { import: 4 }],
    [80, 1, 'added to the balance', '', { amount_micro: 600_000_000 }],
    [61, 2, 'erased a person', '2600'],
    [52, 2, 'wrote down consent granted', '40', { purpose: 'marketing' }],
    [40, 2, 'brought in codes', 'Guest crossings, winter', { codes: 60 }],
    [30, 1, 'added a keyword', 'FERRY'],
    [17, 2, 'made one person of two', '57', { other: 2601 }],
    [9, 1, 'changed how the carrier writes', ''],
    [4, 2, 'changed a person', '23'],
  ];
  for (const [days, by, act, subject, detail] of entries)
    await tx.query(
      `INSERT INTO record (at, account_id, act, subject, detail) SELECT $1::timestamptz, id, $3, $4, $5::jsonb FROM account ORDER BY (id = $2::bigint) DESC LIMIT 1`,
      [ago(days), by, act, subject, JSON.stringify(detail ?? {})],
    );
}
