import { createTheme, type Theme } from '@mui/material/styles';
import { LIGHT, NIGHT, type Tokens } from './tokens';

export type Mode = 'light' | 'night';

const TEXT = "'Source Sans 3 Variable', system-ui, sans-serif";
const HEAD = "'Archivo Variable', system-ui, sans-serif";

/** The one MUI theme, from the tokens of the mode. */
export function themeOf(mode: Mode): Theme {
  const t = mode === 'light' ? LIGHT : NIGHT;
  return createTheme({
    palette: {
      mode: mode === 'light' ? 'light' : 'dark',
      primary: { main: t.lake, contrastText: t.onLake },
      secondary: { main: t.yellow, contrastText: t.onYellow },
      error: { main: t.brick },
      background: { default: t.ground, paper: t.card },
      text: { primary: t.ink, secondary: t.soft },
      divider: t.hairline,
    },
    typography: {
      fontFamily: TEXT,
      fontSize: 15,
      htmlFontSize: 16,
      body1: { fontSize: 15, lineHeight: 1.4 },
      button: { textTransform: 'none', fontFamily: TEXT, fontSize: 15, lineHeight: 1.3 },
    },
    shape: { borderRadius: 4 },
    shadows: Array(25).fill('none') as Theme['shadows'],
    transitions: { create: () => 'none' },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true, variant: 'outlined', size: 'small', color: 'inherit' },
        styleOverrides: {
          root: {
            minWidth: 0,
            padding: '3px 11px',
            borderColor: t.edge,
            backgroundColor: t.card,
            color: t.ink,
            '&:hover': { borderColor: t.ink, backgroundColor: t.card },
          },
        },
        variants: [
          { props: { size: 'medium' }, style: { padding: '7px 14px' } },

          {
            props: { variant: 'contained' },
            style: {
              backgroundColor: t.lake,
              borderColor: t.lake,
              color: t.onLake,
              fontWeight: 600,
              '&:hover': { backgroundColor: t.lake, textDecoration: 'underline' },
              '&.Mui-disabled': { backgroundColor: t.hairline, color: t.soft },
            },
          },
        ],
      },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none', border: `1px solid ${t.edge}` } } },
      MuiMenuItem: { styleOverrides: { root: { fontSize: 15, minHeight: 34 } } },
      MuiOutlinedInput: {
        styleOverrides: { root: { backgroundColor: t.card, fontSize: 15 }, notchedOutline: { borderColor: t.edge } },
      },
      MuiInputLabel: { styleOverrides: { root: { color: t.soft } } },
      MuiTextField: { defaultProps: { size: 'small', fullWidth: true } },
      MuiDialogTitle: { styleOverrides: { root: { fontFamily: HEAD, fontSize: 21, fontWeight: 700, fontStretch: '88%' } } },
    },
  });
}

/** The tokens as CSS variables, for the stylesheet. */
export function variablesOf(mode: Mode): Record<string, Record<string, string>> {
  const t: Tokens = mode === 'light' ? LIGHT : NIGHT;
  return {
    ':root': {
      colorScheme: mode === 'light' ? 'light' : 'dark',
      ...Object.fromEntries(
        Object.entries(t).map(([name, value]) => [`--${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`, value]),
      ),
    },
  };
}
