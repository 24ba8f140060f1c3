import { createTheme, type Theme } from "@mui/material/styles";

export type ThemeName = "paper" | "night";

/** Colours with a meaning: the three sides of a step, findings, and the stage's own controls. */
interface Roles {
  what: string;
  where: string;
  when: string;
  ok: string;
  amber: string;
  line: string;
  card: string;
  quiet: string;
}

declare module "@mui/material/styles" {
  interface Palette {
    roles: Roles;
  }
  interface PaletteOptions {
    roles?: Roles;
  }
}

const SERIF = '"Fraunces Variable", Georgia, serif';
const SANS = '"Source Sans 3 Variable", "Segoe UI", sans-serif';
export const FIGURES = '"IBM Plex Mono", ui-monospace, monospace';

const paper = {
  background: "#f7f3ea",
  ink: "#25202b",
  mute: "#625a68",
  roles: {
    what: "#7b2f63",
    where: "#855708",
    when: "#14706c",
    ok: "#35713a",
    amber: "#985200",
    line: "#ddd5c6",
    card: "#fffdf8",
    quiet: "#ece5d7",
  },
};

const night = {
  background: "#1b1822",
  ink: "#ece6f0",
  mute: "#aba2b4",
  roles: {
    what: "#e29ac9",
    where: "#e0b45c",
    when: "#6fcbc4",
    ok: "#8bcf8c",
    amber: "#f0ab5c",
    line: "#37313f",
    card: "#241f2d",
    quiet: "#2c2636",
  },
};

/** Nothing fades or grows, and dialogs are gone at once. */
const STILL = {
  create: () => "none",
  getAutoHeightDuration: () => 0,
  duration: {
    shortest: 0,
    shorter: 0,
    short: 0,
    standard: 0,
    complex: 0,
    enteringScreen: 0,
    leavingScreen: 0,
  },
};

/** still : for readers who want less motion */
export function makeTheme(name: ThemeName, still: boolean): Theme {
  const tone = name === "paper" ? paper : night;
  return createTheme({
    ...(still && { transitions: STILL }),
    palette: {
      mode: name === "paper" ? "light" : "dark",
      primary: { main: tone.ink, contrastText: tone.background },
      secondary: { main: tone.roles.what },
      error: { main: name === "paper" ? "#a3262a" : "#ff9a93" },
      background: { default: tone.background, paper: tone.roles.card },
      text: { primary: tone.ink, secondary: tone.mute },
      divider: tone.roles.line,
      roles: tone.roles,
    },
    typography: {
      fontFamily: SANS,
      fontSize: 13,
      h1: { fontFamily: SERIF, fontSize: 34, fontWeight: 400, letterSpacing: "-0.01em" },
      h2: { fontFamily: SERIF, fontSize: 19, fontWeight: 450 },
      h3: { fontFamily: SERIF, fontSize: 16, fontWeight: 450 },
      body1: { fontSize: 13.5 },
      body2: { fontSize: 13, lineHeight: 1.38 },
      caption: { fontSize: 12 },
      button: { textTransform: "none", fontWeight: 500 },
    },
    shape: { borderRadius: 8 },
    components: {
      MuiButton: {
        defaultProps: { size: "small", color: "primary", disableElevation: true },
        styleOverrides: {
          root: { borderRadius: 999, padding: "4px 13px", minWidth: 0, fontSize: 13 },
          outlined: { borderColor: tone.roles.line, backgroundColor: tone.roles.card },
        },
      },
      MuiToggleButtonGroup: {
        styleOverrides: {
          root: { borderRadius: 999, backgroundColor: tone.roles.card },
          firstButton: { borderTopLeftRadius: 999, borderBottomLeftRadius: 999, paddingLeft: 13 },
          lastButton: { borderTopRightRadius: 999, borderBottomRightRadius: 999, paddingRight: 13 },
        },
      },
      MuiToggleButton: {
        styleOverrides: {
          root: {
            padding: "4px 11px",
            fontSize: 13,
            lineHeight: 1.6,
            color: tone.mute,
            borderColor: tone.roles.line,
            "&.Mui-selected, &.Mui-selected:hover": {
              color: tone.background,
              backgroundColor: tone.roles.what,
            },
          },
        },
      },
      MuiIconButton: {
        defaultProps: { size: "small" },
        styleOverrides: { root: { color: tone.ink } },
      },
      MuiTooltip: {
        // A title explains; it does not replace the name of what it stands on.
        defaultProps: { enterDelay: 500, describeChild: true },
        styleOverrides: {
          tooltip: { backgroundColor: tone.ink, color: tone.background, fontSize: 12 },
        },
      },
      MuiSelect: {
        defaultProps: { size: "small", variant: "outlined" },
        styleOverrides: {
          select: { padding: "2px 26px 2px 9px !important", fontSize: 13 },
        },
      },
      MuiOutlinedInput: {
        styleOverrides: {
          notchedOutline: { borderColor: tone.roles.line },
          root: { backgroundColor: tone.roles.card },
        },
      },
      MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 30 } } },
      MuiDialog: { styleOverrides: { paper: { borderRadius: 14, backgroundImage: "none" } } },
      MuiCssBaseline: {
        styleOverrides: {
          // Over what components say of themselves: each has it, and it is the same everywhere.
          "*:focus-visible": {
            outline: `2px solid ${tone.roles.what} !important`,
            outlineOffset: "1px !important",
          },
          // The stage is dark in both themes.
          "[data-testid=stage] *:focus-visible": { outlineColor: "#f2c14e !important" },
          // What is taken by the hand: a drag that began there would choose text, and the next one
          // would be the browser's own, of that text.
          "[role=slider], [role=separator], .MuiSlider-root, canvas, svg": {
            userSelect: "none",
            WebkitUserSelect: "none",
          },
          "@media (prefers-reduced-motion: reduce)": {
            "*": { transitionDuration: "0s !important", animationDuration: "0s !important" },
          },
        },
      },
    },
  });
}
