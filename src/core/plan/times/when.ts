import type { HoursBook } from '../../gate/hours';
import type { Draft } from '../draft/draft';
import type { PlanWorkspace } from '../reach/person';
import { localInstant, wallClock } from '../../zones';

/** Seconds between the moment everything is stored and the first text of a broadcast that goes now. */
export const TAKEBACK_SECONDS = 8;
/** Broadcasts are scheduled up to some months ahead, not years (common practice); what lies beyond is a slip of the finger. */
export const FARTHEST_DAYS = 400;
const DAY = 86_400_000;

/** The start and the end of use of a draft as instants; `wrong` says what must be fixed first, and which time could be taken instead. */
export interface When {
  base: number;
  notAfter: number;
  /** The wall-clock time asked for does not exist that day, or comes twice. */
  note?: 'gap' | 'twice';
  wrong: { message: string; instead?: { date: string; time: string } }[];
}

/** How long a text is of use when nobody says: a day, or as long as a weekend may hold it back where only some hours are allowed. */
export const usefulDays = (draft: Pick<Draft, 'allowed'>): number => (draft.allowed ? 4 : 1);

export function resolveWhen(draft: Draft, workspace: PlanWorkspace, now: number, book: HoursBook): When {
  const { zone } = workspace;
  const when: When = { base: now + TAKEBACK_SECONDS * 1000, notAfter: 0, wrong: [] };
  const far = now + FARTHEST_DAYS * DAY;
  if (draft.when.kind === 'at') {
    const local = readLocal(draft.when.date, draft.when.time, zone);
    if (!local) when.wrong.push({ message: 'That is not a date and time.' });
    else if (draft.when.own !== true && local.instant <= now) {
      const next = wallClock(nextSensible(workspace, now, book), zone);
      when.wrong.push({
        message: draft.when.repeats ? 'It never goes: none of its dates is still to come.' : 'That time is past.',
        instead: { date: next.date, time: next.time.slice(0, 5) },
      });
    } else if (local.instant > far)
      when.wrong.push({
        message: `${draft.when.date} is more than a year ahead. Choose a date within ${FARTHEST_DAYS} days.`,
      });
    // what cannot be used is not computed with either
    // in each recipient's own time, what is past, or does not exist that day, is a matter of their zones
    if (local && local.instant > now - far && local.instant <= far)
      Object.assign(when, { base: local.instant, note: draft.when.own === true ? undefined : local.note });
  }
  when.notAfter = when.base + usefulDays(draft) * DAY;
  if (draft.allowed && draft.allowed.from >= draft.allowed.to)
    when.wrong.push({
      message: `The hours in which it may go end (${draft.allowed.to}) before they begin (${draft.allowed.from}).`,
    });
  if (draft.no_use_after) {
    const local = readLocal(draft.no_use_after.date, draft.no_use_after.time, zone);
    if (!local) when.wrong.push({ message: '“No use after” is not a date and time.' });
    else if (!(draft.when.kind === 'at' && draft.when.own === true) && local.instant <= when.base)
      when.wrong.push({ message: '“No use after” comes before it would go.' });
    else if (local.instant > when.base + FARTHEST_DAYS * DAY)
      when.wrong.push({ message: '“No use after” is more than a year after the start.' });
    else when.notAfter = local.instant;
  }
  return when;
}

function readLocal(date: string, time: string, zone: string): { instant: number; note?: 'gap' | 'twice' } | undefined {
  try {
    return localInstant(date, time, zone);
  } catch {
    return undefined;
  }
}

/** The next full five minutes outside quiet hours where the workspace is. */
function nextSensible(workspace: PlanWorkspace, now: number, book: HoursBook): number {
  const soon = Math.ceil((now + 5 * 60_000) / 300_000) * 300_000;
  const rule = {
    zones: [workspace.zone],
    quiet: { from: workspace.quiet_from, to: workspace.quiet_to },
    own: null,
    allowed: null,
  };
  return book.next(rule, soon)?.from ?? soon;
}
