import type { PlanSummary } from '../../core/api/plan';
import type { Draft } from '../../core/plan/draft';
import { localInstant, wallClock } from '../../core/plan/zones';
import { TAKEBACK_SECONDS } from './takeback';

/** The start and the end of use of a draft as instants, with what must be fixed and what is worth saying. */
export function resolveWhen(
  draft: Draft,
  zone: string,
  now: number,
): { base: number; notAfter: number; must: PlanSummary['must_fix']; hints: PlanSummary['hints'] } {
  const must: PlanSummary['must_fix'] = [];
  const hints: PlanSummary['hints'] = [];
  let base = now + TAKEBACK_SECONDS * 1000;
  if (draft.when.kind === 'at') {
    try {
      const local = localInstant(draft.when.date, draft.when.time, zone);
      base = local.instant;
      if (local.note === 'gap')
        hints.push({
          place: 'when',
          message: `The clocks go forward: ${draft.when.time} does not exist that day, so it goes at ${wallClock(base, zone).time}.`,
        });
      if (local.note === 'twice')
        hints.push({
          place: 'when',
          message: `The clocks go back: ${draft.when.time} comes twice that day, and it goes at the first.`,
        });
      if (base <= now) {
        const next = wallClock(Math.ceil((now + 5 * 60_000) / 300_000) * 300_000, zone);
        must.push({ place: 'when', message: `That time is past. The next sensible one is ${next.date} ${next.time}.` });
      }
    } catch {
      must.push({ place: 'when', message: 'That is not a date and time.' });
    }
  }
  let notAfter = base + 86_400_000;
  if (draft.no_use_after) {
    try {
      notAfter = localInstant(draft.no_use_after.date, draft.no_use_after.time, zone).instant;
    } catch {
      must.push({ place: 'when', message: '“No use after” is not a date and time.' });
    }
    if (notAfter <= base) must.push({ place: 'when', message: '“No use after” comes before it would go.' });
  }
  return { base, notAfter, must, hints };
}
