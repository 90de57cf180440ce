import type { ImportCounts, ImportSettings } from '../../core/api/imports';
import type { Prepared, PreparedRow } from '../../core/people/prepare';

/** An import that has been decided and is being written. */
export interface Deciding {
  id: number;
  file_name: string;
  settings: ImportSettings;
  written: number;
  account_id: number | null;
  decided_at: string | null;
  counts: ImportCounts;
  facts: { list_id?: number };
}

/** A row's people once they have ids. */
export interface Placed {
  id: number;
  person: Prepared;
  number: string | null;
  /** Made by this chunk. */
  fresh: boolean;
  row: PreparedRow;
  /** The second contact of the row, when there is one. */
  secondId?: number;
}
