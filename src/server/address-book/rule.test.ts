import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Condition } from '../../core/audience/condition';
import { decide, type PersonFacts, type Today } from '../../core/audience/decide';
import type { FieldType } from '../../core/merge/compile';
import { foldedOf } from '../../core/people/person-fields';
import { localInstant } from '../../core/zones';
import { iso } from '../../core/clock';
import type { Db } from '../db/db';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { makeWorkspace } from '../engine/testing/world';
import { insertPeople, type StoredPerson } from './person-store';
import { factsOf } from '../people/segments/facts';
import { Binder, ruleSql } from './rule-sql';

// the night clocks go back: 2026-11-01 has 25 hours in New York, so "days ago" must not be counted in hours
const TODAY: Today = { day: '2026-11-02', zone: 'America/New_York' };
const TYPES = new Map<string, FieldType>([
  ['landing', 'text'],
  ['ends', 'date'],
  ['crew', 'number'],
  ['paid', 'yes_no'],
]);
const CHILD_TYPES = new Map<string, FieldType>([['class', 'choice']]);
const WORDS = ['Mill Quay', 'mill  quay', 'Île d’Orléans', 'ile d’orleans', 'Ørsted', '%_\\', 'a', 'É', '10', ''];
const DAYS = ['2026-10-31', '2026-11-01', '2026-11-02', '2026-11-03', '2026-12-02', '2024-02-29'];
// instants just before, at and after local midnights, through the change of clocks
const INSTANTS = DAYS.slice(0, 4).flatMap((day) => {
  const midnight = localInstant(day, '00:00', TODAY.zone).instant;
  return [midnight - 1, midnight, midnight + 3_600_000];
});

const text = fc.constantFrom(...WORDS);
const person = fc.record({
  given_name: text,
  family_name: fc.constantFrom('Aalto', 'Sørensen', ''),
  reference: fc.option(fc.constantFrom('P-1', 'p-1', '7'), { nil: null }),
  number: fc.option(fc.integer({ min: 100, max: 130 }), { nil: null }),
  kind: fc.constantFrom('either', 'mobile', 'fixed'),
  language: fc.option(fc.constantFrom('en', 'fr'), { nil: null }),
  born: fc.option(fc.constantFrom(...DAYS), { nil: null }),
  landing: text,
  ends: fc.constantFrom(...DAYS, ''),
  crew: fc.constantFrom('0', '0.1', '3', '-2.5', '100', ''),
  paid: fc.constantFrom('yes', 'no', ''),
  lists: fc.subarray([1, 2, 3]),
  tags: fc.subarray([1, 2]),
  consents: fc.array(
    fc.record({
      purpose: fc.constantFrom('service', 'marketing'),
      act: fc.constantFrom('granted', 'withdrawn', 'cleared'),
      own: fc.boolean(),
    }),
    { maxLength: 3 },
  ),
  texts: fc.array(
    fc.record({
      state: fc.constantFrom('planned', 'with_carrier', 'delivered', 'not_delivered', 'expired', 'not_sent'),
      at: fc.constantFrom(...INSTANTS),
      clicked: fc.boolean(),
    }),
    { maxLength: 3 },
  ),
  answers: fc.array(fc.record({ kind: fc.constantFrom('reply', 'stop', 'maybe_stop'), at: fc.constantFrom(...INSTANTS) }), {
    maxLength: 2,
  }),
  children: fc.array(
    fc.record({
      name: text,
      class: fc.constantFrom('Pike', 'Otters', ''),
      contact: fc.integer({ min: 1, max: 3 }),
      must_not: fc.boolean(),
    }),
    { maxLength: 2 },
  ),
});

const days = fc.constantFrom(0, 1, 2, 30);
const field = (slugs: string[]): fc.Arbitrary<Condition> =>
  fc.oneof(
    fc.record({
      on: fc.constant('field' as const),
      field: fc.constantFrom(...slugs),
      test: fc.constantFrom('is' as const, 'is_not' as const, 'has' as const, 'starts' as const),
      values: fc.array(text, { minLength: 1, maxLength: 3 }),
    }),
    fc.record({
      on: fc.constant('field' as const),
      field: fc.constantFrom(...slugs),
      test: fc.constantFrom('empty' as const, 'filled' as const),
    }),
  );
const leaf: fc.Arbitrary<Condition> = fc.oneof(
  field(['given_name', 'family_name', 'reference', 'landing', 'language', 'kind', 'paid']),
  fc.record({
    on: fc.constant('field' as const),
    field: fc.constant('crew'),
    test: fc.constantFrom('equals' as const, 'less' as const, 'more' as const, 'at_least' as const, 'at_most' as const),
    number: fc.constantFrom(0, 0.1, 3, -2.5, 1000),
  }),
  fc.record({
    on: fc.constant('field' as const),
    field: fc.constantFrom('ends', 'born'),
    test: fc.constantFrom('on' as const, 'before' as const, 'after' as const),
    day: fc.constantFrom(...DAYS),
  }),
  fc.record({
    on: fc.constant('field' as const),
    field: fc.constantFrom('ends', 'born'),
    test: fc.constantFrom('next_days' as const, 'last_days' as const, 'later_than' as const, 'longer_ago' as const),
    days,
  }),
  fc.record({
    on: fc.constant('field' as const),
    field: fc.constantFrom('ends', 'born', 'landing'),
    test: fc.constantFrom('years_at_least' as const, 'years_less' as const),
    years: fc.constantFrom(0, 1, 2, 60),
  }),
  fc.record(
    {
      on: fc.constantFrom('list' as const, 'tag' as const),
      ids: fc.subarray([1, 2, 3, 99]),
      not: fc.constant(true as const),
    },
    { requiredKeys: ['on', 'ids'] },
  ),
  fc.record({
    on: fc.constant('consent' as const),
    purpose: fc.constantFrom('service' as const, 'marketing' as const),
    is: fc.constantFrom('granted' as const, 'withdrawn' as const, 'nothing' as const),
  }),
  fc.record({
    on: fc.constant('reach' as const),
    is: fc.constantFrom(
      'yes' as const,
      'no' as const,
      'no text number' as const,
      'opted out' as const,
      'fixed line' as const,
      'notices withdrawn' as const,
      'notices not agreed' as const,
    ),
  }),
  fc.record({
    on: fc.constant('activity' as const),
    what: fc.constantFrom(
      'texted' as const,
      'delivered' as const,
      'not_delivered' as const,
      'answered' as const,
      'clicked' as const,
      'opted_out' as const,
    ),
    when: fc.constantFrom('ever' as const, 'last_days' as const, 'longer_ago' as const, 'not_days' as const, 'never' as const),
    days,
  }),
  fc.record({
    on: fc.constant('dependant' as const),
    contact: fc.constantFrom('any' as const, 'first' as const, 'second' as const),
    of: fc.oneof(
      field(['given_name', 'class']),
      fc.record({
        op: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
        of: fc.array(field(['given_name', 'class']), { maxLength: 2 }),
      }),
    ),
  }),
);
const { rule } = fc.letrec<{ rule: Condition }>((tie) => ({
  rule: fc.oneof(
    { depthSize: 'small', maxDepth: 3 },
    leaf,
    fc.record({
      op: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
      of: fc.array(tie('rule'), { maxLength: 3 }),
    }),
  ),
}));

async function fill(db: Db, people: (typeof person extends fc.Arbitrary<infer P> ? P : never)[]): Promise<void> {
  const at = iso(INSTANTS[0]);
  await db.transaction(async (tx) => {
    await tx.query(
      `INSERT INTO list (id, name, created_at) SELECT n, 'list ' || n, $1::timestamptz FROM generate_series(1, 3) AS n`,
      [at],
    );
    await tx.query(`INSERT INTO tag (id, name) SELECT n, 'tag ' || n FROM generate_series(1, 2) AS n`);
    await tx.query(
      `INSERT INTO suppression (number, at, how) SELECT '+12075550' || n, $1::timestamptz + (n - 100) * interval '6 hours', 'texted' FROM generate_series(100, 112) AS n`,
      [at],
    );
    const stored = people.map((p, i): StoredPerson => ({
      id: i + 1,
      given_name: p.given_name,
      family_name: p.family_name,
      reference: p.reference,
      number: p.number === null ? null : `+12075550${p.number}`,
      number_country: p.number === null ? null : 'US',
      number_kind: p.number === null ? null : p.kind,
      kind_source: null,
      language: p.language,
      zone: null,
      zone_guessed: false,
      born: p.born,
      quiet: null,
      fields: { landing: p.landing, ends: p.ends, crew: p.crew, paid: p.paid },
    }));
    await insertPeople(tx, stored, TYPES, { at, importId: null });
    for (const [i, p] of people.entries()) {
      const id = i + 1;
      const number = stored[i].number;
      await tx.query(`INSERT INTO list_member (person_id, list_id) SELECT $1, unnest($2::bigint[])`, [id, p.lists]);
      await tx.query(`INSERT INTO person_tag (person_id, tag_id) SELECT $1, unnest($2::bigint[])`, [id, p.tags]);
      for (const c of p.consents)
        await tx.query(
          `INSERT INTO consent_event (person_id, number, purpose, act, how, at) VALUES ($1, $2, $3, $4, 'test', $5::timestamptz)`,
          [id, (c.own ? number : null) ?? '+12075550999', c.purpose, c.act, at],
        );
      for (const t of p.texts) {
        const handed = t.state === 'planned' || t.state === 'not_sent' ? null : iso(t.at);
        const { rows } = await tx.query<{ id: number }>(
          `INSERT INTO outbound (kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, handed_at, final_at)
           VALUES ('test', $1, '+1', 1, '', 'gsm7', 1, 0, $2::timestamptz, $2::timestamptz, $3, $4::timestamptz, $5::timestamptz) RETURNING id`,
          [id, at, t.state, handed, ['delivered', 'not_delivered', 'expired'].includes(t.state) ? iso(t.at) : null],
        );
        await tx.query(
          `INSERT INTO link (token, outbound_id, number, address, clicked_at) VALUES ($1, $2, '+12075550999', '', $3::timestamptz)`,
          [`t${rows[0].id}`, rows[0].id, t.clicked ? iso(t.at) : null],
        );
      }
      for (const a of p.answers)
        await tx.query(
          `INSERT INTO inbound (received_at, number, to_address, body, kind, person_id) VALUES ($1::timestamptz, '+1', '', '', $2, $3)`,
          [iso(a.at), a.kind, id],
        );
      for (const c of p.children) {
        const child = { given_name: c.name, family_name: '', reference: null, fields: { class: c.class } };
        const { rows } = await tx.query<{ id: number }>(
          `INSERT INTO dependant (given_name, fields, folded, created_at, updated_at) VALUES ($1, $2::jsonb, $3::jsonb, $4::timestamptz, $4::timestamptz) RETURNING id`,
          [c.name, JSON.stringify(child.fields), JSON.stringify(foldedOf(child, CHILD_TYPES)), at],
        );
        await tx.query(`INSERT INTO guardianship (dependant_id, person_id, contact, must_not_receive) VALUES ($1, $2, $3, $4)`, [
          rows[0].id,
          id,
          c.contact,
          c.must_not,
        ]);
      }
    }
  });
}

describe.each(ENGINES)('rules in SQL on %s', (engine) => {
  test('agree with core for 10,000 random pairs of a rule and a person: accents, missing values, midnights', async () => {
    const db = await emptyDb(engine);
    await makeWorkspace(db);
    await fill(db, fc.sample(person, { numRuns: 40, seed: 7 }));
    const facts: Map<number, PersonFacts> = await factsOf(
      db,
      Array.from({ length: 40 }, (_, i) => i + 1),
    );
    expect(facts.size).toBe(40);
    let pairs = 0;
    let yes = 0;
    await fc.assert(
      fc.asyncProperty(rule, async (tree) => {
        const binder = new Binder();
        const sql = ruleSql(tree, binder, TODAY);
        const { rows } = await db.query<{ id: number }>(`SELECT id FROM person WHERE ${sql} ORDER BY id`, binder.params);
        const ours = [...facts].filter(([, each]) => decide(tree, each, TODAY)).map(([id]) => id);
        pairs += facts.size;
        yes += ours.length;
        expect(rows.map((row) => row.id)).toEqual(ours);
      }),
      { numRuns: 300, seed: 20261102 },
    );
    // and where notices go to those only who have agreed to them
    await db.query(`UPDATE workspace SET notices = 'granted'`);
    const agreed = await factsOf(db, [...facts.keys()]);
    expect([...agreed.values()].some(({ reach }) => reach === 'notices not agreed')).toBe(true);
    for (const is of [
      'yes',
      'no',
      'no text number',
      'opted out',
      'fixed line',
      'notices withdrawn',
      'notices not agreed',
    ] as const) {
      const tree = { on: 'reach' as const, is };
      const binder = new Binder();
      const sql = ruleSql(tree, binder, TODAY);
      const { rows } = await db.query<{ id: number }>(`SELECT id FROM person WHERE ${sql} ORDER BY id`, binder.params);
      expect(rows.map((row) => row.id)).toEqual([...agreed].filter(([, each]) => decide(tree, each, TODAY)).map(([id]) => id));
    }
    expect(pairs).toBeGreaterThanOrEqual(10_000);
    // the rules are neither all true nor all false
    expect(yes / pairs).toBeGreaterThan(0.1);
    expect(yes / pairs).toBeLessThan(0.9);
  });
});
