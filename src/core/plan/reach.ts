/** The reach ledger: from chosen to will-get-it, every person accounted for with one reason. */

export const DROP_REASONS = [
  'left_out',
  'unticked',
  'no_number',
  'fixed_line',
  'opted_out',
  'no_consent',
  'same_number',
] as const;
export type DropReason = (typeof DROP_REASONS)[number];

export const DROP_WORDS: Record<DropReason, string> = {
  left_out: 'left out',
  unticked: 'unticked by you',
  no_number: 'no text number',
  fixed_line: 'fixed line',
  opted_out: 'opted out',
  no_consent: 'no consent for this',
  same_number: 'shares a number',
};

export interface Candidate {
  id: number;
  number: string | null;
  number_kind: string | null;
  /** Latest consent event for this purpose and the present number; null when there is none. */
  consent: 'granted' | 'withdrawn' | null;
}

export interface Reach<P extends Candidate> {
  /** Distinct people chosen. */
  chosen: number;
  /** Times someone was named by a second source. */
  namedTwice: number;
  dropped: Record<DropReason, P[]>;
  willGet: P[];
}

/**
 * Decides for every chosen person. Personal reasons drop first; the register and leave-out go by number too, so nobody
 * is reached through someone else's entry; then one winner per number, the first in the order given.
 */
export function decideReach<P extends Candidate>(
  people: readonly P[],
  rules: {
    purpose: 'service' | 'marketing';
    leaveOut: ReadonlySet<number>;
    unticked: ReadonlySet<number>;
    register: ReadonlySet<string>;
    leaveOutNumbers: ReadonlySet<string>;
  },
): Reach<P> {
  const dropped: Record<DropReason, P[]> = {
    left_out: [],
    unticked: [],
    no_number: [],
    fixed_line: [],
    opted_out: [],
    no_consent: [],
    same_number: [],
  };
  const willGet: P[] = [];
  const seen = new Set<number>();
  const taken = new Set<string>();
  let namedTwice = 0;
  for (const person of people) {
    if (seen.has(person.id)) {
      namedTwice += 1;
      continue;
    }
    seen.add(person.id);
    const reason = personal(person, rules);
    if (reason) dropped[reason].push(person);
    else if (taken.has(person.number ?? '')) dropped.same_number.push(person);
    else {
      taken.add(person.number ?? '');
      willGet.push(person);
    }
  }
  return { chosen: seen.size, namedTwice, dropped, willGet };
}

function personal(
  person: Candidate,
  rules: {
    purpose: 'service' | 'marketing';
    leaveOut: ReadonlySet<number>;
    unticked: ReadonlySet<number>;
    register: ReadonlySet<string>;
    leaveOutNumbers: ReadonlySet<string>;
  },
): DropReason | undefined {
  if (rules.leaveOut.has(person.id) || (person.number !== null && rules.leaveOutNumbers.has(person.number))) return 'left_out';
  if (rules.unticked.has(person.id)) return 'unticked';
  if (person.number === null) return 'no_number';
  if (rules.register.has(person.number)) return 'opted_out';
  if (person.number_kind === 'fixed') return 'fixed_line';
  // service notices unless withdrawn; marketing only if granted
  if (person.consent === 'withdrawn' || (rules.purpose === 'marketing' && person.consent !== 'granted')) return 'no_consent';
  return undefined;
}
