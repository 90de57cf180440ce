import { iso } from '../../clock';

/** What the workspace's own texts have done lately. */
export interface PastFigures {
  /** Texts with a final word, and over how many hours. */
  texts: number;
  hours: number;
  /** Of them, not delivered or expired: a share. */
  failed: number;
  /** Seconds from handing over to delivered, at evenly spaced quantiles from the quickest to the slowest. */
  delays: number[];
  /** Of delivered texts, those answered: a share. */
  answered: number;
  /** Minutes from a text to its answer, likewise; empty where nobody has answered. */
  lags: number[];
}

/** How a plan would go if texts fare as they did lately. */
export interface Rehearsal {
  texts: number;
  last_goes: string;
  last_arrives: string;
  /** Expected number, a fraction where it is small. */
  fails: number;
  answers: number;
  /** Hour by hour from the first: texts that go, and answers that come. */
  hours: { at: string; texts: number; answers: number }[];
}

const HOUR = 3_600_000;
/** Answers later than so long after the last text are of no hour that anybody staffs for. */
const MOST_HOURS = 14 * 24;
/** An irrational step through the quantiles: neighboring texts fare differently, all of them as the past did; no dice, so repeatable. */
const STEP = 0.618_033_988_749_895;

/**
 * Plays a plan at its due times with the past's delays, failures and answers. Deterministic: shares are expected values, delays and lags
 * go evenly through their quantiles.
 *
 * @param due when each text goes, ms, in any order
 */
export function rehearse(due: ArrayLike<number>, past: PastFigures): Rehearsal | null {
  if (due.length === 0) return null;
  let first = Infinity;
  let lastGoes = -Infinity;
  let lastArrives = -Infinity;
  for (let i = 0; i < due.length; i += 1) {
    if (due[i] < first) first = due[i];
    if (due[i] > lastGoes) lastGoes = due[i];
  }
  const from = Math.floor(first / HOUR) * HOUR;
  const hours: { texts: number; answers: number }[] = [];
  const of = (at: number) => {
    const i = Math.min(MOST_HOURS, Math.floor((at - from) / HOUR));
    while (hours.length <= i) hours.push({ texts: 0, answers: 0 });
    return hours[i];
  };
  const perText = (1 - past.failed) * past.answered;
  for (let i = 0; i < due.length; i += 1) {
    of(due[i]).texts += 1;
    const arrives = due[i] + 1000 * quantile(past.delays, (i * STEP) % 1);
    if (arrives > lastArrives) lastArrives = arrives;
    if (past.lags.length > 0) of(due[i] + 60_000 * quantile(past.lags, (i * STEP * STEP + 0.5) % 1)).answers += perText;
  }
  return {
    texts: due.length,
    last_goes: iso(lastGoes),
    last_arrives: iso(lastArrives),
    fails: due.length * past.failed,
    answers: due.length * perText,
    hours: hours.map((each, i) => ({ at: iso(from + i * HOUR), ...each })),
  };
}

/** Between evenly spaced quantiles, straight from one to the next. */
export function quantile(values: readonly number[], q: number): number {
  if (values.length === 0) return 0;
  const at = q * (values.length - 1);
  const below = Math.floor(at);
  const above = Math.min(values.length - 1, below + 1);
  return values[below] + (values[above] - values[below]) * (at - below);
}

/**
 * How many texts a minute bring no more answers an hour than the desk can give; undefined where nobody answers,
 * or where no pace that can be chosen would be slow enough to matter.
 */
export function deskPace(past: Pick<PastFigures, 'failed' | 'answered'>, answersAnHour: number): number | undefined {
  const perText = (1 - past.failed) * past.answered;
  if (perText <= 0) return undefined;
  const texts = Math.max(1, Math.floor(answersAnHour / 60 / perText));
  return texts > 60_000 ? undefined : texts;
}
