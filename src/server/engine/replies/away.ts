import { iso } from '../../../core/clock';
import { atDesk } from '../../../core/outcome/desk-hours';
import type { Tx } from '../../db/db';

const DAY = 86_400_000;

/**
 * What answers somebody who writes when nobody is at the desk, in their language; once a day in a conversation, and not at all where
 * nothing is set. It is written down that it was said.
 */
export async function awayWords(tx: Tx, number: string, person: number | null, now: number): Promise<string | undefined> {
  const { rows } = await tx.query<{
    days: number[];
    from_time: string;
    to_time: string;
    away_wording: Record<string, string>;
    zone: string;
    languages: string[];
    language: string | null;
  }>(
    `SELECT days, from_time, to_time, away_wording, zone, languages, (SELECT language FROM person WHERE id = $1) AS language FROM desk_setting, workspace WHERE away_on`,
    [person],
  );
  const set = rows.at(0);
  if (!set || atDesk({ days: set.days, from: set.from_time, to: set.to_time }, now, set.zone)) return undefined;
  const words = set.away_wording[set.language ?? ''] || set.away_wording[set.languages[0]];
  if (!words) return undefined;
  const told = await tx.query(
    `INSERT INTO conversation (number, away_at) VALUES ($1, $2::timestamptz)
     ON CONFLICT (number) DO UPDATE SET away_at = excluded.away_at WHERE conversation.away_at IS NULL OR conversation.away_at <= $3::timestamptz`,
    [number, iso(now), iso(now - DAY)],
  );
  return told.rowCount > 0 ? words : undefined;
}
