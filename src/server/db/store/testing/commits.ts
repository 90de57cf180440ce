import type { PGlite } from '@electric-sql/pglite';
import type { Dice } from '../../../../core/line/simulator/dice';

/** What a committed state looks like, so that one is known from every other. */
export interface State {
  commits: number;
  rows: number;
  sum: number;
  bulk: number;
  tables: string[];
}

/**
 * Commits of every kind that the product makes, one after the other: a row, many rows by COPY, rows changed and removed, a table made and
 * dropped, an index, with checkpoints, switches of the log and what is rolled back in between. Each leaves its number behind.
 */
export class Commits {
  state: State = { commits: 0, rows: 0, sum: 0, bulk: 0, tables: [] };

  constructor(
    private readonly pg: PGlite,
    private readonly dice: Dice,
  ) {}

  /** The first commit of all. */
  async begin(): Promise<void> {
    await this.pg.exec(`
      BEGIN;
      CREATE TABLE progress (commits int NOT NULL);
      INSERT INTO progress VALUES (0);
      CREATE TABLE kept (n int PRIMARY KEY, worth int NOT NULL, words text NOT NULL);
      CREATE TABLE bulk (n bigserial PRIMARY KEY, worth int, words text);
      CREATE INDEX ON bulk (worth, words);
      COMMIT`);
  }

  /** @param begun told before the statement that may commit, acknowledged after it */
  async one(begun: (next: State) => void, acknowledged: (state: State) => void): Promise<void> {
    const { dice, pg } = this;
    if (dice.chance(0.06)) await pg.exec('CHECKPOINT');
    if (dice.chance(0.04)) await pg.exec('SELECT pg_switch_wal()');
    if (dice.chance(0.05)) await pg.exec('VACUUM (ANALYZE) kept');
    if (dice.chance(0.1))
      await pg.exec(`BEGIN; INSERT INTO bulk (worth, words) SELECT 7, 'never' FROM generate_series(1, 500); ROLLBACK`);
    const next: State = { ...this.state, commits: this.state.commits + 1, tables: [...this.state.tables] };
    await pg.exec('BEGIN');
    await this.work(next);
    await pg.exec('UPDATE progress SET commits = commits + 1');
    begun(next);
    await pg.exec('COMMIT');
    this.state = next;
    acknowledged(next);
  }

  private async work(next: State): Promise<void> {
    const { dice, pg } = this;
    const what = dice.roll();
    const n = next.commits;
    if (what < 0.5) {
      const worth = dice.between(1, 1000);
      await pg.query(`INSERT INTO kept VALUES ($1, $2, $3)`, [n, worth, 'w'.repeat(dice.between(1, 2000))]);
      next.rows += 1;
      next.sum += worth;
    } else if (what < 0.65) {
      const { affectedRows } = await pg.query(`UPDATE kept SET worth = worth + 1, words = words || '.' WHERE n % 3 = $1`, [
        n % 3,
      ]);
      next.sum += affectedRows ?? 0;
    } else if (what < 0.75) {
      const lines = Array.from({ length: dice.between(100, 3000) }, (_, i) => `${i}\tline ${n} ${i}\n`);
      await pg.query(`COPY bulk (worth, words) FROM '/dev/blob' WITH (FORMAT text)`, [], { blob: new Blob(lines) });
      next.bulk += lines.length;
    } else if (what < 0.85) {
      const { rows } = await pg.query<{ worth: number }>(`DELETE FROM kept WHERE n = (SELECT min(n) FROM kept) RETURNING worth`);
      next.rows -= rows.length;
      next.sum -= rows.length > 0 ? rows[0].worth : 0;
    } else if (what < 0.95 || next.tables.length === 0) {
      await pg.exec(`CREATE TABLE made_${n} AS SELECT g AS n FROM generate_series(1, 50) AS g; CREATE INDEX ON made_${n} (n)`);
      next.tables.push(`made_${n}`);
    } else await pg.exec(`DROP TABLE ${next.tables.shift() ?? ''}`);
  }
}

/** What stands in a store that was opened from an image; undefined where not even the first commit does. */
export async function stateOf(pg: PGlite): Promise<State | undefined> {
  const { rows: tables } = await pg.query<{ name: string }>(
    `SELECT relname AS name FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace ORDER BY oid`,
  );
  const made = tables.map(({ name }) => name).filter((name) => name.startsWith('made_'));
  if (!tables.some(({ name }) => name === 'progress')) return undefined;
  for (const name of made) {
    const { rows } = await pg.query<{ n: number }>(`SELECT count(*)::int AS n FROM ${name} WHERE n > 0`);
    if (rows[0].n !== 50) throw new Error(`${name} has ${rows[0].n} of its 50 rows.`);
  }
  const { rows } = await pg.query<Omit<State, 'tables'>>(
    `SELECT (SELECT commits FROM progress) AS commits, (SELECT count(*)::int FROM kept) AS rows,
            (SELECT coalesce(sum(worth), 0)::int FROM kept) AS sum, (SELECT count(*)::int FROM bulk) AS bulk`,
  );
  // the indexes hold what the tables do
  await pg.exec(`SET enable_seqscan = off`);
  const { rows: again } = await pg.query<{ rows: number; bulk: number }>(
    `SELECT (SELECT count(*)::int FROM kept WHERE n > 0) AS rows, (SELECT count(*)::int FROM bulk WHERE worth >= 0) AS bulk`,
  );
  if (again[0].rows !== rows[0].rows || again[0].bulk !== rows[0].bulk)
    throw new Error(
      `By its indexes ${again[0].rows} and ${again[0].bulk} rows, by its tables ${rows[0].rows} and ${rows[0].bulk}.`,
    );
  return { ...rows[0], tables: made };
}
