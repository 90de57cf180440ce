import { Box, Stack } from '@mui/material';
import { styled, type Theme } from '@mui/material/styles';
import { drawn, neitherLookNorAs, notALook, type Looks } from './looks';

/** Words, or anything else that stands in a line or a paragraph. */
export const Words = styled(Box, { shouldForwardProp: notALook })<Looks>(drawn);
/** The same within a line. */
export const Bit = styled('span', { shouldForwardProp: neitherLookNorAs })<Looks>(drawn);

interface Room extends Looks {
  /** Between its parts, px. */
  gap?: number;
  between?: boolean;
  base?: boolean;
  nowrap?: boolean;
  starts?: boolean;
}
const notRoom = (name: PropertyKey) => notALook(name) && !['gap', 'between', 'base', 'nowrap', 'starts'].includes(String(name));

/** Things beside one another. */
export const Row = styled(Stack, { shouldForwardProp: notRoom })<Room>(
  ({ gap = 8, between, base, nowrap, starts, ...looks }) => ({
    display: 'flex',
    flexDirection: 'row',
    alignItems: starts ? 'flex-start' : base ? 'baseline' : 'center',
    justifyContent: between ? 'space-between' : undefined,
    flexWrap: nowrap ? 'nowrap' : 'wrap',
    gap,
    ...drawn(looks as Looks & { theme: Theme }),
  }),
);

/** Things under one another. */
export const Column = styled(Stack, { shouldForwardProp: notRoom })<Room>(({ gap = 8, ...looks }) => ({
  gap,
  ...drawn(looks as Looks & { theme: Theme }),
}));

/** Fields under one another, and what submits them. Validation is ours, so that it says what is wrong in our words. */
export const Form = styled('form', { shouldForwardProp: notRoom })<Room>(({ gap = 14, ...looks }) => ({
  display: 'flex',
  flexDirection: 'column',
  gap,
  ...drawn(looks as Looks & { theme: Theme }),
}));

/** A part of the page that scrolls by itself. */
export const Pane = styled(Box, { shouldForwardProp: (name) => notALook(name) && name !== 'fill' })<Looks & { fill?: boolean }>(
  ({ fill, ...looks }) => ({
    padding: '14px 16px',
    overflow: 'auto',
    minWidth: 0,
    borderRight: `1px solid ${looks.theme.bell.hairline}`,
    '&:last-child': { borderRight: 0 },
    ...(fill ? { padding: 0, display: 'flex', flexDirection: 'column', minHeight: 0 } : {}),
    ...drawn(looks),
    [looks.theme.breakpoints.down('md')]: {
      width: 'auto',
      borderRight: 0,
      borderBottom: `1px solid ${looks.theme.bell.hairline}`,
      overflow: 'visible',
    },
    '@media print': { overflow: 'visible', ...(looks.screenOnly ? { display: 'none' } : {}) },
  }),
);

/** The panes of a view beside one another; under one another on a small screen, where one that was opened stands alone: the last. */
export const Panes = styled(Box, { shouldForwardProp: (name) => name !== 'columns' && name !== 'opened' })<{
  columns: string;
  opened?: boolean;
}>(({ theme, columns, opened }) => ({
  flex: 1,
  minHeight: 0,
  display: 'grid',
  gridTemplateColumns: columns,
  gridTemplateRows: 'minmax(0, 1fr)',
  [theme.breakpoints.down('md')]: { display: 'block', ...(opened ? { '& > :not(:last-child)': { display: 'none' } } : {}) },
}));

/**
 * The line above a view: its name, what there is to say of it, and its acts; as high with them as without. Within a pane it stands in line
 * with what is beneath it, and nothing parts them.
 */
export const Head = styled(Box, { shouldForwardProp: (name) => name !== 'within' })<{ within?: boolean }>(
  ({ theme, within }) => ({
    display: 'flex',
    alignItems: 'center',
    gap: 16,
    padding: within ? '9px 18px' : '9px 20px',
    borderBottom: `1px solid ${within ? 'transparent' : theme.bell.hairline}`,
    minHeight: 54,
    flex: 'none',
    flexWrap: 'wrap',
    [theme.breakpoints.down('md')]: { padding: within ? '8px 18px' : '8px 12px' },
  }),
);

/** What stands at the end of a head. */
export const End = styled('span', { shouldForwardProp: neitherLookNorAs })<Looks>((looks) => ({
  marginLeft: 'auto',
  display: 'flex',
  gap: 12,
  alignItems: 'center',
  ...drawn(looks),
  [looks.theme.breakpoints.down('md')]: { marginLeft: 0, flexWrap: 'wrap' },
  '@media print': { display: 'none' },
}));

/** One fact: what it is, and its figure at the end. */
export const Fact = styled(Box, { shouldForwardProp: (name) => notALook(name) && name !== 'tight' })<Looks & { tight?: boolean }>(
  ({ tight, ...looks }) => ({
    display: 'flex',
    justifyContent: 'space-between',
    alignItems: 'baseline',
    gap: 10,
    padding: tight ? '4px 0' : '8px 0',
    borderTop: `1px solid ${looks.theme.bell.hairline}`,
    ...drawn(looks),
  }),
);

/** What is known, term by term. */
export const Facts = styled('dl', { shouldForwardProp: notALook })<Looks>((looks) => ({
  display: 'grid',
  gridTemplateColumns: '96px minmax(0, 1fr)',
  gap: '3px 8px',
  alignItems: 'baseline',
  '& dt': { color: looks.theme.bell.soft },
  ...drawn(looks),
}));

/** Fields of a form, two in a line where there is room. */
export const FormGrid = styled(Box, { shouldForwardProp: notALook })<Looks>(({ theme, ...looks }) => ({
  display: 'grid',
  gridTemplateColumns: 'repeat(auto-fill, minmax(max(210px, calc(50% - 6px)), 1fr))',
  gap: '14px 12px',
  ...drawn({ theme, ...looks }),
  [theme.breakpoints.down('md')]: { gridTemplateColumns: '1fr' },
}));

/** A text as it is sent. */
export const TextBox = styled(Box, { shouldForwardProp: notALook })<Looks>((looks) => ({
  border: `1px solid ${looks.theme.bell.hairline}`,
  background: looks.theme.bell.card,
  padding: '10px 14px',
  whiteSpace: 'pre-wrap',
  overflowWrap: 'anywhere',
  lineHeight: 1.5,
  ...drawn(looks),
}));

/** A text of a conversation: to them on the right, from them on the left. */
export const Bubble = styled(Box, { shouldForwardProp: (name) => name !== 'to' })<{ to: boolean }>(({ theme, to }) => ({
  padding: '7px 11px',
  whiteSpace: 'pre-wrap',
  overflowWrap: 'anywhere',
  fontSize: 14.5,
  maxWidth: '88%',
  alignSelf: to ? 'flex-end' : 'flex-start',
  ...(to ? { background: theme.bell.lakeWash } : { border: `1px solid ${theme.bell.hairline}` }),
}));

/** The beginning of what somebody wrote, however long it is and however it is broken: the whole stands in its conversation. */
export const Beginning = styled('span')({
  display: '-webkit-box',
  WebkitBoxOrient: 'vertical',
  WebkitLineClamp: 3,
  overflow: 'hidden',
  overflowWrap: 'anywhere',
  // the ring around a way that has the keyboard is not cut
  padding: 3,
  margin: -3,
});

/** For those who hear the page. */
export const Spoken = styled('span')({
  position: 'absolute',
  width: 1,
  height: 1,
  overflow: 'hidden',
  clipPath: 'inset(50%)',
  whiteSpace: 'nowrap',
});
