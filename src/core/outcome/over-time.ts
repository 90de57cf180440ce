import { wallClock } from '../zones';

/** A run in what is counted over many of them. */
export interface RunFigures {
  /** When it began, ms. */
  at: number;
  delivered: number;
  answers: number;
  clicked: number;
  /** Texts that had a link to follow. */
  linked: number;
  opted_out: number;
  /** What it cost in the end, millionths. */
  spent_micro: number;
  sender: string;
  labels: readonly string[];
}

/** Runs taken together: shares are of all their people, not the middle of their shares. */
export interface Together {
  runs: number;
  delivered: number;
  answers: number;
  clicked: number;
  linked: number;
  opted_out: number;
  spent_micro: number;
}

export interface OverTime {
  /** By the hour of the day at which they began, 0 to 23, in the zone. */
  hours: Together[];
  /** By the day of the week, Monday first. */
  weekdays: Together[];
  /** By month, `YYYY-MM`, the first to the last without a gap. */
  months: (Together & { month: string })[];
  /** A run with several labels counts with each, one without with ''. */
  labels: (Together & { name: string })[];
  senders: (Together & { name: string })[];
}

const none = (): Together => ({ runs: 0, delivered: 0, answers: 0, clicked: 0, linked: 0, opted_out: 0, spent_micro: 0 });

function add(to: Together, run: RunFigures): void {
  to.runs += 1;
  to.delivered += run.delivered;
  to.answers += run.answers;
  to.clicked += run.clicked;
  to.linked += run.linked;
  to.opted_out += run.opted_out;
  to.spent_micro += run.spent_micro;
}

/** Runs by hour, weekday, month, label and sender. */
export function overTime(runs: readonly RunFigures[], zone: string): OverTime {
  const hours = Array.from({ length: 24 }, none);
  const weekdays = Array.from({ length: 7 }, none);
  const months = new Map<string, Together>();
  const labels = new Map<string, Together>();
  const senders = new Map<string, Together>();
  const into = (map: Map<string, Together>, key: string, run: RunFigures) => {
    const kept = map.get(key) ?? none();
    map.set(key, kept);
    add(kept, run);
  };
  for (const run of runs) {
    const { date, minutes } = wallClock(run.at, zone);
    add(hours[Math.floor(minutes / 60)], run);
    // Monday is the first of the week (ISO 8601)
    add(weekdays[(new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7], run);
    into(months, date.slice(0, 7), run);
    for (const label of run.labels.length === 0 ? [''] : run.labels) into(labels, label, run);
    into(senders, run.sender, run);
  }
  const named = (map: Map<string, Together>) =>
    [...map].map(([name, of]) => ({ name, ...of })).sort((a, b) => b.spent_micro - a.spent_micro || (a.name < b.name ? -1 : 1));
  return {
    hours,
    weekdays,
    months: withoutGaps(months),
    labels: named(labels),
    senders: named(senders),
  };
}

/** A month in which nothing went is one with nothing, not one that is not there. */
function withoutGaps(months: ReadonlyMap<string, Together>): (Together & { month: string })[] {
  const known = [...months.keys()].sort();
  if (known.length === 0) return [];
  const all: (Together & { month: string })[] = [];
  for (let month = known[0]; month <= known[known.length - 1]; month = after(month))
    all.push({ month, ...(months.get(month) ?? none()) });
  return all;
}

function after(month: string): string {
  const [year, at] = month.split('-').map(Number);
  return at === 12 ? `${year + 1}-01` : `${year}-${String(at + 1).padStart(2, '0')}`;
}
