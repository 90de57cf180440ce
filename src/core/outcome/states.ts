/** States of a text and of its parts, and how they may move. */
export const TEXT_STATES = [
  'planned',
  'handing_over',
  'with_carrier',
  'delivered',
  'not_delivered',
  'expired',
  'uncertain',
  'not_sent',
] as const;
export type TextState = (typeof TEXT_STATES)[number];

const FINAL: ReadonlySet<TextState> = new Set(['delivered', 'not_delivered', 'expired', 'not_sent']);

/** True for a state that nothing moves any more. Uncertain is not final: a late receipt may still resolve it. */
export function isFinal(state: TextState): boolean {
  return FINAL.has(state);
}

/**
 * A text's state from its parts' states: all delivered is delivered; any final failure decides;
 * else what is still being handed over; else any uncertain; else with the carrier.
 */
export function rollUp(parts: readonly TextState[]): TextState {
  if (parts.length === 1) return parts[0];
  const has = (state: TextState) => parts.includes(state);
  if (parts.every((state) => state === 'planned')) return 'planned';
  if (parts.every((state) => state === 'not_sent')) return 'not_sent';
  if (has('not_delivered') || has('not_sent')) return 'not_delivered';
  if (has('expired')) return 'expired';
  if (has('planned') || has('handing_over')) return 'handing_over';
  if (has('uncertain')) return 'uncertain';
  if (has('with_carrier')) return 'with_carrier';
  return 'delivered';
}

/** Words of a receipt, SMPP v3.4 §5.2.28 and Appendix B. */
export type ReceiptState = 'ENROUTE' | 'DELIVRD' | 'EXPIRED' | 'DELETED' | 'UNDELIV' | 'ACCEPTD' | 'UNKNOWN' | 'REJECTD';

/** The state a part moves to on a receipt, or undefined when the receipt changes nothing. Final states never move. */
export function onReceipt(part: TextState, receipt: ReceiptState): TextState | undefined {
  if (isFinal(part) || part === 'planned') return undefined;
  switch (receipt) {
    case 'DELIVRD':
      return 'delivered';
    case 'EXPIRED':
      return 'expired';
    case 'UNDELIV':
    case 'REJECTD':
    case 'DELETED':
      return 'not_delivered';
    case 'ENROUTE':
    case 'ACCEPTD':
      return part === 'with_carrier' ? undefined : 'with_carrier';
    case 'UNKNOWN':
      return undefined;
  }
}

/** Why a text was not delivered, by the carrier's three-character error (our practice carrier's codes). */
export function failureWords(receipt: ReceiptState, error: string): string {
  if (receipt === 'EXPIRED') return 'the phone was off too long';
  if (receipt === 'DELETED') return 'deleted by the carrier';
  if (receipt === 'REJECTD') return 'refused by the carrier';
  if (error === '001') return 'number does not exist';
  if (error === '013') return 'the phone does not take texts';
  return `the carrier could not deliver it${error && error !== '000' ? ` (its code ${error})` : ''}`;
}

/** States of a run. */
export type RunState = 'planning' | 'waiting' | 'sending' | 'paused' | 'stopped' | 'finished' | 'missed';
