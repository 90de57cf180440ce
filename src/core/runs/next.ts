/** What the server plans by itself of a broadcast, as a pure decision: it is asked anew each time, and nothing of it is remembered. */
export interface Course {
  /** Nothing is planned of one that is not scheduled (any more). */
  scheduled: boolean;
  /** When its next run is to be planned, ms; null where nothing is to come by the clock. */
  planAt: number | null;
  /** The date of that run, and when it is to start; null for the run that was agreed to, once more. */
  nextDate: string | null;
  nextAt: number | null;
  /** In each recipient's own time. */
  own: boolean;
  /** The next import into its list that it has no run of. */
  imported: { id: number } | null;
}

export type Next =
  | { do: 'nothing' }
  /** Not yet; at that moment (ms) it is asked again. */
  | { do: 'wait'; until: number }
  /** The run of a date; `atOnce` where its moment has just passed. */
  | { do: 'plan date'; date: string; atOnce: boolean }
  | { do: 'miss'; date: string; why: string }
  | { do: 'plan anew' }
  | { do: 'plan import'; id: number };

/** @param lateLimit how late a run may start, ms */
export function nextOf(course: Course, now: number, lateLimit: number): Next {
  if (!course.scheduled) return { do: 'nothing' };
  const { planAt, nextDate, nextAt, imported } = course;
  if (planAt !== null && planAt <= now) {
    if (nextDate === null) return { do: 'plan anew' };
    const late = nextAt === null ? -Infinity : now - nextAt;
    // in each one's own time it is a matter of their zones
    if (!course.own && late > lateLimit)
      return { do: 'miss', date: nextDate, why: 'The server could not plan it in time. Nothing was sent.' };
    return { do: 'plan date', date: nextDate, atOnce: !course.own && late >= 0 };
  }
  if (imported) return { do: 'plan import', id: imported.id };
  return planAt === null ? { do: 'nothing' } : { do: 'wait', until: planAt };
}
