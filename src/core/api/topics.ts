/** What may change, in the smallest words. What an answer depends on, and what an act changes, is said in these. */
export type Topic =
  | 'run'
  | 'runs'
  | 'replies'
  | 'people'
  | 'carrier'
  | 'balance'
  | 'clock'
  | 'import'
  | 'broadcasts'
  | 'draft'
  | 'setup'
  | 'account'
  | 'templates'
  | 'codes';

/** A change as the live line tells it. */
export interface Change {
  topic: Topic;
  id?: number;
}
