import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { TodayAnswer } from '../../core/api/desk/today';
import type { BroadcastRow } from '../../core/api/sending/broadcasts';
import type { OutcomeRow, OverTimeAnswer } from '../../core/api/sending/outcomes';
import type { RunAnswer } from '../../core/api/sending/runs';
import { sumsOf } from '../../core/outcome/sums-of';
import { TEXT_STATES } from '../../core/outcome/states';
import type { Db } from '../db/db';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { rounds } from '../db/testing/rounds';
import { NOW } from '../engine/testing/world';
import { openDesk, type Desk } from '../http/testing/desk';

const PRICE = 7500;
const STATES = ['finished', 'stopped', 'missed', 'sending', 'paused'] as const;

const textOf = fc.record({
  state: fc.constantFrom(...TEXT_STATES),
  parts: fc.integer({ min: 1, max: 4 }),
  billed: fc.integer({ min: 0, max: 4 }),
  heard: fc.constantFrom<'nothing' | 'reply' | 'twice' | 'stop'>('nothing', 'nothing', 'reply', 'twice', 'stop'),
  link: fc.constantFrom<'none' | 'made' | 'clicked'>('none', 'made', 'clicked'),
});
type Text = typeof textOf extends fc.Arbitrary<infer T> ? T : never;

/** Puts down a run as it could be found at any moment, text by text; what its texts were planned to cost stands apart from what was taken. */
async function putDown(db: Db, id: number, state: (typeof STATES)[number], texts: readonly Text[]): Promise<void> {
  const at = new Date(NOW - 3_600_000 - id * 1000).toISOString();
  const ended = state === 'finished' || state === 'stopped' || state === 'missed' ? at : null;
  const parts = texts.reduce((sum, text) => sum + text.parts, 0);
  await db.query(
    `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES ($1, $2, 'ended', '{"to":[],"words":"w"}', $3::timestamptz, $3::timestamptz)`,
    [id, `Run ${id}`, at],
  );
  await db.query(
    `INSERT INTO run (id, broadcast_id, state, press_id, digest, words, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at, started_at, ended_at)
     VALUES ($1::bigint, $1::bigint, $2, $1::bigint::text, '', 'w', $3, 1, 'service', $4::int, $5::int, $6::bigint, $7::timestamptz, $7::timestamptz, $7::timestamptz, $7::timestamptz, $7::timestamptz, $8::timestamptz, $9::timestamptz)`,
    [id, state, `Run ${id}`, texts.length, parts, parts * PRICE, at, state === 'missed' ? null : at, ended],
  );
  const number = (i: number) => `+1207${String(id * 1000 + i).padStart(7, '0')}`;
  for (const [i, text] of texts.entries()) {
    const billed = Math.min(text.billed, text.parts);
    const outbound = id * 1000 + i;
    await db.query(
      `INSERT INTO outbound (id, run_id, kind, number, sender_id, body, alphabet, parts, cost_micro, due_at, not_after, state, open, billed)
       VALUES ($1, $2, 'run', $3, 1, '', 'gsm7', $4, $5, $6::timestamptz, $6::timestamptz, 'planned', 0, 0)`,
      [outbound, id, number(i), text.parts, text.parts * PRICE, at],
    );
    // it came to this by steps, as texts do
    await db.query(`UPDATE outbound SET state = $2, billed = $3 WHERE id = $1`, [outbound, text.state, billed]);
    for (let said = 0; said < (text.heard === 'nothing' ? 0 : text.heard === 'twice' ? 2 : 1); said += 1)
      await db.query(
        `INSERT INTO inbound (received_at, number, to_address, body, kind, run_id, applied) VALUES ($1::timestamptz, $2, '72345', 'ok', $3, $4, true)`,
        [at, number(i), text.heard === 'stop' ? 'stop' : 'reply', id],
      );
    if (text.link !== 'none')
      await db.query(
        `INSERT INTO link (token, run_id, outbound_id, number, address, clicked_at) VALUES ($1, $2, $3, $4, 'https://example.org/', $5::timestamptz)`,
        [`t${outbound}`, id, outbound, number(i), text.link === 'clicked' ? at : null],
      );
  }
}

/** What every place should say of it, counted from its texts. */
function truthOf(texts: readonly Text[]) {
  const n = (which: (text: Text) => boolean) => texts.filter(which).length;
  const parts = texts.reduce((sum, text) => sum + Math.min(text.billed, text.parts), 0);
  return {
    delivered: n(({ state }) => state === 'delivered'),
    notDelivered: n(({ state }) => state === 'not_delivered' || state === 'expired'),
    notSent: n(({ state }) => state === 'not_sent'),
    uncertain: n(({ state }) => state === 'uncertain'),
    parts,
    spent: parts * PRICE,
    answers: n(({ heard }) => heard === 'reply' || heard === 'twice'),
    opted_out: n(({ heard }) => heard === 'stop'),
    clicked: n(({ link }) => link === 'clicked'),
  };
}
type Truth = ReturnType<typeof truthOf>;

/** What a row of figures says, in the same words. */
const said = (
  tally: Record<string, number>,
  of: { parts: number; spent: number; answers: number; opted_out: number; clicked: number },
): Truth => {
  const { delivered, notDelivered, notSent, uncertain } = sumsOf(tally);
  return { delivered, notDelivered, notSent, uncertain, ...of };
};

describe.each(ENGINES)('one figure has one source, %s', (engine) => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
  });
  afterAll(() => desk.close());

  test('every place that shows a figure of a run shows the same (property over random runs)', async () => {
    let id = 0;
    const runs: { state: string; truth: Truth }[] = [];
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...STATES), fc.array(textOf, { minLength: 1, maxLength: 12 }), async (state, texts) => {
        id += 1;
        await putDown(desk.app.db, id, state, texts);
        const truth = truthOf(texts);
        runs.push({ state, truth });
        const run = await desk.json<RunAnswer>('GET', `/api/runs/${id}`);
        expect(
          said(run.tally, {
            parts: run.money.parts,
            spent: run.money.spent,
            answers: run.answers.people,
            opted_out: run.opted_out,
            clicked: run.clicks.clicked,
          }),
        ).toEqual(truth);
        const of = (row: OutcomeRow) =>
          said(row.tally, {
            parts: row.spent_parts,
            spent: row.spent_micro,
            answers: row.answers,
            opted_out: row.opted_out,
            clicked: row.clicked,
          });
        const listed = await desk.json<{ runs: OutcomeRow[] }>('GET', `/api/outcomes?search=Run%20${id}`);
        expect(of(listed.runs.filter((row) => row.id === id)[0])).toEqual(truth);
        if (id > 1) {
          const beside = await desk.json<{ runs: OutcomeRow[] }>('GET', `/api/outcomes/compare?ids=${id},${id - 1}`);
          expect(of(beside.runs[0])).toEqual(truth);
        }
        const { broadcasts } = await desk.json<{ broadcasts: BroadcastRow[] }>('GET', `/api/broadcasts?search=Run%20${id}`);
        const row = broadcasts.filter((each) => each.id === id)[0];
        expect([row.parts, row.cost_micro]).toEqual([truth.parts, truth.spent]);
        const file = await (await desk.ask('GET', `/api/outcomes.csv?search=Run%20${id}`, 'manage')).text();
        const [headings, ...lines] = file
          .replace('\ufeff', '')
          .trim()
          .split('\r\n')
          .map((line) => line.split(','));
        const line = lines.filter((each) => each.includes(`Run ${id}`))[0];
        const cell = (heading: string) => Number(line[headings.indexOf(heading)]);
        expect(
          ['delivered', 'not delivered', 'uncertain', 'not sent', 'answered', 'opted out', 'parts'].map(cell),
          headings.join(),
        ).toEqual([
          truth.delivered,
          truth.notDelivered,
          truth.uncertain,
          truth.notSent,
          truth.answers,
          truth.opted_out,
          truth.parts,
        ]);
        for (const [text, n] of [
          ['not_sent', truth.notSent],
          ['delivered', truth.delivered],
          ['uncertain', truth.uncertain],
        ] as const) {
          const { recipients } = await desk.json<{ recipients: unknown[] }>('GET', `/api/runs/${id}/recipients?state=${text}`);
          expect(recipients.length).toBe(n);
        }
        const today = await desk.json<TodayAnswer>('GET', '/api/today');
        for (const sent of today.sent.filter((each) => each.id === id))
          expect(
            said(sent.tally, {
              parts: truth.parts,
              spent: sent.spent_micro,
              answers: sent.answers,
              opted_out: sent.opted_out,
              clicked: sent.clicked,
            }),
          ).toEqual(truth);
      }),
      { numRuns: rounds(20, 200), seed: 26, endOnFailure: true },
    );
    // and all of them together come to the sum of each
    const over = await desk.json<OverTimeAnswer>('GET', '/api/outcomes/over-time');
    const sum = (figure: keyof Truth) => runs.reduce((all, { truth }) => all + truth[figure], 0);
    expect(over.months.reduce((all, month) => all + month.spent_micro, 0)).toBe(sum('spent'));
    expect(over.months.reduce((all, month) => all + month.delivered, 0)).toBe(sum('delivered'));
    expect(over.months.reduce((all, month) => all + month.answers, 0)).toBe(sum('answers'));
  });
});
