import { differenceInterval } from './proportions';

/** What is compared of a run. */
export interface Compared {
  people: number;
  delivered: number;
  /** People who answered, clicked, opted out: each counted once. */
  answered: number;
  clicked: number;
  /** Of how many texts had a link. */
  linked: number;
  opted_out: number;
  parts: number;
  due_at: string;
  sender: string;
  words: string;
  purpose: string;
}

export const MEASURES = ['delivered', 'answered', 'clicked', 'opted_out'] as const;
export type Measure = (typeof MEASURES)[number];

/** A share with what it is of: delivered of all, everything else of those who got it. Undefined where there is nothing to count. */
export function shareOf(run: Compared, measure: Measure): { k: number; n: number } | undefined {
  const n = measure === 'delivered' ? run.people : measure === 'clicked' ? Math.min(run.linked, run.delivered) : run.delivered;
  return n > 0 ? { k: Math.min(run[measure], n), n } : undefined;
}

const WORDS: Readonly<Record<Measure, string>> = {
  delivered: 'delivered',
  answered: 'answers',
  clicked: 'clicks',
  opted_out: 'opt-outs',
};
const points = (share: number) => {
  const n = Math.abs(share * 100);
  const shown = n < 10 ? Math.round(n * 10) / 10 : Math.round(n);
  return shown.toLocaleString('en-US');
};

/** How a share differs from another, in percentage points and in words, with honest doubt where the numbers are small. */
export function differenceWords(measure: Measure, run: Compared, base: Compared): string | undefined {
  const [a, b] = [shareOf(run, measure), shareOf(base, measure)];
  if (!a || !b) return undefined;
  const by = a.k / a.n - b.k / b.n;
  const { from, to } = differenceInterval(a, b);
  const what = WORDS[measure];
  if (from > 0 || to < 0) {
    const [least, most] = [Math.min(Math.abs(from), Math.abs(to)), Math.max(Math.abs(from), Math.abs(to))];
    return `${points(by)} points ${by > 0 ? 'more' : 'fewer'} ${what} (${points(least)} to ${points(most)})`;
  }
  if (a.k === b.k && a.n === b.n) return `as many ${what}`;
  return Math.abs(by) < 0.0005
    ? `${what} alike`
    : `${what} alike as far as such numbers tell (${by > 0 ? '+' : '−'}${points(by)})`;
}

const HOUR = 3_600_000;

/** What else is different of a run, beside what became of it: when, how long, from where. In words, the weightiest first. */
export function otherwise(
  run: Compared,
  base: Compared,
  wall: (at: string) => { date: string; minutes: number; weekday: string },
): string[] {
  const found: string[] = [];
  const [mine, theirs] = [wall(run.due_at), wall(base.due_at)];
  const minutes = mine.minutes - theirs.minutes;
  if (Math.abs(minutes) >= 30) found.push(`sent ${span(Math.abs(minutes))} ${minutes > 0 ? 'later' : 'earlier'} in the day`);
  if (mine.weekday !== theirs.weekday) found.push(`on a ${mine.weekday} instead of a ${theirs.weekday}`);
  const [long, was] = [[...run.words].length, [...base.words].length];
  if (was > 0 && long > 0 && Math.abs(long / was - 1) >= 0.1)
    found.push(`${Math.round(Math.abs(long / was - 1) * 100)} % ${long > was ? 'longer' : 'shorter'}`);
  const perPerson = (each: Compared) => (each.people > 0 ? each.parts / each.people : 0);
  if (Math.abs(perPerson(run) - perPerson(base)) >= 0.1)
    found.push(`${perPerson(run).toFixed(1)} parts a person instead of ${perPerson(base).toFixed(1)}`);
  if (run.sender !== base.sender) found.push(`from ${run.sender}`);
  if (run.linked > 0 !== base.linked > 0) found.push(run.linked > 0 ? 'with a link' : 'without a link');
  if (run.purpose !== base.purpose) found.push(run.purpose === 'service' ? 'a service notice' : 'marketing');
  if (run.words === base.words && found.length === 0) found.push('the same words');
  return found;
}

function span(minutes: number): string {
  if (minutes < 90) return `${minutes} minutes`;
  const hours = Math.round((minutes * 60_000) / HOUR);
  return hours === 1 ? 'an hour' : `${hours} hours`;
}
