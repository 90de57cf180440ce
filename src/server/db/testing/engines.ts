import { inject } from 'vitest';
import type { Db } from '../db';
import { openEmbedded } from '../embedded';
import { openPostgres } from '../postgres';
import { preparedSnapshot } from '../snapshot';
import { sealWith } from '../sealed';

export const ENGINES = ['embedded', 'postgres'] as const;
export type Engine = (typeof ENGINES)[number];

// One database an engine and worker, kept over the files of a run and emptied for each use.
const kept = globalThis as typeof globalThis & {
  bellTestDbs?: Map<Engine, { db: Db; uses: number }>;
  bellTestGoesOn?: (() => Promise<void>)[];
};
/** Beyond so many rows in a table it is truncated with all others; below, a row at a time is ten times as fast. */
const FEW = 400;
/** What is deleted leaves its room behind, and nothing vacuums the embedded engine: so often everything is truncated. */
const EVERY = 30;

/** Something that goes on by itself on a test's database: it is ended before the next test has that, or it would do that one's work, too. */
export function endBeforeNext(end: () => Promise<void>): void {
  (kept.bellTestGoesOn ??= []).push(end);
}

// a key of the tests' own
sealWith(new Uint8Array(32).fill(7));

/** A migrated, empty database on the engine, on which nothing goes on any more. */
export async function emptyDb(engine: Engine): Promise<Db> {
  for (const end of kept.bellTestGoesOn?.splice(0) ?? []) await end();
  kept.bellTestDbs ??= new Map();
  let one = kept.bellTestDbs.get(engine);
  if (!one) {
    const db =
      engine === 'embedded'
        ? await openEmbedded({ snapshot: await preparedSnapshot(inject('snapshotFolder'), inject('pgliteVersion')) })
        : await openPostgres(inject('postgresUrl') + (process.env.VITEST_POOL_ID ?? '1'));
    one = { db, uses: 0 };
    kept.bellTestDbs.set(engine, one);
  }
  one.uses += 1;
  await empty(one.db, one.uses % EVERY === 0);
  return one.db;
}

async function empty(db: Db, whole: boolean): Promise<void> {
  const { rows: tables } = await db.query<{ name: string }>(
    `SELECT quote_ident(tablename) AS name FROM pg_tables WHERE schemaname = 'public' AND tablename NOT IN ('migration', 'written_function')`,
  );
  const { rows: filled } = await db.query<{ name: string; n: number }>(
    tables
      .map(({ name }) => `SELECT '${name}' AS name, (SELECT count(*) FROM (SELECT FROM ${name} LIMIT ${FEW + 1}) few)::int AS n`)
      .join(' UNION ALL '),
  );
  if (whole || filled.some(({ n }) => n > FEW)) {
    await db.exec(`TRUNCATE ${tables.map(({ name }) => name).join(', ')} RESTART IDENTITY CASCADE`);
    return;
  }
  await db.transaction(async (tx) => {
    // no trigger and no key looks at what goes: all of it does
    await tx.query(`SET LOCAL session_replication_role = replica`);
    for (const { name, n } of filled) if (n > 0) await tx.query(`DELETE FROM ${name}`);
    await tx.query(`SELECT setval(seqrelid, seqstart, false) FROM pg_sequence`);
  });
}
