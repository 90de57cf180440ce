import { styled } from '@mui/material/styles';
import type { MouseEvent } from 'react';

/** Out of sight until the keyboard comes to it (WCAG 2.2, 2.4.1). */
const SkipLink = styled('a')(({ theme }) => ({
  position: 'absolute',
  zIndex: theme.zIndex.tooltip,
  top: 4,
  left: 8,
  padding: '6px 12px',
  background: theme.bell.card,
  color: theme.bell.ink,
  '&:not(:focus)': { width: 1, height: 1, padding: 0, overflow: 'hidden', clipPath: 'inset(50%)', whiteSpace: 'nowrap' },
}));

/** Past the frame to the work, and past what stands before a table to its first row. */
export function Skips() {
  const toTable = (event: MouseEvent) => {
    const row = document.querySelector<HTMLElement>('main tbody tr[tabindex="0"], main tbody a, main tbody button');
    if (!row) return;
    event.preventDefault();
    row.focus();
  };
  return (
    <>
      <SkipLink href="#main">Skip to the work</SkipLink>
      <SkipLink href="#main" onClick={toTable}>
        Skip to the table
      </SkipLink>
    </>
  );
}
