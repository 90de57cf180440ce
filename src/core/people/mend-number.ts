import { PHONE_PROBLEM_WORDS, readPhone, type LineKind } from '../phone/read';
import { findDamage, REPAIR_WORDS, type FixKind } from '../phone/repair';

/** A number as the plan of its country knows it. */
export interface ReadNumber {
  number: string;
  country: string;
  kind: LineKind;
}

/** Which repairs of a number may be made, and which of two numbers in a cell is the one to text. */
export interface MendRules {
  /** Kinds of fixes that are applied; the safe ones unless undone, the others when the person said so. */
  fixes: ReadonlySet<FixKind>;
  /** Of two numbers in a cell, the one to text; the others are kept as "second phone". */
  twoNumbers: 'first' | 'last';
}

/** The safe kinds, applied at once and undoable. */
export const SAFE_FIXES: readonly FixKind[] = ['scientific', 'trailing_zero'];
/** Kinds that a person must say yes to. */
export const OFFERED_FIXES: readonly FixKind[] = ['two_numbers', 'letters', 'extension', 'footnote', 'lost_plus', 'lost_zero'];

/** Every number that can be read in a cell, also of several and of damaged ones. */
export function numbersIn(phone: string, options: { country: string; callingCode?: string }): string[] {
  const damage = findDamage(phone);
  const others = damage?.kind === 'two_numbers' ? damage.others : [];
  const all = damage === undefined ? [phone] : 'value' in damage ? [damage.value, ...others] : [];
  return all.flatMap((each) => {
    const read = readPhone(each, options);
    return read.ok ? [read.number] : (findLost(each, options.country)?.read.number ?? []);
  });
}

export type Mended =
  | {
      ok: true;
      read: ReadNumber;
      fix?: { kind: FixKind; before: string; after: string };
      others: string[];
    }
  | { ok: false; reason: string; fix?: { kind: FixKind; before: string; after: string | null } };

/** The one number of a cell to text, mended where it is damaged and the rules allow it; else why not. */
export function mend(phone: string, options: { country: string; callingCode?: string }, rules: MendRules): Mended {
  const damage = findDamage(phone);
  if (!damage) {
    const read = readPhone(phone, options);
    if (read.ok) return { ok: true, read, others: [] };
    const lost = findLost(phone, options.country);
    if (!lost) return { ok: false, reason: PHONE_PROBLEM_WORDS[read.problem] };
    return apply(lost.kind, phone, lost.read, [], rules);
  }
  if (!('value' in damage))
    return { ok: false, reason: REPAIR_WORDS[damage.kind], fix: { kind: damage.kind, before: phone, after: null } };
  const numbers = damage.kind === 'two_numbers' ? [damage.value, ...damage.others] : [damage.value];
  const chosen = rules.twoNumbers === 'last' ? numbers[numbers.length - 1] : numbers[0];
  const read = readPhone(chosen, options);
  if (!read.ok)
    return { ok: false, reason: PHONE_PROBLEM_WORDS[read.problem], fix: { kind: damage.kind, before: phone, after: null } };
  return apply(
    damage.kind,
    phone,
    read,
    numbers.filter((each) => each !== chosen),
    rules,
  );
}

function apply(kind: FixKind, before: string, read: ReadNumber, others: string[], rules: MendRules): Mended {
  const fix = { kind, before, after: read.number };
  if (!rules.fixes.has(kind)) return { ok: false, reason: `waits for your fix: ${REPAIR_WORDS[kind]}`, fix };
  return { ok: true, read, fix, others };
}

/** A number that reads once a plus or a leading zero is put back, when only one of the two does. */
function findLost(phone: string, country: string): { kind: 'lost_plus' | 'lost_zero'; read: ReadNumber } | undefined {
  const digits = phone.replace(/\D/g, '');
  // what begins with a zero has lost neither a plus nor a zero
  if (!/^[\d\s().-]+$/.test(phone) || digits.length < 6 || digits.startsWith('0')) return undefined;
  const plus = digits.length >= 10 ? readPhone(`+${digits}`) : undefined;
  const zero = readPhone(`0${digits}`, { country });
  if (plus?.ok && !zero.ok) return { kind: 'lost_plus', read: plus };
  if (zero.ok && !plus?.ok) return { kind: 'lost_zero', read: zero };
  return undefined;
}
