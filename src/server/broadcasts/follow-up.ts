import type { RunOutcome } from '../../core/outcome/outcomes';
import { EMPTY_DRAFT, type Draft } from '../../core/plan/draft';
import { formatDay } from '../../core/merge/date-pattern';
import { wallClock } from '../../core/plan/zones';
import type { Queryable } from '../db/db';

/** What a follow-up takes over of a run. */
export interface Followed {
  id: number;
  name: string;
  due_at: string;
  sender_id: number;
  purpose: 'service' | 'marketing';
  words: string;
  labels: string[];
  zone: string;
  /** Of the workspace, the first is for those who have told none. */
  languages: string[];
}

/** What thanks begin with, in a language that has it; the rest is theirs to write. */
const THANKS: Readonly<Record<string, string>> = {
  en: 'Thank you, {given_name or "neighbor"}.',
  fr: 'Merci, {given_name or "cher voisin"}.',
  es: 'Gracias, {given_name or "vecino"}.',
};

export async function runToFollow(db: Queryable, id: number): Promise<Followed | undefined> {
  const { rows } = await db.query<Followed>(
    `SELECT run.id, run.name, run.due_at, run.sender_id, run.purpose, coalesce(run.plan->>'words', '') AS words, broadcast.labels, workspace.zone, workspace.languages
     FROM run JOIN broadcast ON broadcast.id = run.broadcast_id, workspace WHERE run.id = $1`,
    [id],
  );
  return rows[0];
}

/**
 * A draft to those of a run whom an outcome names, from the same sender for the same purpose; a correction shows the words it puts right,
 * thanks show what they are for.
 */
export function followUp(
  run: Followed,
  asked: {
    outcome: RunOutcome;
    words?: string;
    reason?: string;
    choice?: { n: number; label: string };
    corrects?: boolean;
    thanks?: boolean;
  },
): Draft {
  const day = formatDay(wallClock(Date.parse(run.due_at), run.zone).date, 'EEE, MMM d', 'en');
  return {
    ...EMPTY_DRAFT,
    sender_id: run.sender_id,
    purpose: run.purpose,
    to: [
      {
        kind: 'run',
        id: run.id,
        outcome: asked.outcome,
        ...(asked.words?.trim() ? { words: asked.words.trim() } : {}),
        ...(asked.choice ? { choice: asked.choice } : {}),
        ...(asked.reason ? { reason: asked.reason } : {}),
        name: `${run.name.slice(0, 120) || 'no name'}, ${day}`,
      },
    ],
    ...(asked.corrects ? { corrects: { run_id: run.id, words: run.words.slice(0, 4000) } } : {}),
    ...(asked.thanks
      ? { thanks_for: { run_id: run.id, words: run.words.slice(0, 4000) }, words: THANKS[run.languages[0]] ?? '' }
      : {}),
  };
}
