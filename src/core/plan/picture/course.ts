import type { PlanSummary } from '../../api/sending/plan';
import { iso } from '../../clock';
import type { PlanTexts } from '../words/texts';
import { wallClock } from '../../zones';

/** Steps that a course may have, seconds; and how many of them are drawn at most. */
const STEPS = [1, 2, 5, 10, 30, 60, 300, 600, 1800, 3600, 10_800, 43_200, 86_400];
const MOST_STEPS = 240;
/** What goes is counted by whole minutes where it is many: finer steps are for runs that are soon over. */
const MOST_TEXTS_FINELY = 5000;
const MOST_ZONES = 8;

/**
 * Texts over time, zone by zone: how many are due in each step from the first text on. The rows are those of the plan's zones, in
 * their order; zones on the same wall clock are one row.
 */
export function courseOf(texts: PlanTexts, zones: PlanSummary['zones'], workspaceZone: string): PlanSummary['course'] {
  if (texts.count === 0) return null;
  let first = Infinity;
  let last = -Infinity;
  for (let i = 0; i < texts.count; i += 1) {
    if (texts.due[i] < first) first = texts.due[i];
    if (texts.due[i] > last) last = texts.due[i];
  }
  const span = (last - Math.floor(first / 60_000) * 60_000) / 1000;
  const finely = texts.count <= MOST_TEXTS_FINELY;
  const step = STEPS.find((seconds) => (finely || seconds >= 60) && span / seconds < MOST_STEPS) ?? 86_400;
  // it begins with the first text: at its minute, or where steps are shorter at its step
  const begins = Math.min(step, 60) * 1000;
  const from = Math.floor(first / begins) * begins;
  const shown = zones.slice(0, MOST_ZONES);
  const clockOf = (zone: string) => {
    const { date, time } = wallClock(texts.due[0], zone);
    return `${date} ${time}`;
  };
  const rowOfClock = new Map(shown.map(({ zone }, row) => [clockOf(zone), row]));
  const rowOfZone = new Map<string, number | undefined>();
  const counts = shown.map(() => [] as number[]);
  const all: number[] = [];
  let zone: string | undefined;
  let row: number | undefined;
  for (let i = 0; i < texts.count; i += 1) {
    const own = texts.people[i].zone ?? workspaceZone;
    const at = Math.floor((texts.due[i] - from) / 1000 / step);
    all[at] = (all[at] ?? 0) + 1;
    // neighbors are mostly of one zone
    if (own !== zone) {
      zone = own;
      row = rowOfZone.get(zone);
      if (row === undefined && !rowOfZone.has(zone)) rowOfZone.set(zone, (row = rowOfClock.get(clockOf(zone))));
    }
    if (row === undefined) continue;
    counts[row][at] = (counts[row][at] ?? 0) + 1;
  }
  return {
    from: iso(from),
    step_seconds: step,
    all: Array.from(all, (n) => n ?? 0),
    zones: shown.map(({ zone }, row) => ({ zone, texts: Array.from(counts[row], (n) => n ?? 0) })),
  };
}
