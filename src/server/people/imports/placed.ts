import type { StagedImport } from '../../../core/api/people/imports';
import type { Prepared, PreparedRow } from '../../../core/people/prepare';

/** An import that has been decided and is being written. */
export type Deciding = Pick<StagedImport, 'id' | 'file_name' | 'settings' | 'written_row' | 'decided_at' | 'counts' | 'facts'> & {
  account_id: number | null;
};

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
