/** Neutral greys around the picture, one accent, tabular figures. */

import { createTheme } from '@mui/material/styles'

const grey = {
  ground: '#2e2e2e',
  surface: '#383838',
  raised: '#444444',
  line: '#565656',
  text: '#e4e4e4',
  quiet: '#b5b5b5',
}

const accent = '#d8b35c'
/** Where the keyboard is. */
const focused = { outline: `2px solid ${accent}`, outlineOffset: -2 }

export const theme = createTheme({
  palette: {
    mode: 'dark',
    primary: { main: accent, contrastText: '#1f1f1f' },
    background: { default: grey.ground, paper: grey.surface },
    text: { primary: grey.text, secondary: grey.quiet },
    divider: grey.line,
    action: { selected: grey.raised, hover: 'rgba(255,255,255,0.06)' },
  },
  shape: { borderRadius: 3 },
  typography: {
    fontFamily: '"Inter Variable", sans-serif',
    fontSize: 12,
    h1: { fontSize: 22, fontWeight: 600 },
    h2: { fontSize: 14, fontWeight: 600 },
    body1: { fontSize: 13 },
    body2: { fontSize: 12 },
    caption: { fontSize: 11 },
    button: { textTransform: 'none', fontSize: 12 },
  },
  components: {
    // The usual is too faint to be read.
    MuiInputBase: { styleOverrides: { input: { '&::placeholder': { opacity: 0.8 } } } },
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: 'tabular-nums', overflow: 'hidden' },
        '#root': { height: '100vh' },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { '&.Mui-focusVisible': focused } },
    },
    MuiLink: { styleOverrides: { root: { '&:focus-visible': focused } } },
    MuiButton: { defaultProps: { size: 'small', color: 'inherit' } },
    // A menu that fades takes the next press away from the picture.
    MuiPopover: { defaultProps: { transitionDuration: 0 } },
    MuiMenu: { defaultProps: { transitionDuration: 0 } },
    MuiDialog: { defaultProps: { transitionDuration: 0 } },
    MuiTooltip: { defaultProps: { enterDelay: 600 } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
  },
})
