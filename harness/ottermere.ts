/** Ids in the demo's data that tests and pictures open by their address. */
export const OTTERMERE = {
  /** The draft “Heron out of service Thursday”. */
  draft: 64,
  /** “Freight cut-off reminder”, agreed for tomorrow. */
  agreed: 63,
  /** The run of today with answers to its question. */
  asked: 59,
  /** The last that went. */
  last: 60,
  /** One that a picture of several is made of. */
  earlier: 56,
} as const;
