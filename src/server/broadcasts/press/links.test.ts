import { describe, expect, test } from 'vitest';
import type { Db } from '../../db/db';
import { ENGINES } from '../../db/testing/engines';
import { NOW } from '../../engine/testing/world';
import { makePlan, pressAndStore as press, presser, world } from '../testing';

const AT = new Date(NOW).toISOString();
const asked = { account: undefined, now: NOW, at: AT };

const pressing = (digest: string, pressId = 'press-one', version = 1) => ({ broadcastId: 1, version, digest, pressId });
const app = (db: Db) => presser(db, NOW);
const outbound = async (db: Db) =>
  (
    await db.query<{ number: string; body: string; due_at: string; state: string; reason: string | null }>(
      `SELECT number, body, due_at, state, reason FROM outbound ORDER BY number`,
    )
  ).rows;

describe.each(ENGINES)('links of a run, on %s', (engine) => {
  test('personal links: one token each, as long as the dummy that was shown', async () => {
    const { db, draft } = await world(engine, {
      words: 'Ottermere Ferry: {link times}',
      link: { name: 'times', address: 'https://example.org/t' },
    });
    const plan = await makePlan(db, draft, NOW);
    await press(app(db), pressing(plan.digest), asked);
    const texts = await outbound(db);
    expect(new Set(texts.map((each) => each.body)).size).toBe(3);
    expect(texts.map((each) => each.body.length)).toEqual(
      texts.map((each) => plan.texts.find((text) => text.number === each.number)?.text.length),
    );
    expect(
      (await db.query(`SELECT 1 FROM link WHERE address = 'https://example.org/t' AND token ~ '^[2-9a-z]{12}$'`)).rowCount,
    ).toBe(3);
  });

  test('several links: a token for each that the recipient’s words have, with its name and its end', async () => {
    const { db, draft } = await world(engine, {
      words: 'Ottermere Ferry: {link times} {link map} {link times}',
      links: [
        { name: 'times', address: 'https://example.org/t' },
        { name: 'map', address: 'https://example.org/m', days: 3 },
        { name: 'unused', address: 'https://example.org/u' },
      ],
    });
    const plan = await makePlan(db, draft, NOW);
    await press(app(db), pressing(plan.digest), asked);
    const { rows } = await db.query<{ name: string; n: number; ends: boolean; apart: number }>(
      `SELECT link.name, count(*) AS n, bool_and(link.expires_at = outbound.due_at + interval '3 days') AS ends, count(DISTINCT token) AS apart
       FROM link JOIN outbound ON outbound.id = link.outbound_id GROUP BY link.name ORDER BY link.name`,
    );
    expect(rows).toEqual([
      { name: 'map', n: 3, ends: true, apart: 3 },
      { name: 'times', n: 3, ends: null, apart: 3 },
    ]);
    for (const { body } of await outbound(db)) {
      const tokens = [...body.matchAll(/\/l\/([2-9a-z]{12})/g)].map((match) => match[1]);
      expect([tokens.length, tokens[0] === tokens[2], tokens[0] === tokens[1]]).toEqual([3, true, false]);
    }
  });

  test('an opt-out link: each text’s own, told apart from links that lead somewhere, in the language of the text', async () => {
    const { db, draft } = await world(engine, { opt_out: 'link' });
    const { digest } = await makePlan(db, draft, NOW);
    await press(app(db), pressing(digest), asked);
    const { rows } = await db.query<{ token: string; number: string; opt_out: boolean; language: string; body: string }>(
      `SELECT token, link.number, opt_out, link.language, body FROM link JOIN outbound ON outbound.id = link.outbound_id`,
    );
    expect(new Set(rows.map(({ token }) => token)).size).toBe(3);
    for (const { token, opt_out, language, body } of rows) {
      expect([opt_out, language]).toEqual([true, 'en']);
      expect(body.endsWith(`/o/${token}`)).toBe(true);
    }
  });
});
