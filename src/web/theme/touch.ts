/** Widths from which on a screen is none of a phone, px. */
export const BREAKPOINTS = { xs: 0, sm: 480, md: 760, lg: 1100, xl: 1500 } as const;

/** On a phone: what is pressed is pressed with a thumb. */
export const ON_A_PHONE = `@media (max-width:${BREAKPOINTS.md - 0.05}px)`;

/** The least height and width of what a thumb hits, px (WCAG 2.2, 2.5.5). */
export const THUMB = 44;
