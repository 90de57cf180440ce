import type { Tokens } from './tokens';

/** What holds for every element: type, headings, focus. Everything else is styled beside its component. */
export function baseStyles(t: Tokens, text: string, head: string) {
  return {
    '*, *::before, *::after': { boxSizing: 'border-box' },
    'html, body, #root': { height: '100%', margin: 0 },
    body: {
      background: t.ground,
      color: t.ink,
      fontFamily: text,
      fontSize: 15,
      lineHeight: 1.4,
      fontVariantNumeric: 'tabular-nums',
      '@media print': { background: 'none' },
    },
    'h1, h2, h3, p, ul, ol, dl, dd, figure': { margin: 0, padding: 0 },
    'ul, ol': { listStyle: 'none' },
    'h1, h2, h3': { fontFamily: head, fontStretch: '86%', fontWeight: 700, lineHeight: 1.15, letterSpacing: '-0.005em' },
    h1: { fontSize: 27 },
    h2: { fontSize: 19 },
    h3: { fontSize: 16 },
    ':focus-visible': { outline: `2px solid ${t.lake}`, outlineOffset: 2 },
  } as const;
}
