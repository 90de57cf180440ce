import { describe, expect, test } from 'vitest';
import { RUN_OUTCOMES, type RunOutcome } from '../../../core/outcome/outcomes';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { NOW } from '../../engine/testing/world';
import { changeMany, undoMany } from '../../people/bulk';
import { countPeople, filterOf } from '../../people/people-queries';
import { recipientsOf } from '../run/recipient-queries';
import { followUp, runToFollow } from '../draft/follow-up';
import { namedByRun } from './named-by-run';
import { makePlan, pressAndStore, presser, world } from '../testing';

/** A run to Ana, Inès, the one without a name, and a number that is nobody's; then what became of each. */
async function afterwards(engine: (typeof ENGINES)[number]) {
  const { db, draft } = await world(engine, {
    to: [
      { kind: 'list', id: 1 },
      { kind: 'numbers', numbers: ['+12075550177'] },
    ],
    words: 'Ottermere: {link map}',
    links: [{ name: 'map', address: 'https://example.org/m' }],
  });
  const { digest } = await makePlan(db, draft, NOW);
  await pressAndStore(
    presser(db, NOW),
    { broadcastId: 1, version: 1, digest, pressId: 'press-one' },
    { account: undefined, now: NOW, at: new Date(NOW).toISOString() },
  );
  const became: [string, string][] = [
    ['+12075550101', 'delivered'],
    ['+16125550103', 'delivered'],
    ['+12075550104', 'not_delivered'],
    ['+12075550177', 'uncertain'],
  ];
  for (const [number, state] of became)
    await db.query(`UPDATE outbound SET state = $2, open = 0 WHERE number = $1`, [number, state]);
  await db.query(`UPDATE run SET state = 'finished', started_at = due_at, ended_at = due_at`);
  await db.query(
    `INSERT INTO inbound (received_at, number, to_address, body, kind, run_id) VALUES ('2026-12-02T21:00:00Z', '+16125550103', '72345', 'Yes, 100% coming', 'reply', 1)`,
  );
  await db.query(`UPDATE link SET clicked_at = '2026-12-02T21:01:00Z' WHERE number = '+12075550101'`);
  return { db, draft };
}
const named = async (db: Db, outcome: RunOutcome, words?: string) =>
  (await namedByRun(db, { kind: 'run', id: 1, outcome, words, name: '' })).map((each) =>
    typeof each === 'number' ? each : each.number,
  );

const asked = { account: undefined, at: new Date(NOW).toISOString() };
const TODAY = { day: '2026-12-02', zone: 'America/New_York' };

describe.each(ENGINES)('whom an earlier run’s outcome names, on %s', (engine) => {
  test('recipients of a run: by outcome, and found by number however it is written', async () => {
    const { db } = await afterwards(engine);
    const of = async (wanted: Parameters<typeof recipientsOf>[2]) =>
      (await recipientsOf(db, 1, wanted)).map(({ number }) => number).sort();
    expect(await of({})).toHaveLength(4);
    expect(await of({ outcome: 'answered' })).toEqual(['+16125550103']);
    expect(await of({ outcome: 'not_answered' })).toEqual(['+12075550101']);
    expect(await of({ outcome: 'clicked' })).toEqual(['+12075550101']);
    expect(await of({ search: '(207) 555-0104' })).toEqual(['+12075550104']);
    expect(await of({ search: '5550104', state: 'delivered' })).toEqual([]);
    expect(await of({ search: '100%' })).toEqual([]);
  });

  test('of one reason only; they are opened, marked and taken off the list as people, and that is undone', async () => {
    const { db } = await afterwards(engine);
    await db.query(`UPDATE outbound SET reason = 'number does not exist' WHERE number = '+12075550104'`);
    const of = async (reason: string) => namedByRun(db, { kind: 'run', id: 1, outcome: 'not_delivered', reason, name: '' });
    expect([await of('number does not exist'), await of('the phone was off too long')]).toEqual([[4], []]);
    const those = await filterOf(db, { run: '1', outcome: 'not_delivered', reason: 'number does not exist' });
    expect(await countPeople(db, those, TODAY)).toBe(1);
    expect(await countPeople(db, await filterOf(db, { run: '1' }), TODAY)).toBe(3);
    await expect(filterOf(db, { run: '1', outcome: 'happy' })).rejects.toThrow('There is no such outcome.');
    const onList = async () => (await db.query(`SELECT person_id FROM list_member WHERE list_id = 1 AND person_id = 4`)).rowCount;
    const off = await changeMany(db, those, { kind: 'take_off', id: 1 }, 'taken off', asked, TODAY);
    expect([off.people, await onList()]).toEqual([1, 0]);
    expect([await undoMany(db, off.id, asked.at), await onList()]).toEqual([1, 1]);
  });

  test('each by what became of their text; what is uncertain may have arrived, and is never among those to be texted again', async () => {
    const { db } = await afterwards(engine);
    const all = Object.fromEntries(await Promise.all(RUN_OUTCOMES.map(async (outcome) => [outcome, await named(db, outcome)])));
    expect(all).toEqual({
      delivered: [1, 3],
      not_delivered: [4],
      uncertain: ['+12075550177'],
      not_sent: [],
      left: [1, 3, '+12075550177'],
      answered: [3],
      not_answered: [1],
      clicked: [1],
      not_clicked: [3],
    });
    expect(await named(db, 'answered', '100%')).toEqual([3]);
    expect(await named(db, 'answered', '_')).toEqual([]);
  });

  test('a plan of them follows the outcome: who answers meanwhile is not asked again', async () => {
    const { db, draft } = await afterwards(engine);
    const again: Draft = {
      ...draft,
      words: 'Ottermere: still?',
      links: [],
      to: [{ kind: 'run', id: 1, outcome: 'not_answered', name: 'Heron' }],
    };
    expect((await makePlan(db, again, NOW)).summary.people).toBe(1);
    await db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind, run_id) VALUES ('2026-12-02T21:05:00Z', '+12075550101', '72345', 'ok', 'reply', 1)`,
    );
    expect((await makePlan(db, again, NOW)).summary.people).toBe(0);
    // and those it reached can be left out of another
    const others: Draft = {
      ...draft,
      links: [],
      words: 'Ottermere',
      leave_out: [{ kind: 'run', id: 1, outcome: 'left', name: 'Heron' }],
    };
    expect((await makePlan(db, others, NOW)).texts.map(({ number }) => number)).toEqual(['+12075550104']);
  });

  test('those whose answer is counted as a choice, as it is counted now', async () => {
    const { db, draft } = await afterwards(engine);
    await db.query(`UPDATE run SET words = 'Do you race? Reply 1 yes, 2 no' WHERE id = 1`);
    const say = (number: string, body: string) =>
      db.query(
        `INSERT INTO inbound (received_at, number, to_address, body, kind, run_id) VALUES ('2026-12-02T21:05:00Z', $1, '72345', $2, 'reply', 1)`,
        [number, body],
      );
    const numbers = (
      await db.query<{ number: string }>(`SELECT number FROM outbound WHERE run_id = 1 AND kind = 'run' ORDER BY id`)
    ).rows;
    const [a, b] = numbers.map(({ number }) => number);
    await say(a, 'Yes!');
    await say(b, '1.');
    const to = async (n: number) => {
      const asks: Draft = {
        ...draft,
        words: 'Ottermere: at nine.',
        links: [],
        to: [{ kind: 'run', id: 1, outcome: 'answered', choice: { n, label: n === 0 ? 'yes' : 'no' }, name: 'Heron' }],
      };
      return (await makePlan(db, asks, NOW)).summary.chosen;
    };
    expect([await to(0), await to(1)]).toEqual([2, 0]);
    // the last they say counts, and what somebody of the desk says of it goes before
    await say(b, 'no, sorry');
    expect([await to(0), await to(1)]).toEqual([1, 1]);
    await db.query(`UPDATE inbound SET choice = -1 WHERE body = 'no, sorry'`);
    expect([await to(0), await to(1)]).toEqual([1, 0]);
  });

  test('a follow-up and a correction are drafts from the same sender; a correction shows what it puts right', async () => {
    const { db } = await afterwards(engine);
    await db.query(`UPDATE broadcast SET labels = '["ferry"]'`);
    const run = await runToFollow(db, 1);
    expect(run).toMatchObject({ name: 'Heron', labels: ['ferry'] });
    if (!run) return;
    const missed = followUp(run, { outcome: 'not_delivered' }, NOW);
    expect(missed).toMatchObject({ sender_id: 1, words: '', purpose: 'service' });
    expect(missed.to).toEqual([{ kind: 'run', id: 1, outcome: 'not_delivered', name: 'Heron, Wed, Dec 2' }]);
    expect(missed.corrects).toBeUndefined();
    expect(followUp(run, { outcome: 'left', corrects: true }, NOW).corrects).toEqual({
      run_id: 1,
      words: 'Ottermere: {link map}',
    });
    expect(await runToFollow(db, 99)).toBeUndefined();
    // the same once more: with its words, links and opting out, at another hour where that helps
    const again = followUp(
      run,
      { outcome: 'not_delivered', reason: 'the phone was off too long', again: true, better_hour: true },
      NOW,
    );
    expect(again).toMatchObject({
      words: 'Ottermere: {link map}',
      links: [{ name: 'map' }],
      when: { kind: 'at', date: '2026-12-03', time: '10:00' },
      leave_out: [],
    });
    const thanks = followUp(run, { outcome: 'answered', thanks: true }, NOW);
    expect(thanks).toMatchObject({
      thanks_for: { run_id: 1, words: 'Ottermere: {link map}' },
      words: 'Thank you, {given_name or "neighbor"}.',
    });
    expect(followUp({ ...run, languages: ['pl'] }, { outcome: 'answered', thanks: true }, NOW).words).toBe('');
  });
});
