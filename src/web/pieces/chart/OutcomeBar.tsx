import { Box } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

const Bar = styled(Box, { shouldForwardProp: (name) => name !== 'thin' })<{ thin: boolean }>(({ theme, thin }) => ({
  display: 'flex',
  height: thin ? 11 : 22,
  ...(thin ? { margin: '7px 0' } : { border: `1px solid ${theme.bell.edge}` }),
}));

const Part = styled('span', { shouldForwardProp: (name) => name !== 'state' && name !== 'share' })<{
  state: string;
  share: number;
}>(({ theme, state, share }) => {
  const t = theme.bell;
  const drawn: Record<string, string> = {
    delivered: t.ink,
    with_carrier: `linear-gradient(to right, ${t.ink} 50%, transparent 50%)`,
    handing_over: `linear-gradient(to right, ${t.ink} 50%, transparent 50%)`,
    not_delivered: t.brick,
    expired: t.brick,
    uncertain: `repeating-linear-gradient(90deg, ${t.plum} 0 3px, transparent 3px 6px)`,
    not_sent: t.soft,
  };
  return {
    display: 'block',
    minWidth: 2,
    width: `${share}%`,
    background: drawn[state] ?? 'transparent',
    borderRight: `2px solid ${t.ground}`,
    '&:last-child': { borderRight: 0 },
    '@media (prefers-reduced-motion: no-preference)': { transition: 'width 0.25s linear' },
  };
});

/** What became of a run's texts, as one bar; its legend are the rings beside it. */
export function OutcomeBar({
  parts,
  people,
  label,
  thin = false,
}: {
  parts: readonly (readonly [state: string, n: number])[];
  people: number;
  label?: string;
  thin?: boolean;
}): ReactNode {
  return (
    <Bar thin={thin} role={label ? 'img' : undefined} aria-label={label}>
      {parts
        .filter(([, n]) => n > 0)
        .map(([state, n]) => (
          <Part key={state} state={state} share={(100 * n) / Math.max(1, people)} />
        ))}
    </Bar>
  );
}
