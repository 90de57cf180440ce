import type { ReactNode } from 'react';

/** One column: its key (also that of sorting), its heading, and what stands in it. */
export interface Column<T> {
  key: string;
  heading: ReactNode;
  /** The heading in plain words, where it is not words. */
  said?: string;
  cell: (row: T) => ReactNode;
  /** px to begin with; the rest is shared by those that have none. */
  width?: number;
  /** Figures stand at the end. */
  num?: boolean;
  sorts?: boolean;
  /** Always there: cannot be put away. */
  stays?: boolean;
  nobreak?: boolean;
  /** On a small screen it stands beneath its row, with its heading, instead of out of sight to the side; or it is away. */
  folds?: true | 'away';
}

/** How high a row is where all are alike, px: itself, and with what stands beneath it on a phone. */
export interface Flat {
  row: number;
  whole: number;
}

/** Columns in the order somebody put them; those they have not seen yet come where they were declared. */
export function inOrder<T>(columns: readonly Column<T>[], order: readonly string[]): Column<T>[] {
  const place = (key: string) => {
    const at = order.indexOf(key);
    return at < 0 ? columns.findIndex((column) => column.key === key) + 0.5 : at;
  };
  return [...columns].sort((a, b) => place(a.key) - place(b.key));
}
