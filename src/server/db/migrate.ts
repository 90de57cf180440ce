import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Db } from './db';

export interface Migration {
  number: number;
  name: string;
  sql: string;
}

/** The numbered files of migrations/, in order. In the bundle they lie beside the server file. */
export function readMigrations(): Migration[] {
  const folder = fileURLToPath(new URL('./migrations', import.meta.url));
  if (!existsSync(folder)) throw new Error(`The migrations are missing: ${folder}.`);
  return readdirSync(folder)
    .filter((file) => /^\d{4}_\w+\.sql$/.test(file))
    .sort()
    .map((file) => ({
      number: Number(file.slice(0, 4)),
      name: file.slice(5, -4),
      sql: readFileSync(`${folder}/${file}`, 'utf8'),
    }));
}

/** A function of the database that is written once, and made anew when its file has changed: `functions/<name>.sql`. */
interface Written {
  name: string;
  sql: string;
  hash: string;
}

function readFunctions(): Written[] {
  const folder = fileURLToPath(new URL('./functions', import.meta.url));
  if (!existsSync(folder)) throw new Error(`The functions are missing: ${folder}.`);
  return readdirSync(folder)
    .filter((file) => /^\w+\.sql$/.test(file))
    .sort()
    .map((file) => {
      const sql = readFileSync(`${folder}/${file}`, 'utf8');
      return { name: file.slice(0, -4), sql, hash: createHash('sha256').update(sql).digest('hex') };
    });
}

/** Changes with any migration, so that a prepared snapshot is never used with others. */
export function migrationsKey(): string {
  const hash = createHash('sha256');
  for (const { number, name, sql } of readMigrations()) hash.update(`${number} ${name}\n${sql}\n`);
  for (const { name, hash: of } of readFunctions()) hash.update(`${name} ${of}\n`);
  return hash.digest('hex').slice(0, 16);
}

/**
 * Brings the schema up to date, each migration and its mark in one transaction; then the functions whose files have changed.
 * @returns the numbers of the migrations that were applied
 */
export async function migrate(db: Db): Promise<number[]> {
  await db.exec('CREATE TABLE IF NOT EXISTS migration (number integer PRIMARY KEY, name text NOT NULL)');
  const done = new Set((await db.query<{ number: number }>('SELECT number FROM migration')).rows.map((row) => row.number));
  const applied: number[] = [];
  for (const { number, name, sql } of readMigrations()) {
    if (done.has(number)) continue;
    // Several statements in one simple query are one transaction, on both engines.
    // eslint-disable-next-line own/sql-by-parameter -- of our own files' names; several statements take no parameters
    await db.exec(`${sql}; INSERT INTO migration (number, name) VALUES (${number}, '${name}')`);
    applied.push(number);
  }
  await writeFunctions(db);
  return applied;
}

async function writeFunctions(db: Db): Promise<void> {
  await db.exec('CREATE TABLE IF NOT EXISTS written_function (name text PRIMARY KEY, hash text NOT NULL)');
  const { rows } = await db.query<{ name: string; hash: string }>('SELECT name, hash FROM written_function');
  const there = new Map(rows.map(({ name, hash }) => [name, hash]));
  for (const { name, sql, hash } of readFunctions()) {
    if (there.get(name) === hash) continue;
    await db.exec(
      // eslint-disable-next-line own/sql-by-parameter -- of our own files' names and hashes, as above
      `${sql}; INSERT INTO written_function (name, hash) VALUES ('${name}', '${hash}') ON CONFLICT (name) DO UPDATE SET hash = excluded.hash`,
    );
  }
}
