import { createTheme, type Theme, type ThemeOptions } from '@mui/material/styles';
import type {} from '@mui/x-date-pickers/themeAugmentation';
import { baseStyles } from './base';
import { BREAKPOINTS, ON_A_PHONE, THUMB } from './touch';
import { LIGHT, NIGHT, type Tokens } from './tokens';

export type Mode = 'light' | 'night';

declare module '@mui/material/styles' {
  interface Theme {
    bell: Tokens;
    head: string;
  }
  interface ThemeOptions {
    bell: Tokens;
    head: string;
  }
}
declare module '@mui/material/Button' {
  interface ButtonPropsVariantOverrides {
    /** The one irreversible act. */
    go: true;
    /** An act within a line of text. */
    quiet: true;
  }
}

const TEXT = "'Source Sans 3 Variable', system-ui, sans-serif";
const HEAD = "'Archivo Variable', system-ui, sans-serif";

/** The one MUI theme, from the tokens of the mode: a way in, a value, an act are its variants. */
export function themeOf(mode: Mode): Theme {
  const t = mode === 'light' ? LIGHT : NIGHT;
  return createTheme({
    bell: t,
    head: HEAD,
    breakpoints: { values: BREAKPOINTS },
    palette: {
      mode: mode === 'light' ? 'light' : 'dark',
      primary: { main: t.lake, contrastText: t.onLake },
      secondary: { main: t.yellow, contrastText: t.onYellow },
      error: { main: t.brick },
      // what a person must settle; yellow is only for what goes out
      warning: { main: t.ink },
      background: { default: t.ground, paper: t.card },
      text: { primary: t.ink, secondary: t.soft },
      divider: t.hairline,
    },
    typography: {
      fontFamily: TEXT,
      fontSize: 15,
      htmlFontSize: 16,
      body1: { fontSize: 15, lineHeight: 1.4 },
      body2: { fontSize: 13.5, lineHeight: 1.4 },
      button: { textTransform: 'none', fontFamily: TEXT, fontSize: 15, lineHeight: 1.3 },
    },
    shape: { borderRadius: 4 },
    shadows: Array(25).fill('none') as Theme['shadows'],
    transitions: { create: () => 'none' },
    components: { ...acts(t), ...fields(t), ...surroundings(t) },
  });
}

/** The mark itself stays small: what takes the press reaches beyond it. */
const UNDER_A_THUMB = {
  [ON_A_PHONE]: { '& input': { inset: -13, width: 'calc(100% + 26px)', height: 'calc(100% + 26px)' } },
};

/** What is pressed, and where one goes. */
function acts(t: Tokens): ThemeOptions['components'] {
  return {
    MuiCssBaseline: { styleOverrides: baseStyles(t, TEXT, HEAD) },
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
          whiteSpace: 'nowrap',
          '&:hover': { borderColor: t.ink, backgroundColor: t.card },
          '&.Mui-disabled': { color: t.soft, borderColor: t.hairline },
          [ON_A_PHONE]: { minHeight: THUMB, minWidth: THUMB },
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
        {
          props: { variant: 'quiet' },
          style: {
            background: 'none',
            border: 0,
            padding: '1px 4px',
            color: t.soft,
            '&:hover': { background: 'none', color: t.ink, textDecoration: 'underline', textUnderlineOffset: 3 },
          },
        },
        {
          props: { variant: 'go' },
          style: {
            width: '100%',
            padding: '10px 6px',
            whiteSpace: 'normal',
            backgroundColor: t.yellow,
            color: t.onYellow,
            border: `1px solid ${t.yellowEdge}`,
            fontFamily: HEAD,
            fontStretch: '88%',
            fontWeight: 700,
            fontSize: 15,
            '&:hover': { backgroundColor: t.yellow, borderColor: t.yellowEdge, textDecoration: 'underline' },
            '&.Mui-disabled': { backgroundColor: 'transparent', color: t.soft, borderColor: t.edge },
          },
        },
      ],
    },
    MuiIconButton: {
      defaultProps: { size: 'small' },
      styleOverrides: {
        root: {
          color: t.soft,
          borderRadius: 4,
          padding: 3,
          '&:hover': { color: t.ink, background: 'none' },
          [ON_A_PHONE]: { minHeight: THUMB, minWidth: THUMB },
        },
      },
    },
    MuiLink: {
      styleOverrides: {
        root: {
          color: t.lake,
          cursor: 'pointer',
          font: 'inherit',
          textAlign: 'left',
          textDecoration: 'underline',
          textDecorationColor: 'currentColor',
          textUnderlineOffset: 3,
          textDecorationThickness: 1,
          verticalAlign: 'baseline',
          '&:hover': { textDecorationThickness: 2 },
          // what stands alone; within a sentence it is as high as its line
          [ON_A_PHONE]: { '&[data-alone]': { display: 'inline-block', minWidth: THUMB, paddingBlock: 13 } },
        },
      },
    },
  };
}

/** What is typed, ticked and chosen. */
function fields(t: Tokens): ThemeOptions['components'] {
  return {
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none', border: `1px solid ${t.edge}` } } },
    MuiMenuItem: {
      styleOverrides: { root: { fontSize: 15, minHeight: 34, whiteSpace: 'normal', [ON_A_PHONE]: { minHeight: THUMB } } },
    },
    MuiMenu: { styleOverrides: { paper: { maxHeight: 'min(480px, 80vh)' } } },
    MuiOutlinedInput: {
      styleOverrides: {
        root: {
          backgroundColor: t.card,
          fontSize: 15,
          '&.MuiInputBase-sizeSmall > input': { padding: '7px 12px', [ON_A_PHONE]: { padding: '11px 12px', minHeight: 22 } },
          '&.MuiInputBase-sizeSmall.MuiInputBase-multiline': { padding: '7px 12px' },
          '& .MuiSelect-select.MuiSelect-select': { padding: '7px 12px', [ON_A_PHONE]: { padding: '11px 12px' } },
        },
        notchedOutline: { borderColor: t.edge },
      },
    },
    MuiPickersOutlinedInput: {
      styleOverrides: {
        root: { backgroundColor: t.card, padding: '0 12px', [ON_A_PHONE]: { minHeight: THUMB } },
        notchedOutline: { borderColor: t.edge },
      },
    },
    MuiInputBase: {
      styleOverrides: {
        root: { [ON_A_PHONE]: { minHeight: THUMB, minWidth: THUMB } },
        input: { '&::placeholder': { color: t.soft, opacity: 1 } },
      },
    },
    MuiInputLabel: { styleOverrides: { root: { color: t.soft } } },
    MuiFormHelperText: {
      styleOverrides: { root: { marginLeft: 0, fontSize: 13, color: t.soft, '&.Mui-disabled': { color: t.soft } } },
    },
    MuiFormLabel: { styleOverrides: { root: { color: t.soft, '&.Mui-focused': { color: t.lake } } } },
    MuiFormControlLabel: { styleOverrides: { root: { marginLeft: 0, marginRight: 0, alignItems: 'baseline', gap: 7 } } },
    MuiCheckbox: {
      defaultProps: { size: 'small' },
      styleOverrides: {
        root: { padding: 0, color: t.edge, '& svg': { fontSize: 19 }, alignSelf: 'flex-start', marginTop: 1, ...UNDER_A_THUMB },
      },
    },
    MuiRadio: {
      defaultProps: { size: 'small' },
      styleOverrides: {
        root: { padding: 0, color: t.edge, '& svg': { fontSize: 18 }, alignSelf: 'flex-start', marginTop: 1, ...UNDER_A_THUMB },
      },
    },
    MuiSwitch: { defaultProps: { size: 'small' } },
    MuiTextField: { defaultProps: { size: 'small', fullWidth: true } },
    MuiAutocomplete: {
      defaultProps: { size: 'small' },
      styleOverrides: {
        inputRoot: {
          '&.MuiOutlinedInput-root.MuiInputBase-sizeSmall': {
            padding: '4.5px 8px 4.5px 4px',
            [ON_A_PHONE]: { minHeight: THUMB },
          },
        },
        listbox: { fontSize: 15, maxHeight: 340 },
        option: { minHeight: 34, [ON_A_PHONE]: { '&&': { minHeight: THUMB } } },
      },
    },
  };
}

/** Tabs, tables, notices, dialogs. */
function surroundings(t: Tokens): ThemeOptions['components'] {
  return {
    MuiTab: {
      styleOverrides: {
        root: {
          minHeight: 0,
          minWidth: 0,
          padding: '6px 0 5px',
          marginRight: 18,
          fontSize: 15,
          textTransform: 'none',
          color: t.soft,
          '&.Mui-selected': { color: t.ink, fontWeight: 650 },
          [ON_A_PHONE]: { minHeight: THUMB, minWidth: THUMB },
        },
      },
    },
    MuiTabs: { styleOverrides: { root: { minHeight: 0 }, indicator: { backgroundColor: t.ink } } },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          border: 0,
          borderBottom: '2px solid transparent',
          borderRadius: 0,
          padding: '1px 0',
          textTransform: 'none',
          font: 'inherit',
          color: t.soft,
          '&.Mui-selected, &.Mui-selected:hover': {
            background: 'none',
            color: t.ink,
            fontWeight: 650,
            borderBottomColor: t.ink,
          },
          '&:hover': { background: 'none', color: t.ink },
          [ON_A_PHONE]: { minHeight: THUMB, minWidth: THUMB },
        },
      },
    },
    MuiTooltip: {
      styleOverrides: {
        tooltip: { backgroundColor: t.frame, color: t.onFrame, fontSize: 13, border: `1px solid ${t.frameLine}` },
      },
    },
    MuiAlert: {
      defaultProps: { variant: 'outlined', icon: false },
      styleOverrides: {
        root: {
          padding: '3px 12px',
          color: t.ink,
          backgroundColor: t.card,
          fontSize: 15,
          borderLeftWidth: 4,
          // in a narrow pane its act goes beneath its words
          flexWrap: 'wrap',
          '& .MuiAlert-message': { flex: '1 1 180px', minWidth: 0 },
        },
      },
    },
    MuiSnackbar: {
      // what is said comes unasked, and may come under a press that was meant for what lies beneath it: only its own button takes one
      styleOverrides: { root: { pointerEvents: 'none', '& button': { pointerEvents: 'auto' } } },
    },
    MuiSnackbarContent: {
      styleOverrides: {
        root: { backgroundColor: t.frame, color: t.onFrame, fontSize: 15, border: `1px solid ${t.frameLine}` },
      },
    },
    MuiLinearProgress: {
      styleOverrides: {
        root: { height: 7, backgroundColor: 'transparent', border: `1px solid ${t.edge}` },
        bar: { backgroundColor: t.ink },
      },
    },
    MuiChip: {
      defaultProps: { size: 'small' },
      styleOverrides: { root: { borderRadius: 4, backgroundColor: t.lakeWash, color: t.ink, fontSize: 13.5, height: 24 } },
    },
    MuiBadge: { styleOverrides: { badge: { fontSize: 12.5 } } },
    MuiTable: { styleOverrides: { root: { fontSize: 14 } } },
    MuiTableSortLabel: { styleOverrides: { root: { [ON_A_PHONE]: { minHeight: THUMB, minWidth: THUMB } } } },
    MuiTableCell: {
      styleOverrides: {
        root: { padding: '7px 10px 7px 0', fontSize: 14, lineHeight: 1.4, borderBottomColor: t.hairline, verticalAlign: 'top' },
        head: {
          padding: '5px 10px 5px 0',
          fontSize: 13,
          fontWeight: 400,
          color: t.soft,
          whiteSpace: 'nowrap',
          borderBottom: `1px solid ${t.ink}`,
          backgroundColor: 'inherit',
          // where one heading is pressed it is as high as a thumb, and the others stand in its middle
          [ON_A_PHONE]: { verticalAlign: 'middle' },
        },
      },
    },
    MuiDialogTitle: { styleOverrides: { root: { fontFamily: HEAD, fontSize: 21, fontWeight: 700, fontStretch: '88%' } } },
    MuiAccordion: {
      defaultProps: { disableGutters: true, square: true },
      styleOverrides: {
        root: { border: 0, borderTop: `1px solid ${t.hairline}`, background: 'none', '&::before': { display: 'none' } },
      },
    },
    MuiAccordionSummary: {
      styleOverrides: {
        root: { padding: 0, minHeight: 0, font: 'inherit', textAlign: 'left', [ON_A_PHONE]: { minHeight: THUMB } },
        content: { margin: '8px 0', minWidth: 0 },
      },
    },
    MuiAccordionDetails: { styleOverrides: { root: { padding: '0 0 12px' } } },
  };
}

/** The tokens as CSS variables: for drawings, and for the editor, which is not React's. */
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
