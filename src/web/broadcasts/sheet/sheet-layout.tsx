import { Box, InputBase } from '@mui/material';
import { styled } from '@mui/material/styles';

/** To, Words, When, and the tally beside one another. */
export const SheetPanes = styled(Box)(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: '246px minmax(0, 1fr) 272px 200px',
  gridTemplateRows: 'minmax(0, 1fr)',
  flex: 1,
  minHeight: 0,
  [theme.breakpoints.down('md')]: { display: 'block' },
}));

/** The name of a broadcast, written where it stands. */
export const TitleInput = styled(InputBase)(({ theme }) => ({
  padding: 0,
  borderBottom: `1px dotted ${theme.bell.edge}`,
  minWidth: 120,
  maxWidth: 560,
  '&.Mui-focused': { borderBottom: `1px solid ${theme.bell.lake}` },
  '& input': {
    // no font-stretch beside size and weight here: the minifier would join them into a shorthand that browsers refuse
    fontFamily: theme.head,
    fontVariationSettings: "'wdth' 86",
    fontSize: 27,
    fontWeight: 700,
    lineHeight: 1.15,
    height: 'auto',
    padding: 0,
    fieldSizing: 'content',
    minWidth: 120,
    maxWidth: '100%',
  },
  [theme.breakpoints.down('md')]: { maxWidth: '100%' },
}));

/** The tally: who, how many parts, what cost, when; a bar at the foot of a small screen. */
export const TallyPane = styled('aside', { shouldForwardProp: (name) => name !== 'still' })<{
  /** It stands where it is also on a small screen: what is only read has nothing that must stay in sight. */
  still?: boolean;
}>(({ theme, still }) => ({
  background: theme.bell.card,
  padding: '14px 16px',
  minWidth: 0,
  overflow: 'auto',
  display: 'flex',
  flexDirection: 'column',
  [theme.breakpoints.down('md')]: {
    position: still ? 'static' : 'sticky',
    bottom: 0,
    borderTop: `2px solid ${theme.bell.ink}`,
    zIndex: 3,
    padding: '8px 12px',
  },
  // where there is little height it would lie over what is worked on
  [`${theme.breakpoints.down('md')} and (max-height: 560px)`]: { position: 'static' },
}));

export const TallyFacts = styled(Box)(({ theme }) => ({
  [theme.breakpoints.down('md')]: {
    display: 'flex',
    gap: 16,
    alignItems: 'baseline',
    '&& > *': { border: 0, padding: 0 },
    '& [data-hero]': { fontSize: 27 },
  },
}));

/** What is known only from before, while it is counted anew. */
export const Stale = styled('span', { shouldForwardProp: (name) => name !== 'stale' })<{ stale: boolean }>(
  ({ theme, stale }) => ({
    color: stale ? theme.bell.soft : undefined,
  }),
);
