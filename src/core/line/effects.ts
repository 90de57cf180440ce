import type { Answered, IntendedPart, Receipt } from './entries';

/** A row of the queue, leased to this owner: texts of one sender with the time from which each may go. */
export interface LeasedRow {
  row: number;
  sender: number;
  /** 0 urgent (of no run), 1 tried again, 2 of a run. */
  lane: 0 | 1 | 2;
  texts: readonly { id: number; due: number; parts: number }[];
}

/** A part with its intent committed, to be written to the socket. */
export interface Outgoing extends IntendedPart {
  /** Until when it may be delivered, ms. */
  until: number;
}

export interface LeasedText {
  id: number;
  row: number;
  sender: number;
  parts: number;
  due: number;
}

/** What the line wants done next. Carried out in this order; each that has an outcome is told back as an event. */
export type Effect<H = unknown> =
  /**
   * Lease rows for about so many parts; senders whose share is already here are left out. `known`, when an earlier lease may have
   * happened without our hearing of it: own rows that are not among these are given back first. Told back as `leased`.
   */
  | { do: 'lease'; parts: number; except: number[]; known?: number[] }
  /**
   * One transaction, with its number: journal which earlier ones are void and these answers, ask the gate for these texts, journal
   * the intent for those that may go (at most `room` parts). Told back as `committed` or `failed`.
   */
  | { do: 'commit'; commit: number; voided: number[]; answers: Answered[]; texts: LeasedText[]; room: number }
  /** Write a part to the socket; its answer is told as `answered`. */
  | { do: 'write'; part: Outgoing }
  /** Journal receipts; told back as `kept` or `failed`. */
  | { do: 'keep'; receipts: { receipt: Receipt; handle: H }[] }
  /** Tell the carrier that its receipts are taken on. */
  | { do: 'acknowledge'; handles: H[] }
  /** Not taken on: the carrier keeps them and offers them again. */
  | { do: 'refuse'; handles: H[] }
  /** Bring the tables up to date with the journal, and give back these rows if nothing of them is left. Told as `posted`. */
  | { do: 'post'; emptied: number[] }
  /** Ask again at this moment (event `tick`). */
  | { do: 'wake'; at: number };

export type LineEvent<H = unknown> =
  | { is: 'tick' }
  | { is: 'connected' }
  | { is: 'broken' }
  /** `next`: when the next row that was not leased is due; now or earlier when there was more to lease. */
  | { is: 'leased'; rows: LeasedRow[]; next: number | null }
  | { is: 'committed'; commit: Committed }
  /** It has failed, or its answer was lost: it may have happened all the same. */
  | { is: 'failed'; what: 'lease' | 'commit' | 'keep' | 'post' }
  | { is: 'answered'; answer: Answered }
  | { is: 'receipt'; receipt: Receipt; handle: H }
  | { is: 'kept' }
  /** Something else of this owner was journaled (what was found out about lost parts), so many parts. */
  | { is: 'noted'; size: number }
  /** `more`: the journal held more than one posting takes; `again`: something went back into the queue. */
  | { is: 'posted'; more: boolean; dropped: number[]; again: boolean }
  /** Something of the queue, of runs or of people has changed: look again, also at what is leased and not yet due. */
  | { is: 'poke' }
  /** The process is about to end: nothing new is taken up, what is under way is brought to its end. */
  | { is: 'close' }
  /** Another owner has taken over: nothing more may be handed over. */
  | { is: 'fenced' };

/** What came of a commit. Texts that have not left stay leased. */
export interface Committed {
  /** The moment for which the gate was asked. */
  at: number;
  /** Whether anything was written to the journal, in parts; what a posting is later worth. */
  journaled: number;
  intended: Outgoing[];
  /** Of the texts that were given, those no longer leased: intended, put back for later, dropped, or gone already. */
  left: LeasedText[];
  /** Some were put back into the queue. */
  putBack: boolean;
  /** Sender → when to ask again. */
  askAgain: ReadonlyMap<number, number>;
}

export interface LineSettings {
  /** Most parts whose answer is not yet in the journal: what a kill can leave uncertain. */
  window: number;
  /** Parts leased ahead for a sender. */
  ahead: number;
  /** Entries worth posting at once, and how long they wait at most, ms. */
  postSize: number;
  postWait: number;
  /** How often the queue is looked at when nothing says that it has changed, ms. */
  lookEvery: number;
  /** How often what is leased is asked about while it cannot go, ms. */
  siftEvery: number;
}

export const LINE_SETTINGS: LineSettings = {
  window: 50,
  ahead: 600,
  postSize: 1000,
  postWait: 800,
  lookEvery: 5000,
  siftEvery: 10_000,
};

/** A trouble of the carrier that lets nothing through. */
export interface Circuit {
  since: number;
  reason: string;
  /** The next part is tried then. */
  until: number;
}
