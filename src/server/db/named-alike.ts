import { looksLike } from '../../core/text/look-alikes';
import type { Queryable } from './db';
import { Refusal } from '../../core/api/refusal';

/** What has a name that people choose it by, and where the names of its kind stand. */
const NAMES = {
  list: `SELECT id, name FROM list`,
  tag: `SELECT id, name FROM tag`,
  segment: `SELECT id, name FROM segment`,
  'list of codes': `SELECT id, name FROM code_list`,
  sender: `SELECT id, name FROM sender UNION ALL SELECT id, address FROM sender WHERE kind = 'name'`,
  keyword: `SELECT id, word AS name, sender_id FROM keyword WHERE ended_at IS NULL`,
} as const;

/** How it may be written: in which letters somebody writes a keyword makes no difference. */
const writings = (kind: keyof typeof NAMES, name: string) =>
  kind === 'keyword' ? [name.toUpperCase(), name.toLowerCase()] : [name];

/**
 * Refuses a new name that cannot be told by looking from another of its kind ("Crеw" with a Cyrillic е beside "Crew"), and shows that one:
 * who chooses by name must not get the other. Names that are there already stay as they are.
 *
 * @param self the thing that is being named anew, if it is there
 * @throws Refusal that names the place
 */
export async function refuseAlike(
  db: Queryable,
  kind: keyof typeof NAMES,
  name: string,
  at: { place: string; self?: number; sender?: number },
): Promise<void> {
  const { rows } = await db.query<{ id: number; name: string; sender_id?: number }>(NAMES[kind]);
  // what is called so already stays so, and no two have the very same name by a rule of its own
  if (rows.some((row) => row.name === name && (row.id === at.self || at.sender === undefined))) return;
  const others = rows.filter((row) => row.id !== at.self && (at.sender === undefined || row.sender_id === at.sender));
  const other = others.find(({ name: there }) =>
    writings(kind, name).some((each, i) => looksLike(each, [writings(kind, there)[i]]) !== undefined),
  );
  if (other === undefined) return;
  throw new Refusal('clash', 'looks-alike', `That looks the same as the ${kind} “${other.name}”.`, {
    place: at.place,
    kept: 'Nothing was changed.',
    act: 'Choose a name that can be told from it by looking.',
  });
}
