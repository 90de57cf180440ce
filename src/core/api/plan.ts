import type { DropReason } from '../plan/reach';

/** What the sheet, the last look and the run show; made by the server over the real audience. */
export interface PlanSummary {
  chosen: number;
  named_twice: number;
  /** Next contacts who get it because the one before them cannot be texted. */
  stepped_in: number;
  /** How many could step in, if it were so chosen. */
  can_step_in: number;
  dropped: Record<DropReason | 'too_late', number>;
  people: number;
  parts: number;
  cost_micro: number;
  balance_micro: number;
  currency: string;
  /** ISO instants of the first and the last text. */
  first: string | null;
  last: string | null;
  not_after: string;
  /** For a start at once: the few seconds in which it can be taken back. */
  takeback_seconds: number;
  /** parts → people, ascending. */
  distribution: { parts: number; people: number }[];
  /** Usual units and the longest, for the measure line. */
  units: { usual: number; longest: number; room: number };
  alphabet: { gsm7: number; ucs2: number };
  fallback: number;
  zones: { zone: string; people: number; first: string; last: string; guessed: number }[];
  sender: { id: number; name: string; kind: 'long' | 'short' | 'name'; address: string } | null;
  /** What characters force the extended alphabet in the words themselves, with what they cost over everyone. */
  forcing: { character: string; replacement: string | null; at: number[] }[];
  extended_cost: { parts: number; cost_micro: number } | null;
  opt_out_words: string;
  must_fix: { place: 'to' | 'words' | 'when' | 'from' | 'cost'; message: string; fix?: string; check: string }[];
  hints: { place: 'to' | 'words' | 'when' | 'from'; message: string; fix?: string; check: string }[];
  samples: ProofText[];
}

export interface ProofText {
  kind: 'usual' | 'longest' | 'fallback' | 'language';
  /** How many get a text of this kind. */
  people: number;
  /** Null for a number that is nobody's in the address book. */
  person_id: number | null;
  name: string;
  number: string;
  text: string;
  parts: number;
  cost_micro: number;
  alphabet: 'gsm7' | 'ucs2';
  due: string;
  zone: string;
  zone_guessed: boolean;
  language: string;
}
