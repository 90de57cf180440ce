import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { iso } from '../../../core/clock';
import { LINK_TOKEN } from '../../../core/plan/draft/links';
import type { ProofText } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { holderOf, reserveCodes } from '../../codes/code-store';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { NOW } from '../../engine/testing/world';
import { localPlans } from '../planning/plan-thread';
import { pressAndStore, presser, world } from '../testing';

/**
 * Shown is stored, whatever is written: random audiences, words, languages, links, codes, ways to opt out and times. That what is
 * stored is what the phones get is held by e2e/last-look, through the message center's journal and a second decoder.
 */
const piece = fc.constantFrom(
  '{given_name or "neighbor"} ',
  '{family_name or "–"}',
  'Ottermere: the Heron is off. ',
  '{send_date as "EEEE, d MMMM"} ',
  '{send_date + 1 month as "MMM d"}',
  '{link map} ',
  '{code} ',
  '{opt_out_link}',
  'é € ',
  '… quai fermé\n',
  '{{x} ',
  '🙂 ',
  'All of this is said at some length so that a text has more than one part, which is what costs; and once more, to be sure of it. ',
);
const words = fc.array(piece, { minLength: 1, maxLength: 6 }).map((pieces) => `Ferry ${pieces.join('')}`);
const drafts: fc.Arbitrary<Partial<Draft>> = fc.record({
  words,
  translations: fc.option(fc.record({ fr: words, es: fc.constantFrom('', 'Ferry {given_name or "vecina"}') }), {
    nil: undefined,
  }),
  opt_out: fc.constantFrom('in_text' as const, 'link' as const, 'after' as const, 'none' as const),
  links: fc.constant([{ name: 'map', address: 'https://example.org/m', days: 3 }]),
  code_list_id: fc.constant(1),
  when: fc.constantFrom<Draft['when']>(
    { kind: 'now' },
    { kind: 'at', date: '2026-12-03', time: '09:00' },
    { kind: 'at', date: '2026-12-03', time: '20:45', own: true },
    { kind: 'at', date: '2026-12-03', time: '10:00', repeats: { every: 'month', n: 1 } },
  ),
  pace: fc.constantFrom<Draft['pace']>(undefined, { kind: 'a_minute', texts: 2 }),
  allowed: fc.constantFrom<Draft['allowed']>(undefined, { days: [4, 5], from: '10:00', to: '15:00' }),
  leave_out: fc.constantFrom<Draft['leave_out']>([], [{ kind: 'person', id: 12 }]),
});

async function crowd(db: Db, languages: readonly string[]): Promise<void> {
  await db.query(`UPDATE workspace SET languages = '{en,fr,es}'`);
  await db.query(
    `INSERT INTO person (id, given_name, family_name, language, number, number_kind, zone, quiet, created_at, updated_at)
     SELECT 10 + n, (ARRAY['Ana', '', 'Inès', 'Zoë Łukasz'])[1 + n % 4], (ARRAY['Vance', ''])[1 + n % 2], ($2::text[])[1 + n % $3::int],
       '+1207555' || lpad((200 + n)::text, 4, '0'), 'mobile', (ARRAY['America/New_York', 'America/Los_Angeles', NULL, 'Pacific/Honolulu'])[1 + n % 4],
       CASE WHEN n % 7 = 0 THEN '12:00-18:00' END, $1::timestamptz, $1::timestamptz
     FROM generate_series(1, 30) AS n`,
    [iso(NOW), languages, languages.length],
  );
  await db.query(`INSERT INTO list_member SELECT 1, id FROM person WHERE id > 10`);
  await db.query(`INSERT INTO code_list (id, name, folded, created_at) VALUES (1, 'Winter', 'winter', $1::timestamptz)`, [
    iso(NOW),
  ]);
  await db.query(`INSERT INTO code (list_id, code) SELECT 1, 'FERRY-' || n * n FROM generate_series(1, 60) AS n`);
}

interface Stored {
  number: string;
  body: string;
  parts: number;
  cost_micro: number;
  due_at: string;
}

describe.each(ENGINES)('shown is stored on %s', (engine) => {
  test('who, words, parts, cost and minute of every recipient, and nobody else', async () => {
    let looked = 0;
    await fc.assert(
      fc.asyncProperty(drafts, fc.subarray(['en', 'fr', 'es', 'de'], { minLength: 1 }), async (part, languages) => {
        const { db, draft } = await world(engine, part);
        await crowd(db, languages);
        const plans = localPlans(db);
        const holder = holderOf(1);
        const first = await plans.summary(draft, NOW, holder);
        await reserveCodes(db, 1, holder, first.plan.codes?.needed ?? 0, NOW);
        const { plan, digest } = await plans.summary(draft, NOW, holder);
        fc.pre(plan.must_fix.length === 0);
        looked += 1;
        const { proofs } = await plans.proofs(draft, 0, 1000, NOW, holder);
        const { run_id } = await pressAndStore(
          presser(db, NOW, plans),
          { broadcastId: 1, version: 1, digest, pressId: 'shown-is-stored' },
          { account: undefined, now: NOW, at: iso(NOW) },
        );
        const { rows } = await db.query<Stored>(
          `SELECT number, body, parts, cost_micro, due_at FROM outbound WHERE run_id = $1 ORDER BY number`,
          [run_id],
        );
        // personal links are another for each, and as long as what stood for them
        const bare = (text: string) => text.replace(new RegExp(`(/[lo]/)[a-z0-9]{${LINK_TOKEN}}`, 'g'), '$1');
        // what follows a text is stored when that is accepted (engine/line/follow-with-opt-out)
        const after = (proof: ProofText) =>
          proof.cost_micro - (proof.cost_micro / (proof.parts + (proof.after?.parts ?? 0))) * proof.parts;
        const minute = (at: string) => at.slice(0, 16);
        expect(
          rows.map((row) => [row.number, bare(row.body), row.parts, row.cost_micro, minute(iso(Date.parse(row.due_at)))]),
        ).toEqual(
          proofs
            .map((proof) => [proof.number, bare(proof.text), proof.parts, proof.cost_micro - after(proof), minute(proof.due)])
            .sort(([a], [b]) => (String(a) < String(b) ? -1 : 1)),
        );
        expect([
          rows.length,
          rows.reduce((sum, row) => sum + row.parts, plan.after?.parts ?? 0),
          rows.reduce((sum, row) => sum + row.cost_micro, plan.after?.cost_micro ?? 0),
        ]).toEqual([plan.people, plan.parts, plan.cost_micro]);
        // no code twice, and each in the text of the one who got it
        const codes = await db.query<{ code: string; body: string }>(
          `SELECT code, body FROM code JOIN outbound ON outbound.id = outbound_id WHERE taken_at IS NOT NULL`,
        );
        expect(codes.rows).toHaveLength(rows.filter(({ body }) => body.includes('FERRY-')).length);
        for (const { code, body } of codes.rows) expect(body).toContain(code);
        const links = await db.query<{ token: string; body: string }>(
          `SELECT token, body FROM link JOIN outbound ON outbound.id = outbound_id`,
        );
        for (const { token, body } of links.rows) expect(body).toContain(token);
        expect(new Set(links.rows.map(({ token }) => token)).size).toBe(links.rows.length);
      }),
      { numRuns: 12, endOnFailure: true },
    );
    expect(looked).toBeGreaterThan(6);
  });
});
