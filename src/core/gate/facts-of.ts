import { isNumber } from '../phone/number';
import { yearsBetween } from '../people/day';
import type { RunState } from '../outcome/states';
import { wallClock } from '../zones';
import type { GateFacts } from './gate';
import { hoursKey, type AllowedHours, type HoursRule } from './hours';
import { hoursIn, type WorkspaceHours } from './hours-of';
import { plausibleZones } from './plausible';

/** What kinds of texts there are, as they are kept. */
export type TextKind = 'run' | 'opt_out' | 'copy' | 'test' | 'confirmation' | 'reply' | 'automatic' | 'passed' | 'alarm';

/**
 * What follows a run's text, and its copies, are allowed what that is allowed, no more; what goes by itself to one number is
 * allowed what an answer is, but not where they may have said stop.
 */
const GATED_AS: Record<TextKind, GateFacts['kind']> = {
  run: 'run',
  opt_out: 'run',
  copy: 'run',
  test: 'test',
  confirmation: 'confirmation',
  reply: 'reply',
  automatic: 'own',
  passed: 'own',
  alarm: 'own',
};

/** What stands about a text, as it was read a moment ago. */
export interface TextAsRead {
  kind: TextKind;
  number: string;
  /** Of whom it was written for; null where it is for a bare number. */
  person_id: number | null;
  /** The same, where they are still in the address book. */
  person_here: number | null;
  person_number: string | null;
  zone: string | null;
  zone_guessed: boolean | null;
  quiet: string | null;
  born: string | null;
  registered: boolean;
  undecided: 'stop' | 'maybe' | null;
  consent: 'granted' | 'withdrawn' | 'cleared' | null;
  /** Nothing of its purpose goes to whoever has not agreed to it. */
  needs_yes: boolean;
  must_not: boolean;
  /** They have just written, or asked for it at any hour. */
  wrote: boolean;
  /** ms */
  not_after: number;
  run_state: RunState | null;
  run_note: string | null;
  /** The day that its words were counted from, YYYY-MM-DD; null where they name none, or a person has said that it goes on another. */
  names_day: string | null;
  purpose: 'service' | 'marketing' | null;
  allowed: AllowedHours | null;
  urgent: string | null;
}

/**
 * The one builder of what the gate is asked: for what a line hands over, for when an answer would go, and for whether a test may. A plan
 * asks for hours only (`hoursIn`), of many at once; who gets it at all is decided by reach, on the same words.
 */
export function factsOf(row: TextAsRead, around: WorkspaceHours, now: number): GateFacts {
  const hours = rule(row, around);
  return {
    kind: GATED_AS[row.kind],
    number: isNumber(row.number),
    purpose: row.purpose ?? 'service',
    registered: row.registered,
    person:
      row.person_id === null
        ? 'none'
        : row.person_here === null
          ? 'erased'
          : row.person_number === row.number
            ? 'here'
            : 'changed',
    consent: row.consent,
    needsYes: row.needs_yes,
    mustNot: row.must_not,
    undecided: row.undecided,
    minor: row.purpose === 'marketing' && row.born !== null && yearsBetween(row.born, wallClock(now, around.zone).date) < 18,
    notAfter: row.not_after,
    run: row.run_state === null ? null : { state: row.run_state, note: row.run_note ?? '' },
    day: row.names_day === null ? null : { named: row.names_day, now: wallClock(now, row.zone ?? around.zone).date },
    hours,
    hoursKey: keyOf(hours),
    override: row.urgent !== null,
    asked: row.kind === 'confirmation' || row.wrote,
  };
}

/** A text of no run to somebody of whom only the hours are asked: everything else is asked again when it goes. */
export const singleText = (
  part: Pick<TextAsRead, 'kind' | 'number' | 'zone' | 'zone_guessed' | 'quiet' | 'wrote' | 'not_after'>,
): TextAsRead => ({
  ...part,
  person_id: null,
  person_here: null,
  person_number: null,
  born: null,
  registered: false,
  undecided: null,
  consent: null,
  needs_yes: false,
  must_not: false,
  run_state: null,
  run_note: null,
  names_day: null,
  purpose: null,
  allowed: null,
  urgent: null,
});

const keys = new WeakMap<HoursRule, string>();
function keyOf(hours: HoursRule): string {
  let key = keys.get(hours);
  if (key === undefined) keys.set(hours, (key = hoursKey(hours)));
  return key;
}

const MOST_RULES = 5000;
const rules = new Map<string, HoursRule>();
function rule(row: TextAsRead, around: WorkspaceHours): HoursRule {
  const zones = plausibleZones({ zone: row.zone, zoneGuessed: row.zone_guessed ?? true, number: row.number }, around.zone);
  const key = `${zones.join('|')} ${around.quiet_from} ${around.quiet_to} ${row.quiet ?? ''} ${row.allowed ? JSON.stringify(row.allowed) : ''}`;
  let known = rules.get(key);
  if (!known) {
    known = hoursIn(zones, row.quiet, around, row.allowed);
    if (rules.size > MOST_RULES) rules.clear();
    rules.set(key, known);
  }
  return known;
}
