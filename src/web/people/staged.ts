import type { BenchQuestions, ImportSettings, StagedImport, Verdict } from '../../core/api/imports';

/** An import as its bench shows it. */
export interface Staged extends StagedImport {
  questions: BenchQuestions;
}

export interface RowFilter {
  verdict?: Verdict;
  fix?: string;
  waiting?: boolean;
  blank?: string;
}

export type Change = (part: Partial<ImportSettings>) => Promise<void>;
