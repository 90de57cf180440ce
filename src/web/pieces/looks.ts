import type { CSSObject, Theme } from '@mui/material/styles';

/** How a piece may look, in the words of 03: said at the piece, drawn from the theme. */
export interface Looks {
  /** Secondary words. */
  soft?: boolean;
  small?: boolean;
  strong?: boolean;
  brick?: boolean;
  plum?: boolean;
  lake?: boolean;
  /** A figure: condensed, tabular, on one line. */
  fig?: boolean;
  /** The size of a figure. */
  figure?: 'line' | 'mid' | 'big';
  /** At the end of its column, as figures stand. */
  num?: boolean;
  centered?: boolean;
  /** Cut with three dots where there is no room. */
  cut?: boolean;
  nobreak?: boolean;
  /** Breaks anywhere rather than run out. */
  anywhere?: boolean;
  /** A hairline above, beneath. */
  line?: boolean;
  under?: boolean;
  /** Takes the room that is left; stays as wide as it is. */
  grow?: boolean;
  fixed?: boolean;
  card?: boolean;
  /** Not on a small screen; only there; not on paper. */
  wideOnly?: boolean;
  smallOnly?: boolean;
  screenOnly?: boolean;
  /** Space within, as CSS writes it (px numbers); above, beneath. */
  pad?: number | string;
  above?: number;
  below?: number;
  width?: number | string;
  most?: number | string;
  height?: number;
  scrolls?: boolean;
}

const NAMES: Record<keyof Looks, true> = {
  soft: true,
  small: true,
  strong: true,
  brick: true,
  plum: true,
  lake: true,
  fig: true,
  figure: true,
  num: true,
  centered: true,
  cut: true,
  nobreak: true,
  anywhere: true,
  line: true,
  under: true,
  grow: true,
  fixed: true,
  card: true,
  wideOnly: true,
  smallOnly: true,
  screenOnly: true,
  pad: true,
  above: true,
  below: true,
  width: true,
  most: true,
  height: true,
  scrolls: true,
};

/** Looks are drawn, not written into the page. */
export const notALook = (name: PropertyKey): boolean => !(name in NAMES);

/** The same where the piece itself becomes another element (`as`). */
export const neitherLookNorAs = (name: PropertyKey): boolean => notALook(name) && name !== 'as';

const FIGURE = { line: 21, mid: 27, big: 46 } as const;

/** The looks of a piece as the theme has them. */
export function drawn({ theme, ...looks }: Looks & { theme: Theme }): CSSObject {
  const t = theme.bell;
  const style: CSSObject = {};
  if (looks.small) style.fontSize = 13.5;
  if (looks.soft) style.color = t.soft;
  if (looks.lake) style.color = t.lake;
  if (looks.plum) style.color = t.plum;
  if (looks.brick) style.color = t.brick;
  if (looks.strong) style.fontWeight = 650;
  if (looks.fig)
    Object.assign(style, {
      fontFamily: theme.head,
      fontStretch: '74%',
      fontWeight: 640,
      fontVariantNumeric: 'tabular-nums',
      lineHeight: looks.figure === 'big' ? 1 : 1.15,
      whiteSpace: 'nowrap',
      letterSpacing: '-0.005em',
    });
  if (looks.figure) style.fontSize = FIGURE[looks.figure];
  if (looks.num) style.textAlign = 'right';
  if (looks.centered) style.textAlign = 'center';
  if (looks.cut) Object.assign(style, { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', minWidth: 0 });
  if (looks.nobreak) Object.assign(style, { whiteSpace: 'nowrap', flexShrink: 0 });
  if (looks.anywhere) style.overflowWrap = 'anywhere';
  if (looks.line) style.borderTop = `1px solid ${t.hairline}`;
  if (looks.under) style.borderBottom = `1px solid ${t.hairline}`;
  if (looks.grow) Object.assign(style, { flex: 1, minWidth: 0, minHeight: 0 });
  if (looks.fixed) style.flex = 'none';
  if (looks.card) style.background = t.card;
  if (looks.pad !== undefined) style.padding = looks.pad;
  if (looks.above !== undefined) style.paddingTop = looks.above;
  if (looks.below !== undefined) style.paddingBottom = looks.below;
  if (looks.width !== undefined) style.width = looks.width;
  if (looks.most !== undefined) style.maxWidth = looks.most;
  if (looks.height !== undefined) style.height = looks.height;
  if (looks.scrolls) style.overflow = 'auto';
  if (looks.wideOnly) style[theme.breakpoints.down('md')] = { display: 'none' };
  if (looks.smallOnly) style[theme.breakpoints.up('md')] = { display: 'none' };
  if (looks.screenOnly) style['@media print'] = { display: 'none' };
  return style;
}
