import { Button } from '@mui/material';
import { styled, ThemeProvider } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { themeOf } from '../../theme/theme';
import { End, Head, Pane, Words } from '../layout';
import { Way } from '../ways';

/** Paper is light, also at night. */
const PAPER = themeOf('light');
/** A sheet of it, also on the screen. */
const Sheet = styled('article', { shouldForwardProp: (name) => name !== 'wide' })<{ wide: boolean }>(({ theme, wide }) => ({
  maxWidth: 860,
  margin: '18px auto',
  padding: wide ? '72px 48px' : '28px 34px',
  background: theme.bell.card,
  border: `1px solid ${theme.bell.hairline}`,
  color: theme.bell.ink,
  textAlign: wide ? 'center' : undefined,
  '@media print': { margin: 0, padding: wide ? undefined : 0, border: 0, maxWidth: 'none', background: 'none' },
  [theme.breakpoints.down('md')]: { margin: 0, padding: wide ? '32px 16px' : '16px 14px', border: 0 },
}));

/** One sheet that prints, without the furniture of the screen; above it the way back. `wide`: with wide margins, in the middle. */
export function Paper({
  label,
  back,
  backTo,
  beside,
  wide = false,
  children,
}: {
  label: string;
  back: string;
  backTo: string;
  beside?: ReactNode;
  wide?: boolean;
  children: ReactNode;
}): ReactNode {
  return (
    <>
      <Words screenOnly>
        <Head>
          <Way to={backTo}>{back}</Way>
          {beside}
          <End>
            <Button variant="contained" onClick={() => window.print()}>
              Print it
            </Button>
          </End>
        </Head>
      </Words>
      <Pane grow pad={0} tabIndex={0} role="region" aria-label={label}>
        <ThemeProvider theme={PAPER}>
          <Sheet wide={wide}>{children}</Sheet>
        </ThemeProvider>
      </Pane>
    </>
  );
}
