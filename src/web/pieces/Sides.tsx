import { Box } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

const Two = styled(Box)(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 400px)',
  gap: '24px 44px',
  alignItems: 'start',
  [theme.breakpoints.down('lg')]: { gridTemplateColumns: 'minmax(0, 1fr)' },
}));

/** What there is, and beside it what is done about it; one under the other where there is no room. */
export function Sides({ children, beside }: { children: ReactNode; beside: ReactNode }): ReactNode {
  return (
    <Two>
      <div>{children}</div>
      <div>{beside}</div>
    </Two>
  );
}
