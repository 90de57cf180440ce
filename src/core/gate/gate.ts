import type { RunState } from '../outcome/states';
import type { Hours, HoursRule } from './hours';

/** Everything that decides whether a text may go at a moment. Read anew each time it is asked; never remembered. */
export interface GateFacts {
  /** `own`: what goes by itself, and nobody of the desk wrote. */
  kind: 'run' | 'test' | 'reply' | 'own' | 'confirmation';
  /** It is a number, written as every table has it; else nothing is known of it, and nothing goes. */
  number: boolean;
  purpose: 'service' | 'marketing';
  /** The number stands in the do-not-text register. */
  registered: boolean;
  /** `here`: in the address book with this number; `none`: a bare number that is nobody's. */
  person: 'here' | 'none' | 'erased' | 'changed';
  /** Latest word for the purpose at this number. */
  consent: 'granted' | 'withdrawn' | 'cleared' | null;
  /** Nothing of this purpose goes to whoever has not agreed to it: marketing, and notices where the workspace has it so. */
  needsYes: boolean;
  /** They must not be written to about the dependants this text is about. */
  mustNot: boolean;
  /** A reply of theirs is a stop that is not acted on yet, or may mean stop and nobody has decided; asked of the replies themselves. */
  undecided: 'stop' | 'maybe' | null;
  minor: boolean;
  /** When it becomes pointless, ms. */
  notAfter: number;
  /** Of the run, or null for a single text. */
  run: { state: RunState; note: string } | null;
  /** Its words name a day that was counted from this one (YYYY-MM-DD, on the recipient's clock); null where they name none that moves. */
  day: { named: string; now: string } | null;
  hours: HoursRule;
  hoursKey?: string;
  /** An urgent service notice, agreed as such with a reason: hours do not hold it back. */
  override: boolean;
  /** It answers someone who has just written, or is one's own test: they are awake and asked for it, so hours do not hold it back. */
  asked: boolean;
}

/** `go` says until when it may still be handed over (and be delivered); `hold` waits for a person, `later` for the hour. */
export type GateAnswer =
  { kind: 'go'; until: number } | { kind: 'later'; at: number } | { kind: 'hold' } | { kind: 'never'; reason: string };

/** Reasons that mean "no use any more" rather than "must not". */
export const NO_NUMBER = 'not a number that can be texted';
export const TOO_LATE = 'of no more use by then';
export const UNDECIDED = 'a reply that may mean stop was not decided in time';
export const DAY_PASSED = 'its words name a day that had passed';
export const NO_HOUR = 'no allowed hour before it is of no use';
/** A reply within this time answers someone who is awake, ms. */
export const JUST_WROTE = 3_600_000;
/** The longest a carrier tries to deliver a text, ms. */
export const LONGEST_VALIDITY = 86_400_000;

/**
 * May this text go now; if not, when, or why never? The one place where that is decided: the plan asks it for every due
 * time, and the claim asks it again for everything it hands over.
 */
export function gate(facts: GateFacts, now: number, book: Hours): GateAnswer {
  const never = (reason: string): GateAnswer => ({ kind: 'never', reason });
  if (!facts.number) return never(NO_NUMBER);
  if (facts.run?.state === 'stopped') return never(facts.run.note || 'canceled');
  if (facts.run?.state === 'missed') return never(facts.run.note || 'missed its time');
  // a confirmation of an opt-out is the one text that may follow it: 47 CFR 64.1200(a)(12)
  if (facts.kind !== 'confirmation') {
    if (facts.registered) return never('opted out');
    if (facts.person === 'erased') return never('erased');
    if (facts.person === 'changed') return never('number changed');
  }
  if (facts.kind === 'run') {
    if (facts.mustNot) return never('must not receive');
    if (facts.consent === 'withdrawn') return never('consent withdrawn');
    if (facts.purpose === 'marketing' && facts.minor) return never('a minor, no marketing');
    if (facts.needsYes && facts.consent !== 'granted') return never('no consent for this');
  }
  const held = holds(facts);
  const otherDay = facts.day !== null && facts.day.named !== facts.day.now;
  if (now >= facts.notAfter) return never(held ? UNDECIDED : otherDay ? DAY_PASSED : TOO_LATE);
  const latest = Math.min(facts.notAfter, now + LONGEST_VALIDITY);
  if (facts.run && facts.run.state !== 'sending' && facts.run.state !== 'finished') return { kind: 'hold' };
  if (held)
    return { kind: 'later', at: Math.min(now + (facts.undecided === 'stop' ? ACTED_WITHIN : DECIDE_WITHIN), facts.notAfter) };
  // what it says would be wrong: a person says whether it goes all the same
  if (otherDay) return { kind: 'later', at: Math.min(now + DECIDE_WITHIN, facts.notAfter) };
  if (facts.asked || (facts.override && facts.purpose === 'service')) return { kind: 'go', until: latest };
  const stretch = facts.hours.zones.length === 0 ? undefined : book.next(facts.hours, now, facts.hoursKey);
  if (!stretch || stretch.from >= facts.notAfter) return never(NO_HOUR);
  // the last second of an allowed hour is no time to begin: the carrier would have none left to deliver in
  if (stretch.from === now && stretch.until - now > LEAST_VALIDITY) return { kind: 'go', until: Math.min(latest, stretch.until) };
  const next = stretch.from > now ? stretch : book.next(facts.hours, stretch.until, facts.hoursKey);
  if (!next || next.from >= facts.notAfter) return never(NO_HOUR);
  return { kind: 'later', at: next.from };
}

/**
 * Whether a reply of theirs holds a text back. A stop holds everything but its confirmation; where only a person can tell, what a person
 * writes to them goes, since that is how it is found out.
 */
function holds({ undecided, kind }: GateFacts): boolean {
  if (undecided === null || kind === 'confirmation') return false;
  return undecided === 'stop' || kind === 'run' || kind === 'own';
}

/** A stop is acted on soon; a text to its number is asked about again then, ms. */
const ACTED_WITHIN = 5000;
/** How often a text is asked about again whose recipient may have said stop, ms. */
const DECIDE_WITHIN = 10 * 60_000;
/** Less time than this before quiet hours is too little to deliver in, ms. */
export const LEAST_VALIDITY = 5000;
