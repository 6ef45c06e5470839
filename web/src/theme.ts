import { createTheme, type Theme } from '@mui/material/styles'

export type Mode = 'light' | 'graphite'

/** Grey and brass. The colours on screen belong to the map, so the frame stays quiet. */
const tones = {
  light: {
    ground: '#e9e7e1',
    panel: '#f5f4f0',
    raised: '#fbfaf7',
    text: '#2b2d2f',
    quiet: '#5f605d',
    line: '#cdc9be',
    brass: '#7d5c12',
    tint: '#ece3cc',
    wrong: '#ad2a1c',
  },
  graphite: {
    ground: '#232527',
    panel: '#2b2e30',
    raised: '#34373a',
    text: '#e7e4db',
    quiet: '#b0ada4',
    line: '#484c4f',
    brass: '#dcb558',
    tint: '#454030',
    wrong: '#ff9c8a',
  },
} as const

declare module '@mui/material/styles' {
  interface Palette {
    line: string
    raised: string
    tint: string
  }
  interface PaletteOptions {
    line?: string
    raised?: string
    tint?: string
  }
}

export function themeFor(mode: Mode): Theme {
  const t = tones[mode]
  return createTheme({
    palette: {
      mode: mode === 'light' ? 'light' : 'dark',
      primary: { main: t.brass, contrastText: mode === 'light' ? '#ffffff' : '#1d1f20' },
      secondary: { main: t.quiet },
      error: { main: t.wrong },
      background: { default: t.ground, paper: t.panel },
      text: { primary: t.text, secondary: t.quiet },
      divider: t.line,
      line: t.line,
      raised: t.raised,
      tint: t.tint,
    },
    spacing: 4,
    shape: { borderRadius: 2 },
    typography: {
      fontFamily: '"Source Sans 3", sans-serif',
      fontSize: 13,
      htmlFontSize: 16,
      body1: { fontSize: 14, lineHeight: 1.4 },
      body2: { fontSize: 13, lineHeight: 1.35 },
      caption: { fontSize: 12, lineHeight: 1.3 },
      button: { textTransform: 'none', fontWeight: 600, fontSize: 13, letterSpacing: 0 },
      h6: { fontSize: 15, fontWeight: 600, lineHeight: 1.3 },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          // MUI says 'inherit' here. Whatever inherits what is not inherited by itself is worked out anew with every change to any
          // element above it: twenty rows of a table that moved took 6 ms rather than 0.3.
          '*, *::before, *::after': { boxSizing: 'border-box' },
          'html, body, #root': { height: '100%' },
          body: { fontFamily: '"Source Sans 3", sans-serif', fontFeatureSettings: '"tnum"', overflow: 'hidden' },
          ':focus-visible': { outline: `2px solid ${t.brass}`, outlineOffset: 1 },
          'input[type=checkbox]': { accentColor: t.brass },
          '@media (prefers-reduced-motion: reduce)': {
            '*, *::before, *::after': {
              animationDuration: '0.01ms !important',
              animationIterationCount: '1 !important',
              transitionDuration: '0.01ms !important',
              scrollBehavior: 'auto !important',
            },
          },
          // Whoever waits for a place on the map shows so at the pointer.
          '.wants-place': { cursor: 'crosshair' },
          'code, .mono': { fontFamily: '"Source Code Pro", monospace', fontSize: 12.5 },
        },
      },
      MuiButtonBase: { defaultProps: { disableRipple: true }, styleOverrides: { root: { fontFamily: 'inherit' } } },
      MuiButton: {
        defaultProps: { size: 'small', disableElevation: true },
        styleOverrides: {
          root: { padding: '3px 10px', minWidth: 24, minHeight: 24, whiteSpace: 'nowrap' },
          outlined: { borderColor: t.line, color: t.text },
          // What is open or on is seen to be so.
          text: { '&[aria-pressed=true]': { boxShadow: `inset 0 -2px ${t.brass}` } },
        },
      },
      MuiIconButton: {
        defaultProps: { size: 'small' },
        styleOverrides: {
          root: {
            borderRadius: 2,
            padding: 3,
            color: t.quiet,
            minWidth: 24,
            minHeight: 24,
            '&[aria-pressed=true]': { color: t.brass, boxShadow: `inset 0 -2px ${t.brass}` },
          },
        },
      },
      MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiMenu: { styleOverrides: { paper: { border: `1px solid ${t.line}`, backgroundColor: t.raised } } },
      MuiDialog: { styleOverrides: { paper: { border: `1px solid ${t.line}` } } },
      MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 0, padding: '4px 12px' } } },
      MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
      MuiSelect: { defaultProps: { size: 'small' } },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { backgroundColor: t.raised, fontSize: 13 },
          input: { padding: '4px 8px', height: 'auto' },
          notchedOutline: { borderColor: t.line },
        },
      },
      MuiInputLabel: { styleOverrides: { root: { fontSize: 13 } } },
      MuiTooltip: {
        // What is said of one thing keeps nobody from pressing another that it lies over.
        defaultProps: { enterDelay: 500, arrow: false, disableInteractive: true },
        styleOverrides: { tooltip: { fontSize: 12, backgroundColor: t.text, color: t.panel, borderRadius: 2 } },
      },
      MuiSlider: {
        defaultProps: { size: 'small' },
        styleOverrides: { thumb: { width: 10, height: 14, borderRadius: 2 }, rail: { color: t.quiet } },
      },
      MuiCheckbox: { defaultProps: { size: 'small' }, styleOverrides: { root: { padding: 3, borderRadius: 2 } } },
      MuiLinearProgress: { styleOverrides: { root: { height: 3, borderRadius: 0 } } },
    },
  })
}
