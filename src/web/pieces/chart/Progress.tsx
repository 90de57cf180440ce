import { LinearProgress } from '@mui/material';
import type { ReactNode } from 'react';

/** How far something is: done of all, or that it goes on. */
export function Progress({ label, done, of }: { label: string; done?: number; of?: number }): ReactNode {
  return done === undefined || of === undefined ? (
    <LinearProgress aria-label={label} />
  ) : (
    <LinearProgress aria-label={label} variant="determinate" value={Math.min(100, (100 * done) / Math.max(1, of))} />
  );
}
