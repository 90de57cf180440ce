import { afterEach, describe, expect, inject, test } from 'vitest';
import type { Db } from './db';
import { openEmbedded } from './embedded';
import { migrate, readMigrations } from './migrate';
import { openPostgres } from './postgres';
import { ENGINES } from './testing/engines';

const BEFORE = 34;
const closing: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

/** A database as it was before what runs keep of their plans had tables. */
async function older(engine: (typeof ENGINES)[number]): Promise<Db> {
  let db: Db;
  if (engine === 'embedded') db = await openEmbedded({});
  else {
    const url = inject('postgresUrl').replace(/\/test$/, '/template1');
    const admin = await openPostgres(url);
    await admin.exec('CREATE DATABASE older_plans');
    closing.push(async () => {
      await admin.exec('DROP DATABASE older_plans');
      await admin.close();
    });
    db = await openPostgres(url.replace(/template1$/, 'older_plans'));
  }
  closing.push(() => db.close());
  await db.exec('CREATE TABLE migration (number integer PRIMARY KEY, name text NOT NULL)');
  for (const { number, name, sql } of readMigrations().filter((each) => each.number <= BEFORE))
    await db.exec(`${sql}; INSERT INTO migration VALUES (${number}, '${name}')`);
  return db;
}

describe.each(ENGINES)('what runs of before keep of their plans, on %s', (engine) => {
  test('stands in its columns and tables afterwards, and nothing of it is lost', async () => {
    const db = await older(engine);
    const plan = {
      words: 'Bonjour?',
      translations: { fr: 'Oui', es: 'Sí' },
      chosen: 12,
      dropped: { opted_out: 2, too_late: 0 },
      first: '2026-12-02T15:00:10.000Z',
      course: { from: '2026-12-02T15:00:00.000Z', step_seconds: 60, all: [3, 10, 1], zones: [] },
      languages: [
        { language: 'en', opt_out: 'STOP to opt out' },
        { language: 'fr', opt_out: '' },
      ],
      after: { parts: 1, cost_micro: 7500 },
      copies: null,
    };
    await db.query(
      `INSERT INTO sender (id, name, kind, address, parts_per_second, created_at) VALUES (1, 'Ferry', 'short', '72345', 10, '2026-01-01')`,
    );
    await db.query(
      `INSERT INTO broadcast (id, name, state, draft, created_at, updated_at) VALUES (1, 'Class', 'ended', '{}', '2026-01-01', '2026-01-01')`,
    );
    for (const [id, kept] of [plan, { words: 'Short' }, {}].entries())
      await db.query(
        `INSERT INTO run (id, broadcast_id, state, press_id, digest, plan, name, sender_id, purpose, people, parts, cost_micro, takeback_until, due_at, last_due_at, not_after, pressed_at)
         VALUES ($1, 1, 'finished', 'p' || $1::bigint, 'd', $2::jsonb, 'Class', 1, 'service', 1, 1, 1, '2026-12-02', '2026-12-02', '2026-12-02', '2026-12-03', '2026-12-02')`,
        [id + 1, JSON.stringify(kept)],
      );

    expect(await migrate(db)).toContain(BEFORE + 1);

    const all = async (sql: string) => (await db.query(sql)).rows;
    expect(
      await all(
        `SELECT words, chosen, shown_first, course_from, course_step_seconds, course_texts, opts_out_after, has_copies, run_translations(id) AS translations FROM run ORDER BY id`,
      ),
    ).toEqual([
      {
        words: 'Bonjour?',
        chosen: 12,
        shown_first: plan.first,
        course_from: plan.course.from,
        course_step_seconds: 60,
        course_texts: [3, 10, 1],
        opts_out_after: true,
        has_copies: false,
        translations: { fr: 'Oui', es: 'Sí' },
      },
      ...['Short', ''].map((words) => ({
        words,
        chosen: null,
        shown_first: null,
        course_from: null,
        course_step_seconds: null,
        course_texts: null,
        opts_out_after: false,
        has_copies: false,
        translations: {},
      })),
    ]);
    expect(await all(`SELECT * FROM run_opt_out`)).toEqual([{ run_id: 1, language: 'en', words: 'STOP to opt out' }]);
    expect(await all(`SELECT * FROM run_dropped`)).toEqual([{ run_id: 1, reason: 'opted_out', people: 2 }]);
  });
});
