import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { Verdict } from '../../../core/api/people/imports';

export type { Staged } from '../../../core/api/people/imports';

export interface RowFilter {
  verdict?: Verdict;
  fix?: string;
  waiting?: boolean;
  otherName?: boolean;
  blank?: string;
}

export type Change = (part: Partial<ImportSettings>) => Promise<void>;
