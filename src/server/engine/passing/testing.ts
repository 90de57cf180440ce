import type { Db } from '../../db/db';
import { until, type sendingWorld } from '../testing/sending';

/** Two people who write, and whoever is told of it. */
export const [MABEL, IDRIS, PIER] = ['+12075550131', '+12075550132', '+12075550150'];
export type World = Awaited<ReturnType<typeof sendingWorld>>;

export async function rule(
  db: Db,
  way: 'text' | 'mail',
  address: string,
  more: { name?: string; what?: string } = {},
): Promise<void> {
  await db.query(
    `INSERT INTO pass_on (what, name, way, address, any_hour, created_at) VALUES ($1, $2, $3, $4, true, '2026-01-01')`,
    [more.what ?? 'all', more.name ?? 'Pier office', way, address],
  );
}

export async function people(db: Db): Promise<void> {
  await db.query(
    `INSERT INTO person (id, given_name, family_name, number, created_at, updated_at) VALUES
       (1, 'Mabel', 'Greenhalgh', $1, '2026-01-01', '2026-01-01'), (2, 'Idris', '', $2, '2026-01-01', '2026-01-01')`,
    [MABEL, IDRIS],
  );
}

export const rows = async <T = Record<string, unknown>>(db: Db, sql: string): Promise<T[]> => (await db.query<T>(sql)).rows;

/** What stands on a phone's screen, what came to it whole: the parts of a text come one after the other. */
export const screen = (world: World, number: string): string[] =>
  (world.center.phones.get(number.slice(1))?.texts ?? []).flatMap((text) =>
    text.direction === 'in' && text.arrived === text.total ? [text.text] : [],
  );

export const writes = (world: World, number: string, text: string) => world.center.textFromPhone(number.slice(1), '72345', text);

export const applied = (world: World, n: number) =>
  until(async () => (await rows(world.db, `SELECT 1 FROM inbound WHERE applied`)).length >= n);
