import type { Queryable } from '../../db/db';

/** Beyond so many steps after the plan's last nothing is drawn any more. */
const MOST_STEPS = 400;

export interface PlannedCourse {
  /** ISO 8601; steps count from it. */
  from: string;
  step_seconds: number;
  planned: number[];
}

/** What was to go when, as it was agreed to; null for a run whose plan kept no course. */
export async function plannedCourse(db: Queryable, run: number): Promise<PlannedCourse | null> {
  const { rows } = await db.query<{ from: string; step_seconds: number; planned: number[]; moved_ms: number }>(
    `SELECT course_from AS from, course_step_seconds AS step_seconds, course_texts AS planned,
       -- of a start at once the times count from the press, and were shown a little before it
       floor(extract(epoch FROM date_trunc('minute', due_at) - date_trunc('minute', shown_first)) * 1000)::float8 AS moved_ms
     FROM run WHERE id = $1 AND course_texts IS NOT NULL`,
    [run],
  );
  const row = rows.at(0);
  if (!row) return null;
  return {
    from: new Date(Date.parse(row.from) + row.moved_ms).toISOString(),
    step_seconds: row.step_seconds,
    planned: row.planned,
  };
}

/** How many texts went in each step of a course; what went before it or long after it stands at its ends. */
export function wentBySteps(course: PlannedCourse, gone: Iterable<readonly [step: number, n: number]>): number[] {
  const went: number[] = [];
  for (const [step, n] of gone) {
    const at = Math.min(Math.max(0, step), course.planned.length + MOST_STEPS);
    went[at] = (went[at] ?? 0) + n;
  }
  return Array.from(went, (n) => n ?? 0);
}
