import { type ColorSystemOptions, createTheme, type Theme } from '@mui/material/styles';
import { COARSE_TARGET, measures, type Surround, surrounds } from './tokens';

const WORDS = '"Hanken Grotesk Variable", system-ui, sans-serif';

const kebab = (name: string) => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

/** A surround as MUI takes it. Each grey becomes a custom property, too: `secondInk` is `--second-ink` in any style sheet. */
function scheme(id: Surround): ColorSystemOptions {
  const { label: _, ...greys } = surrounds[id];
  const properties = Object.fromEntries(Object.entries(greys).map(([name, grey]) => [kebab(name), grey]));
  const grey = { main: greys.ink, light: greys.ink, dark: greys.ink, contrastText: greys.onInk };
  return {
    ...properties,
    // of a scheme that is neither its light nor its dark one, MUI takes a whole palette only
    palette: createTheme({
      palette: {
        mode: id === 'dark' ? 'dark' : 'light',
        primary: grey,
        secondary: grey,
        error: grey,
        warning: grey,
        info: grey,
        success: grey,
        background: { default: greys.surround, paper: greys.bar },
        text: { primary: greys.ink, secondary: greys.secondInk, disabled: greys.secondInk },
        divider: greys.softLine,
      },
    }).palette,
  } as ColorSystemOptions;
}

const s = Object.fromEntries(
  Object.keys(surrounds.light).map((key) => [key, `var(--${kebab(key)})`]),
) as Record<keyof (typeof surrounds)['light'], string>;
const focus = { outline: `2px solid ${s.ink}`, outlineOffset: 2 };

const TARGET = 'var(--target)';
const TALL = 'max(30px, var(--target))';

/** The one theme, for all three surrounds: `data-surround` on the root element says which. */
const theme: Theme = createTheme({
  cssVariables: {
    cssVarPrefix: '',
    colorSchemeSelector: '[data-surround="%s"]',
    // the greys and sizes as they are, MUI's colours, and nothing that no style sheet reads
    shouldSkipGeneratingVar: ([first]) =>
      /^(typography|mixins|breakpoints|direction|transitions|font|motion|unstable|cssVar|colorScheme|rootSelector)/.test(
        first ?? '',
      ),
  },
  colorSchemes: { light: scheme('light'), mid: scheme('mid'), dark: scheme('dark') } as Record<
    'light' | 'dark',
    ColorSystemOptions
  >,
  ...Object.fromEntries(Object.entries(measures).map(([name, size]) => [kebab(name), size])),
  shape: { borderRadius: 2 },
  // nothing moves or fades: what is shown is shown at once
  transitions: { create: () => 'none' },
  shadows: Array(25).fill('none') as Theme['shadows'],
  typography: {
    fontFamily: WORDS,
    fontSize: 13,
    htmlFontSize: 16,
    h1: { fontSize: 20, lineHeight: '26px', fontWeight: 600 },
    h2: { fontSize: 13, lineHeight: '18px', fontWeight: 600 },
    body1: { fontSize: 13, lineHeight: '18px' },
    body2: { fontSize: 13, lineHeight: '18px' },
    caption: { fontSize: 11, lineHeight: '14px' },
    button: { fontSize: 13, lineHeight: '18px', textTransform: 'none', fontWeight: 500 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontSize: 13, lineHeight: '18px' },
        // twice the root, to weigh more than the size for a mouse
        '@media (pointer: coarse)': { ':root:root': { '--target': COARSE_TARGET } },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { '&:focus-visible': focus } },
    },
    MuiButton: {
      defaultProps: { variant: 'outlined', disableElevation: true },
      styleOverrides: {
        root: { minWidth: 0, padding: '5px 13px', minHeight: TALL, whiteSpace: 'nowrap', flexShrink: 0 },
        outlined: {
          borderColor: s.line,
          color: s.ink,
          '&:hover': { borderColor: s.ink, background: 'none' },
        },
        contained: {
          background: s.ink,
          color: s.onInk,
          border: `1px solid ${s.ink}`,
          fontWeight: 600,
          '&:hover': { background: s.ink, opacity: 0.88 },
          '&.Mui-disabled': { background: 'none', color: s.secondInk, border: `1px dashed ${s.line}` },
        },
        text: { padding: '3px 6px', color: s.secondInk, '&:hover': { background: 'none', color: s.ink } },
      },
    },
    MuiSlider: {
      styleOverrides: {
        // 24 px under the hand, as tall as before for what lies around
        root: { height: 2, padding: '11px 0', marginBlock: '-2px', borderRadius: 0, color: s.ink },
        rail: { background: s.line, opacity: 1, height: 2 },
        track: { border: 'none', height: 2 },
        thumb: {
          width: 10,
          height: 16,
          borderRadius: 1,
          boxShadow: 'none',
          transition: 'none',
          '&::before, &::after': { boxShadow: 'none' },
          '&:hover, &.Mui-focusVisible, &.Mui-active': { boxShadow: 'none' },
          '&.Mui-focusVisible': focus,
        },
      },
    },
    // menus and dialogs are there at once: nothing moves under the hand
    MuiMenu: { defaultProps: { transitionDuration: 0, role: 'region', 'aria-label': 'Menu' } },
    MuiDialog: {
      defaultProps: { transitionDuration: 0 },
      styleOverrides: {
        paper: { background: s.surround, backgroundImage: 'none', border: `1px solid ${s.line}` },
      },
    },
    MuiDialogTitle: {
      styleOverrides: {
        root: { fontSize: 20, lineHeight: '26px', fontWeight: 600, padding: '20px 24px 8px' },
      },
    },
    MuiDialogContent: { styleOverrides: { root: { padding: '8px 24px 16px' } } },
    MuiDialogActions: {
      styleOverrides: { root: { padding: '14px 24px', borderTop: `1px solid ${s.softLine}`, gap: 8 } },
    },
    // menus leave the page as it is: a veil would change how its colours are seen
    MuiBackdrop: {
      styleOverrides: { root: { '&:not(.MuiBackdrop-invisible)': { background: 'rgb(0 0 0 / 0.35)' } } },
    },
    MuiPopover: {
      defaultProps: { transitionDuration: 0 },
      styleOverrides: {
        paper: { background: s.bar, backgroundImage: 'none', border: `1px solid ${s.line}` },
      },
    },
    MuiMenuItem: {
      styleOverrides: {
        root: {
          fontSize: 13,
          minHeight: TALL,
          padding: '4px 14px',
          '&.Mui-selected, &:hover, &.Mui-focusVisible': { background: s.field },
        },
      },
    },
    MuiRadio: {
      defaultProps: { size: 'small' },
      styleOverrides: { root: { padding: 5, color: s.secondInk } },
    },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          padding: '4px 10px',
          minHeight: TARGET,
          borderColor: s.line,
          color: s.secondInk,
          fontWeight: 500,
          '&.Mui-selected, &.Mui-selected:hover': { background: s.ink, color: s.onInk },
          '&:hover': { background: 'none', color: s.ink },
        },
      },
    },
    MuiLinearProgress: { styleOverrides: { root: { height: 2, background: s.line } } },
  },
});

/** The page itself keeps the surround and says it on its root element: MUI neither keeps nor writes one. */
export const themeProps = {
  theme,
  storageManager: null,
  colorSchemeNode: null,
  // MUI writes them behind the page, which may be painted before they are there
  disableStyleSheetGeneration: true,
};

/** The custom properties of the theme, for the beginning of the page. */
export const properties = (theme as Theme & { generateStyleSheets(): object[] }).generateStyleSheets();
