/**
 * How the practice carrier and its phones behave. Everything that looks like chance is a function of the seed,
 * the number and a counter, so a run can be repeated.
 */
export interface Profile {
  seed: number;
  /** `mixed`: a few numbers do not exist, are off or refuse; `delivered`: every phone takes every text. */
  outcomes: 'mixed' | 'delivered';
  /** Milliseconds from acceptance to the phone, least and most. */
  latency: [number, number];
  /** Whether receipts carry our user_message_reference back. Carriers may or may not. */
  echoReference: boolean;
  /** Share of receipts that come twice, that never come, and that come before the acceptance. */
  doubled: number;
  missing: number;
  early: number;
  /** Parts a second beyond which the answer is "throttled"; 0 = no limit. */
  throttle: number;
  /** A status of SMPP v3.4 §5.1.3 with which every submit is answered, as a carrier in trouble does; 0 = none. */
  trouble: number;
  /** How receipts write the ids of texts beside the answers, and whether they come as text, as fields, or as both. */
  receiptIds: 'same' | 'decimal' | 'hexadecimal';
  receiptsAs: 'both' | 'text' | 'fields';
  /** Texts from phones bear an id of the carrier's. */
  namesTexts: boolean;
}

export const DEMO_PROFILE: Profile = {
  seed: 7,
  outcomes: 'mixed',
  latency: [300, 4000],
  echoReference: true,
  doubled: 0.01,
  missing: 0,
  early: 0,
  throttle: 0,
  trouble: 0,
  receiptIds: 'same',
  receiptsAs: 'both',
  namesTexts: true,
};

/** FNV-1a over the text, mixed with the seed: a number in 0…1. */
export function chance(seed: number, ...what: (string | number)[]): number {
  let hash = 0x811c9dc5 ^ seed;
  for (const character of what.join('|')) {
    hash ^= character.charCodeAt(0);
    hash = Math.imul(hash, 0x01000193) >>> 0;
  }
  hash ^= hash >>> 15;
  hash = Math.imul(hash, 0x2c1b3c6d) >>> 0;
  hash ^= hash >>> 12;
  return (hash >>> 0) / 0x100000000;
}

export type Fate =
  | { kind: 'delivered' }
  | { kind: 'not_delivered'; error: string }
  /** The phone is off for so many milliseconds; the text waits, or expires first. */
  | { kind: 'off'; ms: number }
  /** Not even accepted: the submit is answered with invalid destination. */
  | { kind: 'refused' };

/** What becomes of texts to a number; the same number always fares the same. */
export function fate(profile: Profile, number: string): Fate {
  if (profile.outcomes === 'delivered') return { kind: 'delivered' };
  const roll = chance(profile.seed, 'fate', number);
  if (roll < 0.012) return { kind: 'not_delivered', error: '001' };
  if (roll < 0.016) return { kind: 'not_delivered', error: '013' };
  if (roll < 0.022) return { kind: 'off', ms: 45_000 };
  if (roll < 0.025) return { kind: 'refused' };
  return { kind: 'delivered' };
}

/** What a number's line is, as the carrier's paid lookup tells it: numbers that take no texts at all are fixed lines. */
export function lineKind(profile: Profile, number: string): 'mobile' | 'fixed' {
  return fate(profile, number).kind === 'refused' || number.startsWith('44207946') ? 'fixed' : 'mobile';
}

export function latency(profile: Profile, number: string, id: string): number {
  const [least, most] = profile.latency;
  const roll = chance(profile.seed, 'latency', number, id);
  return least + (most - least) * roll * roll; // most are quick, a few are slow
}
