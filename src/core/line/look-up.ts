import type { TextState } from '../outcome/states';
import type { Resolved } from './entries';
import { SETTLED } from './unanswered';

const DAY = 86_400_000;
/** Beyond this a text is not handed over again without a person: it may have turned wrong, ms. */
export const STILL_FRESH = 30 * 60_000;

/** A part whose answer may be lost. */
export interface LostPart {
  text: number;
  no: number;
  state: TextState;
  messageId: string | null;
  /** When its answer was lost, ms. */
  writtenAt: number;
  attempts: number;
}

/**
 * When the carrier is asked about a part, ms; undefined for one that needs no asking: its answer is known, or nobody can say any more.
 * Not before nothing of a broken line is still on its way, or "never" would be said of what arrives a moment later.
 */
export function askAt(part: LostPart, now: number): number | undefined {
  if (part.state !== 'uncertain' || part.messageId !== null || now > part.writtenAt + DAY) return undefined;
  return part.writtenAt + SETTLED;
}

/**
 * What a carrier's word about a part comes to: it has it (then receipts decide), or it never got it (then, and only then, the part may be
 * handed over once more). One that cannot say leaves it as it is.
 */
export function foundOut(part: LostPart, answer: 'never' | { messageId: string }, now: number): Resolved {
  const key = { text: part.text, no: part.no };
  return answer === 'never'
    ? { ...key, kind: 'never', again: now - part.writtenAt <= STILL_FRESH, attempt: part.attempts }
    : { ...key, kind: 'taken', messageId: answer.messageId };
}
