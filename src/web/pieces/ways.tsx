import { ButtonBase, Link } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { MouseEventHandler, ReactNode } from 'react';
import { Link as RouterLink } from 'react-router';
import { drawn, notALook, type Looks } from './looks';

const Drawn = styled(Link, { shouldForwardProp: notALook })<Looks>(drawn) as typeof Link;

interface WayProps extends Looks {
  children: ReactNode;
  'aria-label'?: string;
  'aria-expanded'?: boolean;
  'aria-pressed'?: boolean;
  'aria-current'?: 'true' | 'page';
  title?: string;
  disabled?: boolean;
}
type Leads =
  | { to: string; state?: unknown; onClick?: undefined; href?: undefined; download?: undefined }
  | { href: string; download?: boolean; target?: '_blank'; rel?: 'noopener'; to?: undefined; onClick?: undefined }
  | { onClick: MouseEventHandler<HTMLButtonElement>; to?: undefined; href?: undefined; download?: undefined };

/** A way in: see these people, open this. Underlined, whether it leads to another view or opens something here. */
export function Way({ children, ...rest }: WayProps & Leads): ReactNode {
  if (rest.to !== undefined)
    return (
      <Drawn component={RouterLink} {...rest}>
        {children}
      </Drawn>
    );
  if (rest.href !== undefined) return <Drawn {...rest}>{children}</Drawn>;
  return (
    <Drawn component="button" type="button" {...rest}>
      {children}
    </Drawn>
  );
}

/** A value that can be changed, and opens what changes it: caret and dotted base. */
export const Value = styled(ButtonBase, { shouldForwardProp: notALook })<Looks>((looks) => ({
  display: 'inline',
  font: 'inherit',
  color: looks.theme.bell.ink,
  borderBottom: `1px dotted ${looks.theme.bell.soft}`,
  paddingBottom: 1,
  textAlign: 'left',
  maxWidth: '100%',
  verticalAlign: 'baseline',
  '&::after': { content: '" ▾"', color: looks.theme.bell.soft, fontSize: '0.8em' },
  '&:hover': { borderBottomStyle: 'solid' },
  ...drawn(looks),
}));

/** A bare surface that is pressed, where something of our own is drawn on it. */
export const Pressed = styled(ButtonBase, { shouldForwardProp: notALook })<Looks>((looks) => ({
  font: 'inherit',
  color: 'inherit',
  textAlign: 'left',
  justifyContent: 'flex-start',
  ...drawn(looks),
}));
