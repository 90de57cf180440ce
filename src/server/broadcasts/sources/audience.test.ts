import { describe, expect, test } from 'vitest';
import type { Condition } from '../../../core/audience/condition';
import { EMPTY_DRAFT, type Draft, type Source } from '../../../core/plan/draft/draft';
import type { Db } from '../../db/db';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { makeWorkspace, NOW } from '../../engine/testing/world';
import { fieldTypes, insertPeople, peopleById, updatePeople, type StoredPerson } from '../../address-book/person-store';
import { TAKEBACK_SECONDS } from '../../../core/plan/times/when';
import { PlanDesk } from '../planning/plan-desk';
import { makePlan } from '../testing';

const AT = new Date(NOW).toISOString();

const person = (id: number, given: string, more: Partial<StoredPerson> = {}): StoredPerson => ({
  id,
  given_name: given,
  family_name: '',
  reference: null,
  number: `+1207555010${id}`,
  number_country: 'US',
  number_kind: 'either',
  kind_source: null,
  language: 'en',
  zone: 'America/New_York',
  zone_guessed: false,
  born: null,
  quiet: null,
  fields: {},
  ...more,
});

/**
 * Noor (Pike) and Sami (Otters) are Ana's; Noor's second contact is Leo. Mika (Pike) is Dao's, who has a fixed line, and second
 * Rosa's; Ida (Pike) is Ben's, who must not receive. Tess is 16 and a member herself.
 */
async function world(engine: (typeof ENGINES)[number]): Promise<Db> {
  const db = await emptyDb(engine);
  await makeWorkspace(db);
  await db.query(`UPDATE workspace SET languages = '{en,fr}'`);
  await db.query(`INSERT INTO field_def (about, slug, label, type) VALUES ('dependant', 'class', 'class', 'choice')`);
  await db.transaction(async (tx) =>
    insertPeople(
      tx,
      [
        person(1, 'Ana'),
        person(2, 'Leo'),
        person(3, 'Dao', { number_kind: 'fixed' }),
        person(4, 'Rosa', { language: 'fr' }),
        person(5, 'Ben'),
        person(6, 'Tess', { born: '2010-05-05' }),
      ],
      await fieldTypes(tx),
      { at: AT, importId: null },
    ),
  );
  const children: [number, string, string, [number, number, boolean][]][] = [
    [
      1,
      'Noor',
      'Pike',
      [
        [1, 1, false],
        [2, 2, false],
      ],
    ],
    [2, 'Sami', 'Otters', [[1, 1, false]]],
    [
      3,
      'Mika',
      'Pike',
      [
        [3, 1, false],
        [4, 2, false],
      ],
    ],
    [4, 'Ida', 'Pike', [[5, 1, true]]],
    [5, 'Lou', 'Pike', [[1, 1, false]]],
  ];
  for (const [id, name, group, contacts] of children) {
    await db.query(
      `INSERT INTO dependant (id, given_name, fields, folded, sort_name, created_at, updated_at) VALUES ($1, $2, $3::jsonb, $4::jsonb, $5, $6::timestamptz, $6::timestamptz)`,
      [
        id,
        name,
        JSON.stringify({ class: group }),
        JSON.stringify({ given_name: name.toLowerCase(), class: group.toLowerCase() }),
        name.toLowerCase(),
        AT,
      ],
    );
    for (const [who, contact, mustNot] of contacts)
      await db.query(`INSERT INTO guardianship VALUES ($1, $2, $3, $4)`, [id, who, contact, mustNot]);
  }
  await db.query(`INSERT INTO list (id, name, created_at) VALUES (1, 'Parents', $1::timestamptz)`, [AT]);
  await db.query(`INSERT INTO list_member SELECT 1, id FROM person WHERE id <> 6`);
  return db;
}
const segment = async (db: Db, rule: Condition): Promise<Source> => {
  const { rows } = await db.query<{ id: number }>(
    `INSERT INTO segment (name, rule, created_at, updated_at) VALUES ($1, $2::jsonb, $3::timestamptz, $3::timestamptz) RETURNING id`,
    [JSON.stringify(rule).slice(0, 90), JSON.stringify(rule), AT],
  );
  return { kind: 'segment', id: rows[0].id };
};
const pike = (contact: 'any' | 'first' | 'second'): Condition => ({
  on: 'dependant',
  contact,
  of: { op: 'all', of: [{ on: 'field', field: 'class', test: 'is', values: ['pike'] }] },
});
const planOf = (db: Db, part: Partial<Draft>) =>
  makePlan(
    db,
    {
      ...EMPTY_DRAFT,
      sender_id: 1,
      opt_out: 'none',
      words: '{dependants.given_name or "your sailor"}. Ottermere Ferry',
      ...part,
    },
    NOW,
  );
const words = async (db: Db, part: Partial<Draft>) =>
  Object.fromEntries((await planOf(db, part)).texts.map((text) => [text.person.given_name, text.text.split('.')[0]]));

describe.each(ENGINES)('audiences on %s', (engine) => {
  test('notices go to whoever has not withdrawn, or to those only who have agreed, as the workspace has it', async () => {
    const db = await world(engine);
    const to: Draft['to'] = [1, 2, 4].map((id) => ({ kind: 'person', id }));
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) SELECT id, number, 'service', 'granted', 'paper form', $1::timestamptz FROM person WHERE id = 2`,
      [AT],
    );
    const got = async () => Object.keys(await words(db, { to, words: 'Ferry off.' })).sort();
    expect(await got()).toEqual(['Ana', 'Leo', 'Rosa']);
    await db.query(`UPDATE workspace SET notices = 'granted'`);
    expect(await got()).toEqual(['Leo']);
  });

  test('first contacts of a class: one text names both children, those the audience matched and no others', async () => {
    const db = await world(engine);
    // Ana's Sami is in another class, so only Noor and Lou are named; Ben must not receive; Dao has a fixed line
    expect(await words(db, { to: [await segment(db, pike('first'))] })).toEqual({ Ana: 'Lou and Noor' });
    expect(await words(db, { to: [await segment(db, pike('any'))] })).toEqual({ Ana: 'Lou and Noor', Leo: 'Noor', Rosa: 'Mika' });
  });

  test('sources together unite the children; a list names all of someone’s, as the words around read', async () => {
    const db = await world(engine);
    const otters: Condition = {
      ...pike('any'),
      of: { on: 'field', field: 'class', test: 'is', values: ['Otters'] },
    } as Condition;
    expect(await words(db, { to: [await segment(db, pike('first')), await segment(db, otters)] })).toEqual({
      Ana: 'Lou, Noor and Sami',
    });
    await db.query(`INSERT INTO guardianship VALUES (2, 4, 2, false)`);
    const to: Source[] = [{ kind: 'list', id: 1 }];
    // Rosa reads French; as long as there are only English words, the list is English, too
    expect(await words(db, { to })).toMatchObject({ Ana: 'Lou, Noor and Sami', Rosa: 'Mika and Sami' });
    expect(await words(db, { to, translations: { fr: '{dependants.given_name}.' } })).toMatchObject({
      Ana: 'Lou, Noor and Sami',
      Rosa: 'Mika et Sami',
    });
  });

  test('who must not receive hears what is not about the child, and nothing that is', async () => {
    const db = await world(engine);
    const about = await planOf(db, { to: [{ kind: 'list', id: 1 }] });
    expect(about.dropped.must_not.map((p) => p.given_name)).toEqual(['Ben']);
    const other = { to: [{ kind: 'list' as const, id: 1 }], words: 'The boathouse is closed. Ottermere' };
    const asked = await planOf(db, other);
    expect(asked.texts.map((text) => text.person.given_name)).toContain('Ben');
    // nobody knows for whom he is on the list: that is asked before anything goes
    expect(asked.summary.must_fix.map(({ check, step }) => [check, step])).toEqual([['barred', 'barred']]);
    expect(asked.hinted.get('barred')?.people.map((p) => p.given_name)).toEqual(['Ben']);
    const gets = await planOf(db, { ...other, barred: 'get_it' });
    expect(gets.summary.must_fix).toEqual([]);
    expect(gets.texts.map((text) => text.person.given_name)).toContain('Ben');
    const without = await planOf(db, { ...other, barred: 'leave_out' });
    expect(without.summary.must_fix).toEqual([]);
    expect(without.dropped.must_not_here.map((p) => p.given_name)).toEqual(['Ben']);
  });

  test('who is on a list for a dependant they must not hear about never gets what goes to it, whatever the words', async () => {
    const db = await world(engine);
    // Ben is there for Ida; Ana for Noor, of her three
    await db.query(`INSERT INTO list_member_for (list_id, person_id, dependant_id) VALUES (1, 5, 4), (1, 1, 1)`);
    const closed = await planOf(db, { to: [{ kind: 'list', id: 1 }], words: 'The boathouse is closed. Ottermere' });
    expect(closed.summary.must_fix).toEqual([]);
    expect(closed.dropped.must_not_here.map((p) => p.given_name)).toEqual(['Ben']);
    const named = await planOf(db, { to: [{ kind: 'list', id: 1 }], words: '{dependants.given_name or "All"}. Ottermere' });
    expect(named.texts.find(({ person: { given_name } }) => given_name === 'Ana')?.text).toMatch(/^Noor\./);
    expect(named.summary.hints.map(({ check }) => check)).not.toContain('dependants named');
    // barred from another dependant, they are there for the one they may hear about
    await db.query(`INSERT INTO guardianship VALUES (1, 5, 3, false)`);
    await db.query(`INSERT INTO list_member_for (list_id, person_id, dependant_id) VALUES (1, 5, 1)`);
    const may = await planOf(db, { to: [{ kind: 'list', id: 1 }], words: '{dependants.given_name or "All"}. Ottermere' });
    expect(may.texts.find(({ person: { given_name } }) => given_name === 'Ben')?.text).toMatch(/^Noor\./);
  });

  test('where nobody knows for whom people are on a list, it is said that all of theirs are named', async () => {
    const db = await world(engine);
    const plan = await planOf(db, {
      to: [{ kind: 'list', id: 1 }],
      words: '{dependants.given_name or "All"}. Ottermere',
      barred: 'leave_out',
    });
    expect(plan.summary.hints.find(({ check }) => check === 'dependants named')?.message).toMatch(
      /^The texts name 4 dependants\. It is not known for whom 1 person is chosen/,
    );
    expect(plan.hinted.get('names_all')?.people.map((p) => p.given_name)).toEqual(['Ana']);
  });

  test('and one can say whom the texts are about: they name those, and nobody hears of one that they must not', async () => {
    const db = await world(engine);
    const part = {
      to: [{ kind: 'list', id: 1 }] as Source[],
      words: '{dependants.given_name or "All"}. Ottermere',
      barred: 'leave_out' as const,
    };
    const desk = new PlanDesk(db);
    // of Ana's three: Noor and Lou are in Pike, Sami in Otters
    expect(await desk.aboutWhom({ ...EMPTY_DRAFT, sender_id: 1, ...part }, NOW)).toEqual([
      { field: 'class', label: 'class', value: 'Otters', people: 1 },
      { field: 'class', label: 'class', value: 'Pike', people: 1 },
    ]);
    const about = await planOf(db, { ...part, about: { field: 'class', values: ['Otters'] } });
    const said = Object.fromEntries(about.texts.map(({ person: { given_name }, text }) => [given_name, text.split('.')[0]]));
    expect(said.Ana).toBe('Sami');
    // Leo's, Dao's and Rosa's are all in Pike: they are written to, and nobody is named
    expect(said.Rosa).toBe('All');
    expect(about.summary.hints.map(({ check }) => check)).not.toContain('dependants named');
    // without the field nobody would be named: that is said, and is to be put right
    const gone = await planOf(db, { ...part, about: { field: 'house', values: ['Otters'] } });
    expect(gone.summary.must_fix.map(({ message }) => message)).toEqual([
      'The field of dependants that says whom the texts are about has been deleted. Take it away, or choose another.',
    ]);
    // Ana must not hear about Sami: about Otters there is nothing that she may be told
    await db.query(`UPDATE guardianship SET must_not_receive = true WHERE person_id = 1 AND dependant_id = 2`);
    const barred = await planOf(db, { ...part, about: { field: 'class', values: ['Otters'] } });
    expect(barred.dropped.must_not_here.map((p) => p.given_name)).toContain('Ana');
    expect(
      (await planOf(db, { ...part, about: { field: 'class', values: ['Pike'] } })).texts.map(({ text }) => text).join(),
    ).toMatch(/Lou and Noor\./);
  });

  test('dependants chosen one by one: of each the first contact who may hear about them, and the texts name those and nobody else', async () => {
    const db = await world(engine);
    const ids = async (...names: string[]) =>
      (await db.query<{ id: number }>(`SELECT id FROM dependant WHERE given_name = ANY ($1::text[])`, [names])).rows.map(
        ({ id }) => id,
      );
    expect(await words(db, { to: [{ kind: 'dependants', ids: await ids('Lou') }] })).toEqual({ Ana: 'Lou' });
    await db.query(`UPDATE guardianship SET must_not_receive = true WHERE person_id = 1 AND dependant_id = ANY ($1::bigint[])`, [
      await ids('Lou'),
    ]);
    const others = await words(db, { to: [{ kind: 'dependants', ids: await ids('Lou') }] });
    expect(others).not.toHaveProperty('Ana');
    // one who is gone names nobody
    expect(await words(db, { to: [{ kind: 'dependants', ids: [99_999] }] })).toEqual({});
  });

  test('the second contact steps in for one who cannot be texted, not for one who is reached', async () => {
    const db = await world(engine);
    const to = [await segment(db, pike('first'))];
    const without = await planOf(db, { to });
    expect(without.summary).toMatchObject({ people: 1, stepped_in: 0, can_step_in: 1 });
    const plan = await planOf(db, { to, second_contacts: true });
    expect(plan.summary).toMatchObject({ people: 2, stepped_in: 1 });
    expect(plan.texts.map((text) => [text.person.given_name, text.text.split('.')[0]]).sort()).toEqual([
      ['Ana', 'Lou and Noor'],
      ['Rosa', 'Mika'],
    ]);
    expect(plan.dropped.fixed_line.map((p) => p.given_name)).toEqual(['Dao']);
  });

  test('where the second contact cannot be texted either, the third steps in: what is promised is what happens', async () => {
    const db = await world(engine);
    const to = [await segment(db, pike('first'))];
    await db.query(`UPDATE person SET number_kind = 'fixed' WHERE id = 4`);
    await db.query(`INSERT INTO guardianship VALUES (3, 2, 3, false)`);
    const promised = (await planOf(db, { to })).summary.can_step_in;
    const plan = await planOf(db, { to, second_contacts: true });
    expect([promised, plan.summary.stepped_in]).toEqual([1, 1]);
    expect(plan.texts.map((text) => text.person.given_name).sort()).toEqual(['Ana', 'Leo']);
    await db.query(`UPDATE person SET number = NULL WHERE id = 2`);
    expect((await planOf(db, { to })).summary.can_step_in).toBe(0);
  });

  test('a list that an import is still filling is noticed, also left out, also behind a segment', async () => {
    const db = await world(engine);
    await db.query(`UPDATE list SET filling_import = 7`);
    const list: Source = { kind: 'list', id: 1 };
    const behind = await segment(db, { on: 'list', ids: [1] });
    const person: Source = { kind: 'person', id: 6 };
    const said = async (part: Partial<Draft>) => (await planOf(db, part)).summary.must_fix.map((each) => each.message).join(' ');
    expect(await said({ to: [list] })).toContain('still being brought into “Parents”.');
    expect(await said({ to: [behind] })).toContain('still being brought into “Parents”.');
    expect(await said({ to: [person], leave_out: [list] })).toContain('which is left out');
    expect(await said({ to: [person], leave_out: [behind] })).toContain('which is left out');
    expect(await said({ to: [person] })).not.toContain('brought into');
  });

  test('minors get notices and no marketing, whatever is on record', async () => {
    const db = await world(engine);
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) SELECT id, number, 'marketing', 'granted', 'form', $1::timestamptz FROM person`,
      [AT],
    );
    const to: Source[] = [{ kind: 'person', id: 6 }];
    expect((await planOf(db, { to })).texts).toHaveLength(1);
    const plan = await planOf(db, { to, purpose: 'marketing' });
    expect(plan.texts).toHaveLength(0);
    expect(plan.dropped.minor).toHaveLength(1);
  });

  test('typed numbers: someone’s is that person; nobody’s gets the fallback; unticked by number; never twice', async () => {
    const db = await world(engine);
    const numbers = ['+12075550101', '+17035550101', '+17035550102'];
    const to: Source[] = [
      { kind: 'numbers', numbers },
      { kind: 'numbers', numbers: ['+17035550101'] },
      { kind: 'person', id: 1 },
    ];
    const plan = await planOf(db, { to, words: '{given_name or "neighbor"}. Ottermere' });
    expect(plan.texts.map((text) => [text.number, text.text.split('.')[0]]).sort()).toEqual([
      ['+12075550101', 'Ana'],
      ['+17035550101', 'Neighbor'],
      ['+17035550102', 'Neighbor'],
    ]);
    expect(plan.summary).toMatchObject({ chosen: 3, named_twice: 2 });
    const unticked = await planOf(db, { to, unticked_numbers: ['+17035550102'], words: 'x' });
    expect(unticked.dropped.unticked).toHaveLength(1);
    // a withdrawn word of any who share the number counts for the bare number
    await db.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, at) VALUES (1, '+12075550101', 'service', 'withdrawn', 'desk', $1::timestamptz)`,
      [AT],
    );
    expect(
      (await planOf(db, { to: [{ kind: 'numbers', numbers: ['+12075550101'] }], words: 'x' })).dropped.no_consent,
    ).toHaveLength(1);
  });

  test('numbers that did not exist before are left out when so chosen', async () => {
    const db = await world(engine);
    const sent = (state: string, reason: string | null) =>
      db.query(
        `INSERT INTO outbound (kind, person_id, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, reason) VALUES ('test', 1, '+12075550101', 1, '', 'gsm7', 1, 0, $1::timestamptz, $1::timestamptz, $2, $3)`,
        [AT, state, reason],
      );
    await sent('not_delivered', 'number does not exist');
    const draft = { to: [{ kind: 'list' as const, id: 1 }], leave_out: [{ kind: 'unreachable' as const }], words: 'x' };
    expect((await planOf(db, draft)).dropped.unreachable.map((p) => p.given_name)).toEqual(['Ana']);
    expect((await planOf(db, { ...draft, leave_out: [] })).dropped.unreachable).toEqual([]);
    await sent('delivered', null);
    expect((await planOf(db, draft)).dropped.unreachable).toEqual([]);
  });

  test('do-not-disturb hours delay as quiet hours do, for that person only', async () => {
    const db = await world(engine);
    // NOW is 3:50 PM in New York
    await db.transaction(async (tx) => {
      const [ana] = await peopleById(tx, [1]);
      await updatePeople(tx, [{ ...ana, quiet: '15:00-17:30' }], await fieldTypes(tx), AT);
    });
    const plan = await planOf(db, {
      to: [
        { kind: 'person', id: 1 },
        { kind: 'person', id: 2 },
      ],
      words: 'x',
    });
    const due = Object.fromEntries(plan.texts.map((text) => [text.person.given_name, new Date(text.due).toISOString()]));
    expect(due.Ana).toBe('2026-12-02T22:30:00.000Z');
    expect(due.Leo).toBe(new Date(NOW + TAKEBACK_SECONDS * 1000).toISOString());
  });

  test('a list that was deleted since must be seen to: nobody to be left out slips in', async () => {
    const db = await world(engine);
    await db.query(`INSERT INTO list (id, name, created_at) VALUES (9, 'Crew', $1::timestamptz)`, [AT]);
    const draft = {
      to: [{ kind: 'list' as const, id: 1 }],
      leave_out: [{ kind: 'list' as const, id: 9 }],
      words: 'x',
      barred: 'get_it' as const,
    };
    expect((await planOf(db, draft)).summary.must_fix).toEqual([]);
    await db.query(`DELETE FROM list WHERE id = 9`);
    expect((await planOf(db, draft)).summary.must_fix.map((each) => each.message)).toEqual([
      'A list that it leaves out has been deleted. Take it away, or choose another.',
    ]);
  });
});
