import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

/** State marks: rings, never color alone, always beside a word. The same marks in tables, bars and print. */
export function Ring({ state }: { state: string }): ReactNode {
  const common = { width: 13, height: 13, viewBox: '0 0 13 13', 'aria-hidden': true } as const;
  const circle = { cx: 6.5, cy: 6.5, r: 5.2, fill: 'none', stroke: 'currentColor' } as const;
  switch (state) {
    case 'delivered':
    case 'yes':
      return (
        <svg {...common}>
          <circle {...circle} r={6} fill="currentColor" stroke="none" />
        </svg>
      );
    case 'with_carrier':
    case 'handing_over':
      return (
        <svg {...common}>
          <circle {...circle} strokeWidth={1.6} />
          <path d="M6.5 1.3a5.2 5.2 0 0 0 0 10.4z" fill="currentColor" />
        </svg>
      );
    case 'not_delivered':
      return (
        <svg {...common}>
          <circle {...circle} strokeWidth={2.2} strokeDasharray="24.5 8.2" transform="rotate(-25 6.5 6.5)" />
        </svg>
      );
    case 'expired':
      return (
        <svg {...common}>
          <circle {...circle} cy={5} r={4} strokeWidth={1.6} />
          <path d="M0 12h13" stroke="currentColor" strokeWidth={1.8} />
        </svg>
      );
    case 'uncertain':
      return (
        <svg {...common}>
          <circle {...circle} strokeWidth={2} strokeDasharray="2.2 1.9" />
        </svg>
      );
    case 'not_sent':
    case 'no':
      return (
        <svg {...common}>
          <path d="M1.5 6.5h9" stroke="currentColor" strokeWidth={2.4} />
        </svg>
      );
    default:
      return (
        <svg {...common}>
          <circle {...circle} strokeWidth={1.2} />
        </svg>
      );
  }
}

const Mark = styled('span', { shouldForwardProp: (name) => name !== 'tone' })<{ tone: string | undefined }>(
  ({ theme, tone }) => ({
    display: 'inline-flex',
    gap: 7,
    alignItems: 'baseline',
    whiteSpace: 'nowrap',
    color:
      tone === 'brick' ? theme.bell.brick : tone === 'plum' ? theme.bell.plum : tone === 'soft' ? theme.bell.soft : undefined,
    '& svg': { flex: 'none', alignSelf: 'center' },
  }),
);
const TONES: Record<string, 'brick' | 'plum' | 'soft'> = {
  not_delivered: 'brick',
  expired: 'brick',
  no: 'brick',
  uncertain: 'plum',
  not_sent: 'soft',
  planned: 'soft',
};

export function State({ state, words }: { state: string; words?: ReactNode }): ReactNode {
  return (
    <Mark tone={TONES[state]}>
      <Ring state={state} /> {words ?? state.replaceAll('_', ' ')}
    </Mark>
  );
}

/** The brand mark: a bell seen from below, a ring with its clapper off center. */
export function Bell(): ReactNode {
  return (
    <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden>
      <circle cx="13" cy="13" r="9.5" fill="none" stroke="var(--yellow)" strokeWidth="5" />
      <circle cx="15.5" cy="15.5" r="3.2" fill="var(--yellow)" />
    </svg>
  );
}
