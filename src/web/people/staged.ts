import type { BenchQuestions, ImportCounts, ImportSettings, Verdict } from '../../core/api/imports';

/** An import as its bench shows it. */
export interface Staged {
  id: number;
  file_name: string;
  state: string;
  facts: {
    headings: string[];
    format?: string;
    encoding?: string;
    delimiter?: string;
    sheets?: { name: string; hidden: boolean }[];
    sheet?: string;
    notes: string[];
    last?: number;
    list_id?: number;
    failure?: string;
    pasted?: boolean;
    kept?: { texted: number; changed: number };
    /** Rows that were said to come in, and rows that did. */
    differs?: { said: number; wrote: number };
  };
  settings: ImportSettings;
  counts: ImportCounts;
  row_count: number;
  written: number;
  /** Row the dry run has come to; 0 when it is not running. */
  at_row: number;
  /** Of the bench; what is decided is what the counts of this version say. */
  version: number;
  questions: BenchQuestions;
  decided_at: string | null;
}

export interface RowFilter {
  verdict?: Verdict;
  fix?: string;
  waiting?: boolean;
  blank?: string;
}

export type Change = (part: Partial<ImportSettings>) => Promise<void>;
