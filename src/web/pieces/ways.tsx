import { ButtonBase, Link } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { MouseEventHandler, ReactNode } from 'react';
import { Link as RouterLink } from 'react-router';
import { ON_A_PHONE, THUMB } from '../theme/touch';
import { drawn, notALook, type Looks } from './looks';

/**
 * Whether a way stands alone or in a sentence: words beside it in the same element make a sentence, in which it is as high as its line
 * (WCAG 2.2, 2.5.5 leaves those out).
 */
const tellAlone = (element: HTMLElement | null): void => {
  if (!element?.parentElement) return;
  const inSentence = [...element.parentElement.childNodes].some(
    (node) => node.nodeType === Node.TEXT_NODE && /\p{L}{2}/u.test(node.textContent ?? ''),
  );
  element.toggleAttribute('data-alone', !inSentence);
};

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
      <Drawn ref={tellAlone} component={RouterLink} {...rest}>
        {children}
      </Drawn>
    );
  if (rest.href !== undefined)
    return (
      <Drawn ref={tellAlone} {...rest}>
        {children}
      </Drawn>
    );
  return (
    <Drawn ref={tellAlone} component="button" type="button" {...rest}>
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
  [ON_A_PHONE]: {
    display: 'inline-block',
    minWidth: THUMB,
    paddingBlock: 13,
    borderBottom: 0,
    textDecoration: 'underline dotted',
    textUnderlineOffset: 4,
  },
  ...drawn(looks),
}));

/** Takes something out of where it stands: what it takes is said to whoever hears it. */
export function TakeAway({ label, onClick }: { label: string; onClick: () => void }): ReactNode {
  return (
    <Cross aria-label={label} title={label} onClick={onClick}>
      ×
    </Cross>
  );
}
const Cross = styled(ButtonBase)(({ theme }) => ({
  font: 'inherit',
  color: theme.bell.lake,
  minWidth: 24,
  minHeight: 24,
  verticalAlign: 'baseline',
  '&:hover': { color: theme.bell.ink },
  [ON_A_PHONE]: { minWidth: THUMB, minHeight: THUMB },
}));

/** A bare surface that is pressed, where something of our own is drawn on it. */
export const Pressed = styled(ButtonBase, { shouldForwardProp: notALook })<Looks>((looks) => ({
  font: 'inherit',
  color: 'inherit',
  textAlign: 'left',
  justifyContent: 'flex-start',
  ...drawn(looks),
}));
