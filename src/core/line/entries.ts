import type { ReceiptState } from '../outcome/states';

/**
 * What is written to the journal of the line, in this order of time: the intent before the socket write, the answer when it
 * came, receipts before they are acknowledged. Everything the tables say about texts is posted out of these entries, so a
 * crash between any two of them loses nothing.
 */
export type Entry =
  | { kind: 'intent'; at: number; commit: number; parts: readonly IntendedPart[] }
  /** Commits whose outcome was not heard of: if they happened, nobody has written what they intended. */
  | { kind: 'voided'; at: number; commits: readonly number[] }
  | { kind: 'answers'; at: number; answers: readonly Answered[] }
  | { kind: 'receipts'; at: number; receipts: readonly Receipt[] }
  | { kind: 'dropped'; at: number; texts: readonly { text: number; reason: string }[] }
  | { kind: 'resolved'; at: number; parts: readonly Resolved[] };

/** A part that will be written to the socket next. */
export interface IntendedPart {
  text: number;
  no: number;
  /** user_message_reference, 16 bits. */
  reference: number;
}

/**
 * The carrier's answer to a submit. `again`: throttled, or a trouble of its own that passes; `unwritten`: it never left us;
 * `lost`: written, and the answer never came.
 */
export type Answered = { text: number; no: number } & (
  | { kind: 'accepted'; messageId: string }
  | { kind: 'refused'; reason: string }
  | { kind: 'again'; reason: string }
  | { kind: 'unwritten' }
  | { kind: 'lost'; reason: string }
);

/** The carrier's later word on a part. */
export interface Receipt {
  messageId: string;
  reference: number | null;
  /** E.164, with the plus. */
  number: string;
  state: ReceiptState;
  error: string;
}

/** What was found out about a part whose answer was lost, or that nobody ever spoke of again. */
export type Resolved = { text: number; no: number } & (
  | { kind: 'taken'; messageId: string }
  | {
      kind: 'never';
      again: boolean;
      /** Which of its tries was asked about: what is said of one says nothing of a later one. Left out by an earlier version. */
      attempt?: number;
    }
  | { kind: 'forgotten' }
);

/** Parts an entry speaks of; what a posting costs goes by it. */
export function sizeOf(entry: Entry): number {
  switch (entry.kind) {
    case 'intent':
    case 'resolved':
      return entry.parts.length;
    case 'answers':
      return entry.answers.length;
    case 'receipts':
      return entry.receipts.length;
    case 'dropped':
      return entry.texts.length;
    case 'voided':
      return entry.commits.length;
  }
}
