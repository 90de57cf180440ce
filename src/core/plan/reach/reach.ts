/** The reach ledger: from chosen to will-get-it, every person accounted for with one reason. */

export const DROP_REASONS = [
  'left_out',
  'unticked',
  'must_not',
  'must_not_here',
  'no_number',
  'opted_out',
  'undecided',
  'fixed_line',
  'unreachable',
  'minor',
  'no_consent',
  'same_number',
] as const;
export type DropReason = (typeof DROP_REASONS)[number];

export const DROP_WORDS: Record<DropReason, string> = {
  left_out: 'left out',
  unticked: 'unticked by you',
  must_not: 'must not receive',
  must_not_here: 'must not hear about a dependant',
  no_number: 'no text number',
  opted_out: 'opted out',
  undecided: 'may have said stop',
  fixed_line: 'fixed line',
  unreachable: 'number did not exist before',
  minor: 'a minor, no marketing',
  no_consent: 'no consent for this',
  same_number: 'shares a number',
};

/** The ledger's steps in the order in which people leave: what `decide` drops, and who has no allowed hour in time (the timetable). */
export const LEFT_OUT_STEPS = [...DROP_REASONS, 'too_late'] as const;
export type LeftOutStep = (typeof LEFT_OUT_STEPS)[number];
/** Why somebody does not get it, in the ledger's words. */
export const LEFT_OUT_WORDS: Readonly<Record<LeftOutStep, string>> = { ...DROP_WORDS, too_late: 'no allowed hour in time' };

/** Reasons for which someone cannot be texted at all: the call list, and where a second contact may step in. */
export const CANNOT_BE_TEXTED: readonly DropReason[] = ['no_number', 'opted_out', 'undecided', 'fixed_line', 'unreachable'];

/** How many of those who were dropped cannot be texted at all: as many as stand on the call list. */
export const cannotBeTexted = (dropped: Readonly<Record<DropReason, number>>): number =>
  CANNOT_BE_TEXTED.reduce((sum, reason) => sum + dropped[reason], 0);

export interface Candidate {
  id: number;
  number: string | null;
  number_kind: string | null;
  /** Latest consent event for this purpose and the present number; null when there is none. */
  consent: 'granted' | 'withdrawn' | 'cleared' | null;
  /** Chosen for dependants about whom they must not be written to, and for no others. */
  mustNot?: boolean;
  /** Chosen for dependants that are known, and must not be written to about any of them, whatever the words are about. */
  mustNotHere?: boolean;
  /** It is not known for whom they were chosen, and there is a dependant about whom they must not be written to. */
  barredForSome?: boolean;
  /** Under 18: no marketing. */
  minor?: boolean;
}

export interface ReachRules {
  purpose: 'service' | 'marketing';
  /** Nothing of this purpose goes to whoever has not agreed to it. */
  needsYes?: boolean;
  leaveOut: ReadonlySet<number>;
  unticked: ReadonlySet<number>;
  untickedNumbers?: ReadonlySet<string>;
  register: Pick<ReadonlySet<string>, 'has'>;
  /** Numbers from which a reply came that may mean stop, and nobody has decided. */
  undecided?: ReadonlySet<string>;
  leaveOutNumbers: ReadonlySet<string>;
  /** Those who must not hear about some dependant do not get it where nobody knows for whom they were chosen. */
  leaveOutBarred?: boolean;
  unreachable?: ReadonlySet<string>;
}

export interface Reach<P extends Candidate> {
  /** Distinct people chosen. */
  chosen: number;
  /** Times someone was named by a second source, and who. */
  namedTwice: number;
  twice: P[];
  /** Who gets the text of a number that several share. */
  winners: ReadonlyMap<string, P>;
  dropped: Record<DropReason, P[]>;
  willGet: P[];
}

/**
 * Decides for every chosen person. Personal reasons drop first; the register and leave-out go by number too, so nobody
 * is reached through someone else's entry; then one winner per number, the first in the order given.
 */
export function decideReach<P extends Candidate>(people: readonly P[], rules: ReachRules): Reach<P> {
  const dropped = Object.fromEntries(DROP_REASONS.map((reason) => [reason, [] as P[]])) as unknown as Record<DropReason, P[]>;
  const willGet: P[] = [];
  const seen = new Set<number>();
  const taken = new Map<string, P>();
  const twice: P[] = [];
  for (const person of people) {
    if (seen.has(person.id)) {
      twice.push(person);
      continue;
    }
    seen.add(person.id);
    const reason = personal(person, rules);
    if (reason) dropped[reason].push(person);
    else if (taken.has(person.number ?? '')) dropped.same_number.push(person);
    else {
      taken.set(person.number ?? '', person);
      willGet.push(person);
    }
  }
  const winners = new Map<string, P>();
  for (const { number } of dropped.same_number) {
    const winner = taken.get(number ?? '');
    if (winner) winners.set(number ?? '', winner);
  }
  return { chosen: seen.size, namedTwice: twice.length, twice, winners, dropped, willGet };
}

function personal(person: Candidate, rules: ReachRules): DropReason | undefined {
  if (rules.leaveOut.has(person.id) || (person.number !== null && rules.leaveOutNumbers.has(person.number))) return 'left_out';
  if (rules.unticked.has(person.id) || (person.number !== null && rules.untickedNumbers?.has(person.number))) return 'unticked';
  if (person.mustNot) return 'must_not';
  if (person.mustNotHere || (rules.leaveOutBarred && person.barredForSome)) return 'must_not_here';
  if (person.number === null) return 'no_number';
  if (rules.register.has(person.number)) return 'opted_out';
  if (rules.undecided?.has(person.number)) return 'undecided';
  if (person.number_kind === 'fixed') return 'fixed_line';
  if (rules.unreachable?.has(person.number)) return 'unreachable';
  if (rules.purpose === 'marketing' && person.minor) return 'minor';
  // service notices unless withdrawn, or only if granted where the workspace has it so; marketing only if granted
  if (
    person.consent === 'withdrawn' ||
    ((rules.purpose === 'marketing' || rules.needsYes === true) && person.consent !== 'granted')
  )
    return 'no_consent';
  return undefined;
}
