import type { RunOutcome } from '../../../core/outcome/outcomes';
import { betterHour } from '../../../core/outcome/better-hour';
import { EMPTY_DRAFT, type Draft } from '../../../core/plan/draft/draft';
import { formatDay } from '../../../core/merge/date-pattern';
import { wallClock } from '../../../core/zones';
import type { Queryable } from '../../db/db';

/** What a follow-up takes over of a run. */
export interface Followed {
  id: number;
  name: string;
  due_at: string;
  sender_id: number;
  purpose: 'service' | 'marketing';
  words: string;
  translations: Record<string, string>;
  /** As its broadcast has them. */
  draft: Draft;
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
    `SELECT run.id, run.name, run.due_at, run.sender_id, run.purpose, run.words, run_translations(run.id) AS translations, broadcast.draft, broadcast.labels, workspace.zone, workspace.languages
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
    again?: boolean;
    better_hour?: boolean;
    corrects?: boolean;
    thanks?: boolean;
  },
  now: number,
): Draft {
  const { words, translations, draft: before, zone } = run;
  const day = formatDay(wallClock(Date.parse(run.due_at), zone).date, 'EEE, MMM d', 'en');
  return {
    ...EMPTY_DRAFT,
    ...(asked.again ? { ...sameAgain(before), words, translations } : {}),
    ...(asked.better_hour ? { when: { kind: 'at' as const, ...betterHour(Date.parse(run.due_at), now, zone) } } : {}),
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
    ...(asked.corrects ? { corrects: { run_id: run.id, words: words.slice(0, 4000) } } : {}),
    ...(asked.thanks
      ? { thanks_for: { run_id: run.id, words: words.slice(0, 4000) }, words: THANKS[run.languages[0]] ?? '' }
      : {}),
  };
}

/** What belongs to the words of a draft and goes with them: links, codes, and how one opts out. */
function sameAgain({ links, link, code_list_id, opt_out, opt_out_words, allowed }: Draft): Partial<Draft> {
  return Object.fromEntries(
    Object.entries({ links, link, code_list_id, opt_out, opt_out_words, allowed }).filter(([, value]) => value !== undefined),
  );
}
