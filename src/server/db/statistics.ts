import type { Db } from './db';

/**
 * A table whose rows changed by more than this share since it was last counted, and fifty, is counted anew: what PostgreSQL's autovacuum
 * keeps to (autovacuum_analyze_scale_factor and _threshold), which the embedded engine has not and a server comes to within a minute.
 */
const SHARE = 0.1;
const LEAST = 50;
/** Instead of PostgreSQL's 100: of 9,000 rows in place of 30,000. Nobody waits longer for it than for any piece of bulk work. */
const TARGET = 30;

/**
 * Counts tables anew for the planner of statements, those that changed enough; after bulk work, each in a transaction of its own.
 * @param tables our own names
 * @returns those that were counted
 */
export async function countAnew(db: Db, tables: readonly string[]): Promise<string[]> {
  const bulk = db.lane('bulk');
  // what this connection has changed is told to the statistics once a second only
  await bulk.query(`SELECT pg_stat_force_next_flush()`);
  const { rows } = await bulk.query<{ name: string }>(
    `SELECT s.relname AS name FROM pg_stat_user_tables s JOIN pg_class c ON c.oid = s.relid
     WHERE s.relname = ANY ($1::text[]) AND s.n_mod_since_analyze > $2::int + $3::float8 * greatest(c.reltuples, 0) ORDER BY s.relname`,
    [tables, LEAST, SHARE],
  );
  for (const { name } of rows) {
    if (!tables.includes(name)) continue;
    await bulk.transaction(async (tx) => {
      await tx.query(`SELECT set_config('default_statistics_target', $1, true)`, [String(TARGET)]);

      await tx.query(`ANALYZE ${name}`);
    });
  }
  return rows.map(({ name }) => name);
}

/** Of what is there, so much is dead before it is swept (autovacuum_vacuum_scale_factor), and fifty rows. */
const DEAD = 0.2;

/** Those of the embedded engine's tables in which enough is dead for sweeping them (VACUUM) to be worth it: it has no autovacuum that looks. */
export async function worthSweeping(db: Db, tables: readonly string[]): Promise<string[]> {
  await db.query(`SELECT pg_stat_force_next_flush()`);
  const { rows } = await db.query<{ name: string }>(
    `SELECT s.relname AS name FROM pg_stat_user_tables s JOIN pg_class c ON c.oid = s.relid
     WHERE s.relname = ANY ($1::text[]) AND s.n_dead_tup > $2::int + $3::float8 * greatest(c.reltuples, 0) ORDER BY s.relname`,
    [tables, LEAST, DEAD],
  );
  return rows.map(({ name }) => name);
}
